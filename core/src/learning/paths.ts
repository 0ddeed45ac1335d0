/**
 * How the texts of a field lead to files: which folders they begin in, which endings they leave out. Every file is known
 * by its name at each dot; each text that fits one votes for a beginning and an ending.
 */
import { must } from '../helpers/at.js';
import { baseName, folderOf } from '../reading/source.js';

/** How paths are written in a field. */
export interface PathForm {
  from: 'project' | 'file';
  roots: string[];
  endings: string[];
  anywhere: boolean;
  schemes: Record<string, string>;
  /** `%20` and the like stand for characters. */
  decode: boolean;
}

/** All files, by their names at each dot. */
export class Files {
  private readonly byName = new Map<string, number[]>();
  readonly known: ReadonlyMap<string, number>;
  private readonly folders = new Set<string>();

  constructor(readonly paths: readonly string[]) {
    this.known = new Map(paths.map((path, at) => [path, at]));
    paths.forEach((path, at) => {
      const base = baseName(path);
      const names = [base];
      for (let dot = base.lastIndexOf('.'); dot > 0; dot = base.lastIndexOf('.', dot - 1))
        names.push(base.slice(0, dot));
      for (const name of names) {
        const files = this.byName.get(name);
        if (files) files.push(at);
        else this.byName.set(name, [at]);
      }
      for (let folder = folderOf(path); folder && !this.folders.has(folder); folder = folderOf(folder))
        this.folders.add(folder);
    });
  }

  called(name: string): readonly number[] {
    return this.byName.get(name) ?? [];
  }

  isFolder(path: string): boolean {
    return this.folders.has(path.replace(/\/+$/, ''));
  }
}

const SCHEME = /^[A-Za-z][\w+.-]*:\/\/|^[@~]\/|^\$\{?\w+\}?\//;
/** Of many of one name only the first are looked at. */
const MOST_CALLED = 40;
/** A beginning or ending that fewer texts share is chance. */
const LEAST_SHARE = 0.04;
const MOST_ROOTS = 6;

interface Vote {
  kind: 'root' | 'file';
  root: string;
  ending: string;
  scheme: string;
}

/** A text as a path: its scheme and the rest, with forward slashes and no dot in front. */
function plain(text: string): { scheme: string; rest: string } {
  const scheme = SCHEME.exec(text)?.[0] ?? '';
  const rest = text
    .slice(scheme.length)
    .replace(/\\/g, '/')
    .replace(/^(?:\.?\/)+/, '')
    .replace(/\/{2,}/g, '/');
  return { scheme, rest };
}

/** Resolves a path in a folder; undefined where it leads out of the project. */
function within(folder: string, path: string): string | undefined {
  const steps = folder ? folder.split('/') : [];
  for (const step of path.split('/')) {
    if (step === '' || step === '.') continue;
    if (step !== '..') steps.push(step);
    else if (steps.pop() === undefined) return undefined;
  }
  return steps.join('/');
}

const ENCODED = /%[\dA-F]{2}/i;

/** A text in which `%20` and the like stand for characters, or the text itself where it is no such. */
function decoded(text: string): string {
  try {
    return ENCODED.test(text) ? decodeURIComponent(text) : text;
  } catch {
    return text;
  }
}

function votesOf(text: string, file: string, files: Files): Vote[] {
  const { scheme, rest } = plain(text);
  const name = baseName(rest);
  if (!name || name === '..') return [];
  const votes: Vote[] = [];
  const seen = new Set<string>();
  const add = (vote: Vote): void => {
    const key = `${vote.kind}\n${vote.root}\n${vote.ending}`;
    if (!seen.has(key)) votes.push(vote);
    seen.add(key);
  };
  const here = within(folderOf(file), rest);
  for (const at of files.called(name).slice(0, MOST_CALLED)) {
    const path = must(files.paths[at]);
    const ending = baseName(path).slice(name.length);
    const stem = path.slice(0, path.length - ending.length);
    if (here !== undefined && stem === here && !scheme) add({ kind: 'file', root: '', ending, scheme });
    if (stem === rest) add({ kind: 'root', root: '', ending, scheme });
    else if (stem.endsWith(`/${rest}`)) add({ kind: 'root', root: stem.slice(0, -rest.length - 1), ending, scheme });
  }
  return votes;
}

/**
 * The form in which most of some texts lead to files.
 * @param samples texts with the file each stands in
 * @returns undefined where hardly any does
 */
export function pathForm(samples: readonly { text: string; file: string }[], files: Files): PathForm | undefined {
  let decode = false;
  const all = samples.map(({ text, file }) => {
    const votes = votesOf(text, file, files);
    if (votes.length > 0 || !ENCODED.test(text)) return { text, votes };
    const others = votesOf(decoded(text), file, files);
    decode ||= others.length > 0;
    return { text, votes: others };
  });
  const voting = all.filter(({ votes }) => votes.length > 0);
  if (voting.length === 0) return undefined;
  const least = Math.max(1, Math.floor(LEAST_SHARE * voting.length));
  const from = (kind: Vote['kind']): typeof voting =>
    voting.filter(({ votes }) => votes.some((vote) => vote.kind === kind));
  const relative = from('file');
  const bySchemes = voting.filter(({ votes }) => votes.every(({ scheme }) => scheme !== '')).length;
  // Relative to the file, where most are so, and one root would not do.
  const rooted = new Map<string, number>();
  for (const { votes } of voting)
    for (const { kind, root, scheme } of votes)
      if (kind === 'root' && scheme === '') rooted.set(root, (rooted.get(root) ?? 0) + 1);
  const bestRoot = Math.max(0, ...rooted.values());
  const isRelative =
    relative.length >= (voting.length - bySchemes) * 0.6 &&
    relative.length >= bestRoot &&
    relative.length > (rooted.get('') ?? 0);
  const chosen: Vote[] = [];
  let left = voting;
  while (left.length > 0 && chosen.length < 24) {
    const counts = new Map<string, { vote: Vote; count: number }>();
    for (const { votes } of left)
      for (const vote of votes) {
        if (vote.kind === 'file' && !isRelative) continue;
        const key = `${vote.kind}\n${vote.root}\n${vote.ending}\n${vote.scheme}`;
        const known = counts.get(key);
        if (known) known.count++;
        else counts.set(key, { vote, count: 1 });
      }
    const best = [...counts.values()].sort(
      (a, b) => b.count - a.count || (a.vote.kind < b.vote.kind ? -1 : 1) || a.vote.root.length - b.vote.root.length,
    )[0];
    if (!best || best.count < least) break;
    const { kind, root, ending, scheme } = best.vote;
    chosen.push(best.vote);
    left = left.filter(
      ({ votes }) =>
        !votes.some(
          (vote) => vote.kind === kind && vote.root === root && vote.ending === ending && vote.scheme === scheme,
        ),
    );
  }
  if (chosen.length === 0) return undefined;
  const schemes: Record<string, string> = {};
  for (const { scheme, root } of chosen) if (scheme) schemes[scheme] ??= root;
  const roots = [
    ...new Set(chosen.filter(({ scheme, kind }) => !scheme && kind === 'root').map(({ root }) => root || '.')),
  ];
  const endings = [...new Set(chosen.map(({ ending }) => ending))].filter((ending) => ending !== '');
  const bare = voting.filter(({ text }) => !plain(text).rest.includes('/')).length;
  const isSpread = roots.length > MOST_ROOTS || (left.length > voting.length * 0.1 && !isRelative);
  const anywhere = isSpread && bare > voting.length * 0.5;
  return {
    from: isRelative && !anywhere ? 'file' : 'project',
    roots: anywhere ? [] : roots.length === 1 && roots[0] === '.' && !isRelative ? [] : roots.slice(0, 24),
    endings,
    anywhere,
    schemes,
    decode,
  };
}

/** The file that a text means in a form, or -1. */
export function fileOf(form: PathForm, text: string, file: string, files: Files): number {
  const { scheme, rest } = plain(form.decode ? decoded(text) : text);
  const name = baseName(rest);
  if (!name) return -1;
  const known = form.schemes[scheme];
  if (scheme && known === undefined) return -1;
  const endings = ['', ...form.endings];
  const look = (folder: string): number => {
    const path = within(folder, rest);
    if (path === undefined) return -1;
    for (const ending of endings) {
      const at = files.known.get(path + ending);
      if (at !== undefined) return at;
    }
    return -1;
  };
  if (scheme) return look(known ?? '');
  if (form.from === 'file') {
    const at = look(folderOf(file));
    if (at >= 0) return at;
  }
  for (const root of form.roots.length > 0 ? form.roots : form.from === 'file' ? [] : ['.']) {
    const at = look(root === '.' ? '' : root);
    if (at >= 0) return at;
  }
  if (!form.anywhere || rest.includes('/')) return -1;
  for (const ending of endings) {
    const at = files.called(name + ending).find((one) => baseName(must(files.paths[one])) === name + ending);
    if (at !== undefined) return at;
  }
  return -1;
}
