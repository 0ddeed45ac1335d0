/** Files counted by what became of them: in all, by folder, by ending. */
import type { Coverage, FileStatus, FileView } from '../api.js';

export const STATUSES: FileStatus[] = ['read', 'partly', 'listed', 'unread'];

type Counted = Pick<FileView, 'path' | 'status'>;

export function countsOf(files: Counted[]): Coverage['counts'] {
  return Object.fromEntries(
    STATUSES.map((status) => [status, files.filter((file) => file.status === status).length]),
  ) as Coverage['counts'];
}

export function coverageBy(files: Counted[], nameOf: (path: string) => string): Coverage[] {
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

export function sum({ counts }: Coverage): number {
  return STATUSES.reduce((all, status) => all + counts[status], 0);
}

/** The folder, at most two deep; empty for files at the root. */
export function folderOf(path: string): string {
  return path.split('/').slice(0, -1).slice(0, 2).join('/');
}

export function endingOf(path: string): string {
  const name = path.slice(path.lastIndexOf('/') + 1);
  const dot = name.lastIndexOf('.');
  return dot > 0 ? name.slice(dot).toLowerCase() : '(no ending)';
}
