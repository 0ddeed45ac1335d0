/** The public surface of the server. */
export { createServer, listen, type ServerOptions } from './server.js';
export {
  loadPlan,
  planPath,
  scanFolder,
  type FileEntry,
  type ScanOptions,
  type ScanResult,
} from './scan/scan-folder.js';
export { proposePlan, writePlan } from './scan/starter.js';
export { checkFolder } from './files/discover.js';
export type * from './api.js';
