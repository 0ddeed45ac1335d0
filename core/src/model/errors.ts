/**
 * The one table of coded errors. A code is public and never changes its meaning.
 * `status` is what the API answers, `exit` what the command line ends with.
 */
export const ERRORS = {
  'plan/missing': { status: 422, exit: 2, title: 'This project has no reading plan' },
  'plan/not-json': { status: 422, exit: 2, title: 'The reading plan is not valid JSON' },
  'plan/invalid': { status: 422, exit: 2, title: 'The reading plan has mistakes' },
  'plan/exists': { status: 409, exit: 2, title: 'There is a reading plan already' },
  'plan/changed': { status: 409, exit: 2, title: 'The reading plan was changed meanwhile' },
  'waivers/invalid': { status: 422, exit: 2, title: 'The waivers have mistakes' },
  'waivers/changed': { status: 409, exit: 2, title: 'The waivers were changed meanwhile' },
  'routes/invalid': { status: 422, exit: 2, title: 'The routes have mistakes' },
  'route/unknown': { status: 404, exit: 2, title: 'There is no such route' },
  'baseline/invalid': { status: 422, exit: 2, title: 'The baseline cannot be read' },
  'revision/unknown': { status: 404, exit: 2, title: 'The version history has no such revision' },
  'play/unknown': { status: 404, exit: 2, title: 'There is no such play session' },
  'play/token': { status: 403, exit: 2, title: 'The token of the project is missing' },
  'scan/unknown': { status: 404, exit: 2, title: 'There is no such scan' },
  'selector/invalid': { status: 422, exit: 2, title: 'The selector cannot be read' },
  'folder/missing': { status: 404, exit: 2, title: 'The folder does not exist' },
  'folder/not-a-folder': { status: 422, exit: 2, title: 'This is not a folder' },
  'folder/not-allowed': { status: 403, exit: 2, title: 'This folder was not opened' },
  'folder/unreadable': { status: 403, exit: 2, title: 'The folder cannot be read' },
  'file/missing': { status: 404, exit: 2, title: 'The file does not exist' },
  'file/unreadable': { status: 422, exit: 2, title: 'The file cannot be read' },
  'file/unwritable': { status: 403, exit: 2, title: 'The file cannot be written' },
  'store/newer': { status: 500, exit: 2, title: 'The store was written by a newer version' },
  'store/spoilt': { status: 500, exit: 2, title: 'The store is spoilt' },
  'store/busy': { status: 503, exit: 2, title: 'The store is in use' },
  'store/unwritable': { status: 507, exit: 2, title: 'The store cannot be written' },
  'project/unknown': { status: 404, exit: 2, title: 'There is no such project' },
  'scan/none': { status: 409, exit: 2, title: 'This project has not been scanned' },
  'scan/stopped': { status: 409, exit: 2, title: 'The scan was stopped' },
  'scan/too-large': { status: 422, exit: 2, title: 'The scan needs more memory than it may take' },
  'piece/unknown': { status: 404, exit: 2, title: 'There is no such piece on the map' },
  'finding/unknown': { status: 404, exit: 2, title: 'There is no such finding' },
  'repair/impossible': { status: 422, exit: 2, title: 'The repair cannot be written by itself' },
  'repair/unknown': { status: 404, exit: 2, title: 'There is no such repair' },
  'repair/changed': { status: 409, exit: 2, title: 'A file has changed since the scan' },
  'repair/undone': { status: 409, exit: 2, title: 'The repair cannot be taken back' },
  'request/invalid': { status: 400, exit: 2, title: 'The request is not valid' },
  'request/foreign': { status: 403, exit: 2, title: 'Requests from elsewhere are refused' },
  'request/unknown': { status: 404, exit: 2, title: 'There is nothing at this address' },
  'request/too-long': { status: 503, exit: 2, title: 'This takes too long' },
  'request/too-many': { status: 429, exit: 2, title: 'Too many requests' },
  'server/none': { status: 503, exit: 2, title: 'Nothing is served' },
  'server/port-taken': { status: 500, exit: 2, title: 'The port is in use' },
  'fault/ours': { status: 500, exit: 3, title: 'Something went wrong in Glue Trace itself' },
} as const;
export type ErrorCode = keyof typeof ERRORS;

/** An error meant for the user: what happened, where, and what to do. */
export class GlueError extends Error {
  /**
   * @param code one of the table above
   * @param detail one or two sentences: where it happened and what to do about it
   * @param mistakes single places at fault, e.g. keys of a reading plan
   */
  constructor(
    readonly code: ErrorCode,
    readonly detail: string,
    readonly mistakes: Mistake[] = [],
  ) {
    super(`${ERRORS[code].title}: ${detail}`);
    this.name = 'GlueError';
  }
}

/** One fault in a document the user wrote. */
export interface Mistake {
  /** The plan it stands in, as `extends` names it, where that is not the plan itself. */
  file?: string;
  /** Where: a key such as `files.scenes.pieces.objects.kind`. */
  key: string;
  /** What was expected and what to write instead. */
  message: string;
  /** 1-based place in the document, when known. */
  line?: number;
  column?: number;
}
