/** What the interface runs itself, in web workers: nothing here needs files, a network or script grammars. */
export { pointAt, type Pointed } from './pointing/point.js';
export { previewFile, type Mark, type Preview } from './pointing/preview.js';
export { formatPlan, type WrittenRule } from './pointing/edit.js';
export type { CodeForm } from './pointing/point-code.js';
export type { CodeSaying } from './pointing/code-sayings.js';
export type { PointedCodeView } from './pointing/code-bench.js';
export type { PlanTrial } from './pointing/plan-trial.js';
export { say, SAYINGS, type Saying } from './pointing/sayings.js';
export { foundOn, leftOutWords, routeInWords, stopsToDraw } from './route/told.js';
export { storySheet, type BoxLook, type SheetShape } from './trace/story-sheet.js';
export { itemAt, must } from './helpers/at.js';
export { folded } from './helpers/folded.js';
export { GRIPS, MOMENTS, SCOPES, SIDES, VERBS } from './model/link.js';
export { toPatch } from './repairs/patch.js';
