import type { FastifyInstance } from 'fastify';
import Joi from 'joi';
import type { Coverage, FilePage, FileStatus, FileView, ReadingPage } from '../api.js';
import { valid } from '../problems.js';
import { doneScanOf, projectOf, type Context } from './context.js';

const STATUSES: FileStatus[] = ['read', 'partly', 'listed', 'unread'];

const filesQuery = Joi.object<{ status?: string[]; folder?: string; text?: string; offset: number; limit: number }>({
  status: Joi.array()
    .items(Joi.string().valid(...STATUSES))
    .single(),
  folder: Joi.string().max(4096),
  text: Joi.string().max(200).allow(''),
  offset: Joi.number().integer().min(0).default(0),
  limit: Joi.number().integer().min(1).max(500).default(200),
});

/** What was read of a project, and what was not. */
export function readingRoutes(app: FastifyInstance, context: Context): void {
  const { store } = context;

  app.get('/api/projects/:project/reading', (request): ReadingPage => {
    const scan = doneScanOf(context, projectOf(context, request.params));
    const files = store.fileStates(scan.id);
    return {
      total: countsOf(files),
      folders: coverageBy(files, folderOf),
      endings: coverageBy(files, endingOf).sort((a, b) => sum(b) - sum(a)),
      rules: store.rules(scan.id),
    };
  });

  app.get('/api/projects/:project/files', (request): FilePage => {
    const scan = doneScanOf(context, projectOf(context, request.params));
    return store.files(scan.id, valid(filesQuery, request.query));
  });
}

type Counted = Pick<FileView, 'path' | 'status'>;

function countsOf(files: Counted[]): Coverage['counts'] {
  return Object.fromEntries(
    STATUSES.map((status) => [status, files.filter((file) => file.status === status).length]),
  ) as Coverage['counts'];
}

function coverageBy(files: Counted[], nameOf: (path: string) => string): Coverage[] {
  const groups = new Map<string, Counted[]>();
  for (const file of files) {
    const name = nameOf(file.path);
    const group = groups.get(name);
    if (group) group.push(file);
    else groups.set(name, [file]);
  }
  return [...groups]
    .map(([name, group]) => ({ name, counts: countsOf(group) }))
    .sort((a, b) => (a.name < b.name ? -1 : 1));
}

function sum({ counts }: Coverage): number {
  return STATUSES.reduce((all, status) => all + counts[status], 0);
}

/** The folder, at most two deep; empty for files at the root. */
function folderOf(path: string): string {
  return path.split('/').slice(0, -1).slice(0, 2).join('/');
}

function endingOf(path: string): string {
  const name = path.slice(path.lastIndexOf('/') + 1);
  const dot = name.lastIndexOf('.');
  return dot > 0 ? name.slice(dot).toLowerCase() : '(no ending)';
}
