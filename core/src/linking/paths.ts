/** Paths: what one that is written means, and how one would be written. */
import { itemAt } from '../helpers/at.js';
import { once, oncePair } from '../helpers/once.js';
import { titleOf } from '../model/graph.js';
import type { TargetForm } from '../reading/plan/plan.js';
import type { Value } from '../reading/facts.js';
import { isMatch } from '../reading/match.js';
import { push } from '../helpers/push.js';
import { baseName, cutAll, folderOf, stem } from '../reading/source.js';
import { textsOf } from './look-ups/texts.js';
import { packageOf } from './packages.js';
import { topOf, type World } from './world/world.js';

interface FoundPath {
  path?: string;
  otherCapitals: string;
  /** It leads through something that is no folder that was looked into: a link, or a file that holds others. */
  isBelowFile?: boolean;
}

/** Paths found before, by world and form: the same few are written again and again. */
const foundPaths = oncePair((_world: World, _form: TargetForm) => new Map<string, FoundPath>());

/** The path a written path means, or, when there is none, one that differs only in capitals. */
export function findPath(world: World, form: TargetForm, text: string, file: string): FoundPath {
  const known = foundPaths(world, form);
  // Where paths start from the file, they mean something else in every folder.
  const key = form.from === 'project' && !form.nearest ? text : `${folderOf(file)}\n${text}`;
  let found = known.get(key);
  if (!found) known.set(key, (found = lookForPath(world, form, text, file)));
  return found;
}

function lookForPath(world: World, form: TargetForm, text: string, file: string): FoundPath {
  const written = (form.decode ? decoded(text) : text).replace(/\\/g, '/');
  let otherCapitals = '';
  let isBelowFile = false;
  for (const start of startsOf(world, form, written, file)) {
    for (const ending of ['', ...form.endings]) {
      const path = normal(`${start.folder}/${start.rest}${ending}`);
      if (path === undefined) continue;
      if (world.files.paths.has(path)) return { path: world.files.replacedBy.get(path) ?? path, otherCapitals: '' };
      otherCapitals ||= world.files.byLower.get(path.toLowerCase())?.[0] ?? '';
      isBelowFile ||= foldersOf(path).some((folder) => world.files.paths.has(folder));
    }
  }
  if (form.anywhere && !written.includes('/')) {
    const found = anywhere(world, form, written, folderOf(file));
    if (found) return found;
  }
  if (otherCapitals && world.plan.house.capitals === 'ignored') return { path: otherCapitals, otherCapitals: '' };
  return { otherCapitals, ...(isBelowFile && { isBelowFile }) };
}

/** The folders that a path goes through. */
function foldersOf(path: string): string[] {
  const steps = path.split('/');
  return steps.slice(1).map((_, at) => steps.slice(0, at + 1).join('/'));
}

/** Folders that a path may start from, in order, with what of the path is left. */
function startsOf(world: World, form: TargetForm, written: string, file: string): { folder: string; rest: string }[] {
  for (const [scheme, folder] of Object.entries(form.schemes)) {
    if (written.startsWith(scheme)) return [{ folder, rest: written.slice(scheme.length) }];
  }
  const from = (...folders: string[]): { folder: string; rest: string }[] =>
    folders.map((folder) => ({ folder: folder === '.' ? '' : folder, rest: written }));
  // Roots stand in the place of the project's own; “.” names that.
  const roots = form.roots.length > 0 ? form.roots : [''];
  if (form.from === 'package') {
    const home = packageOf(world.files.packages, file)?.folder;
    const folders = world.files.packages.map((one) => one.folder).reverse();
    return from(...(world.plan.packages.overlay || home === undefined ? folders : [home, ...folders]), ...form.roots);
  }
  if (written.startsWith('/')) return from(...roots);
  if (form.from === 'file' && !/^\w+:/.test(written)) return from(folderOf(file), ...form.roots);
  return from(...roots);
}

/** A reference cut out of a text, with the piece inside the file where the text names both. */
interface Reference {
  text: string;
  inner?: string;
}

/** The references that a text in a script is by its form: none when it is empty or does not match the form's pattern. */
export function referencesIn(form: TargetForm, text: string): Reference[] {
  if (form.empty.includes(text)) return [];
  return cutAll(text, form.pattern, false).filter((one) => one.text !== '');
}

/** Positions of the files whose paths a value in a script gives; undefined for a path that leads to none that is read. */
export function filesNamed(
  world: World,
  form: TargetForm,
  value: Value | undefined,
  file: string,
): (number | undefined)[] {
  const texts = (value ? textsOf(world, value) : []).flatMap((text) => referencesIn(form, text));
  return texts.flatMap(({ text }) =>
    form.by === 'folder'
      ? filesOfFolder(world, form, text, file).map((path) => world.files.sourceOf.get(path))
      : [world.files.sourceOf.get(findPath(world, form, text, file).path ?? '')],
  );
}

/** Paths of the files that a folder means, in order; none when it is not there, or nothing in it is meant. */
export function filesOfFolder(world: World, form: TargetForm, text: string, file: string): string[] {
  const written = text.replace(/\\/g, '/');
  for (const { folder, rest } of startsOf(world, form, written, file)) {
    const home = normal(`${folder}/${rest}`);
    if (home === undefined) continue;
    const before = home === '' ? '' : `${home}/`;
    const files = filesBelow(world, home).filter((path) => isMatch(path.slice(before.length), form.files));
    if (files.length > 0) return files;
  }
  return [];
}

const sortedPaths = once(({ files }: World): string[] => [...files.paths].sort());

/** All files below a folder, in order. */
function filesBelow(world: World, folder: string): string[] {
  const paths = sortedPaths(world);
  const before = folder === '' ? '' : `${folder}/`;
  let [low, high] = [0, paths.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((paths[middle] ?? '') < before) low = middle + 1;
    else high = middle;
  }
  let end = low;
  while (paths[end]?.startsWith(before)) end++;
  return paths.slice(low, end);
}

/** Every path that a written path could mean: where the file would be looked for. */
export function pathsTried(world: World, form: TargetForm, text: string, file: string): string[] {
  const written = (form.decode ? decoded(text) : text).replace(/\\/g, '/');
  return startsOf(world, form, written, file).flatMap(({ folder, rest }) =>
    ['', ...form.endings].flatMap((ending) => normal(`${folder}/${rest}${ending}`) ?? []),
  );
}

/**
 * A path in the manner of one that was written: with the same scheme or start, without an ending that need not be
 * there. Undefined when the form cannot name it.
 */
export function pathWritten(
  world: World,
  form: TargetForm,
  path: string,
  like: string,
  file: string,
): string | undefined {
  const endings = ['', ...form.endings].filter((ending) => path.endsWith(ending));
  const isBare = !/\.[\w]+$/.test(like);
  const shortest = endings.sort((a, b) => (isBare ? b.length - a.length : a.length - b.length));
  const scheme = Object.entries(form.schemes).find(([mark]) => like.startsWith(mark));
  const starts = scheme
    ? [{ mark: scheme[0], folder: scheme[1] }]
    : startsOf(world, form, 'x', file).map(({ folder }) => ({ mark: like.startsWith('/') ? '/' : '', folder }));
  const texts = starts.flatMap(({ mark, folder }) => {
    const home = folder.replace(/\/$/, '');
    const inside = home === '' ? path : path.startsWith(`${home}/`) ? path.slice(home.length + 1) : undefined;
    const rest = inside ?? (form.from === 'file' ? relativeTo(home, path) : undefined);
    if (rest === undefined) return [];
    return shortest.map((ending) => mark + (ending ? rest.slice(0, -ending.length) : rest));
  });
  if (form.anywhere && !like.includes('/'))
    texts.unshift(...shortest.map((ending) => baseName(path).slice(0, baseName(path).length - ending.length)));
  // As many steps up as what was written: it began at the own folder, or it did not.
  const ups = (text: string): number => text.split('/').filter((step) => step === '..').length;
  return texts
    .sort((a, b) => Math.abs(ups(a) - ups(like)) - Math.abs(ups(b) - ups(like)))
    .map((text) => (like.startsWith('./') && !text.startsWith('.') ? `./${text}` : text))
    .find((text) => lookForPath(world, form, text, file).path === path);
}

function relativeTo(folder: string, path: string): string {
  const [from, to] = [folder.split('/').filter(Boolean), path.split('/')];
  let same = 0;
  while (same < from.length && same < to.length - 1 && from[same] === to[same]) same++;
  return [...from.slice(same).map(() => '..'), ...to.slice(same)].join('/');
}

/** Folders that two paths of folders have in common, from the top. */
export function sharedSteps(one: string, other: string): number {
  const [steps, others] = [one.split('/'), other.split('/')];
  let same = 0;
  while (same < steps.length && same < others.length && steps[same] === others[same]) same++;
  return same;
}

/** The file of this name below the roots; of several the first by path, or the nearest. */
function anywhere(world: World, form: TargetForm, name: string, own: string): FoundPath | undefined {
  const isBelow = (path: string): boolean =>
    form.roots.length === 0 ||
    form.roots.some((root) => root === '.' || path.startsWith(root.endsWith('/') ? root : `${root}/`));
  const names = ['', ...form.endings].map((ending) => name + ending);
  const alike = names.flatMap((one) => world.files.byLowerName.get(one.toLowerCase()) ?? []).filter(isBelow);
  const exact = alike.filter((path) => names.includes(baseName(path))).sort();
  if (form.nearest) exact.sort((a, b) => sharedSteps(own, folderOf(b)) - sharedSteps(own, folderOf(a)));
  if (exact.length > 0) return { path: world.files.replacedBy.get(itemAt(exact, 0)) ?? exact[0], otherCapitals: '' };
  if (alike.length === 0) return undefined;
  return world.plan.house.capitals === 'ignored'
    ? { path: alike[0], otherCapitals: '' }
    : { otherCapitals: itemAt(alike, 0) };
}

function decoded(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}

/** A path without `.` and `..`; undefined when it leads out of the project. */
export function normal(path: string): string | undefined {
  const steps: string[] = [];
  for (const step of path.split('/')) {
    if (step === '' || step === '.') continue;
    if (step === '..') {
      if (steps.length === 0) return undefined;
      steps.pop();
    } else steps.push(step);
  }
  return steps.join('/');
}

/** Files of the same name in other folders. */
export function sameName(world: World, text: string): string[] {
  const wanted = baseName(text.replace(/\\/g, '/')).toLowerCase();
  return (world.files.byLowerName.get(wanted) ?? []).slice(0, 5);
}

const byStem = once(({ byLowerName }: World['files']): Map<string, string[]> => {
  const found = new Map<string, string[]>();
  for (const [name, paths] of byLowerName) for (const path of paths) push(found, stem(name), path);
  return found;
});

/** Endings that files of the project have. */
const endingsIn = once(
  ({ byLowerName }: World['files']): Set<string> => new Set([...byLowerName.keys()].map((name) => endingOf(name))),
);
const endingOf = (name: string): string => name.slice(name.lastIndexOf('.', name.length - 1)).toLowerCase();

/** Files that stand in the place of a path but for its ending, or anywhere for a bare name with one; a few. */
export function otherEnding(world: World, text: string): string[] {
  const path = normal(text.replace(/\\/g, '/')) ?? text;
  // What stands behind a dot may be a name as well.
  if (!baseName(path).includes('.') || !endingsIn(world.files).has(endingOf(baseName(path)))) return [];
  const folder = folderOf(path).toLowerCase();
  const isThere = (other: string): boolean =>
    folder === '' || `/${folderOf(other).toLowerCase()}`.endsWith(`/${folder}`);
  return (byStem(world.files).get(stem(path).toLowerCase()) ?? [])
    .filter((other) => isThere(other) && baseName(other).toLowerCase() !== baseName(path).toLowerCase())
    .sort()
    .slice(0, 5);
}

/** Titles of other objects with this name in the same scene or prefab as `near`. */
export function elsewhere(world: World, name: string, near: number): string[] {
  const { graph } = world.builder;
  const top = topOf(world, near);
  return (world.names.inTree.get(name) ?? [])
    .filter((piece) => topOf(world, piece) === top)
    .slice(0, 5)
    .map((piece) => titleOf(graph, piece));
}
