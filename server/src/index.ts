/** The public surface of the server. */
export { createServer, listen, type ServerOptions } from './server.js';
export { loadPlan, planPath, scanFolder, type FileEntry, type Progress, type ScanOptions, type ScanResult } from './scan/scan-folder.js';
export { proposePlan, writePlan } from './scan/starter.js';
export { checkFolder } from './files/discover.js';
export type { ProjectView } from './routes/projects.js';
export type { FindingPage, FindingRow, ScanError, ScanRow } from './store/store.js';
export type { ScanEvent } from './scan/scans.js';
