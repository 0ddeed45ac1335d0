/** The public surface of the server. */
export { createServer, listen, type ServerOptions } from './server.js';
export { openSession, scanFolder, type ScanOptions, type ScanResult, type ScanSession } from './scan/scan-folder.js';
export { loadPlan, planPath } from './plans/plan-files.js';
export type { FileEntry } from './scan/read-one.js';
export { coverageBy, endingOf, folderOf, STATUSES } from './scan/coverage.js';
export { learnFolder, writePlan, type LearnedFolder, type LearnedRuleView } from './plans/learn-plan.js';
export { learnBeside, type LearnedAgain } from './plans/learn-again.js';
export { checkFolder } from './files/discover.js';
export type * from './api.js';
export { fixesOf, triedRepairs } from './repairs/try-repairs.js';
export { patchOf, planRepair, type PlannedRepair, type Wanted } from './repairs/plan-repair.js';
export { recoverRepairs, undoRepair, writeRepair } from './repairs/repairs.js';
export { writeInside, writeWhole } from './writing/write.js';
export { STORE_NAME } from './store/name.js';
export { openStore } from './store/store.js';
export { realFolder } from './files/discover.js';
