/** How a written text leads to a target: identities, paths, names and types. The one place where this is decided. */
import { once, oncePair } from '../helpers/once.js';
import { kindOf, titleOf } from '../model/graph.js';
import type { Grip, Loss } from '../model/link.js';
import type { Naming, Plan, ReferenceForm, TargetForm } from '../reading/plan/plan.js';
import { isMatch } from '../reading/match.js';
import { baseName, folderOf } from '../reading/source.js';
import { packageOf } from './packages.js';
import { pieceNamed } from './world/pieces.js';
import { push } from '../helpers/push.js';
import { topOf, type World } from './world/world.js';
import { typeNamed } from './world/types.js';

export type Target =
  { state: 'found'; pieces: number[]; grip: Grip } | { state: 'lost'; loss: Loss } | { state: 'unknown' };

const GRIP_OF: Record<ReferenceForm, Grip> = {
  id: 'fixed',
  path: 'path',
  'object path': 'path',
  name: 'name',
  type: 'name',
  member: 'name',
  label: 'name',
  index: 'path',
};
const UNKNOWN_TARGET: Target = { state: 'unknown' };

/** A text as written, with what stands around it. */
export interface Pointer {
  text: string;
  /** The piece inside the file, where the text names both. */
  inner?: string;
  /** Position in the file's pieces of the piece that holds it, or -1. */
  piece: number;
}

/** Finds what a text means by `form`, written in the file at position `source`. Object paths are walked elsewhere. */
export function findTarget(
  world: World,
  form: TargetForm,
  { text, inner, piece: near }: Pointer,
  source: number,
): Target {
  switch (form.by) {
    case 'id':
      return oneOf(world, form, text, world.names.byId, source);
    case 'name':
      return oneOf(world, form, text, world.names.byName, source);
    case 'label':
      return findLabel(world, text);
    case 'index': {
      const at = pieceNamed(world, source, { by: 'index', of: form.of }, text, near);
      return at < 0
        ? lost('object', text, '')
        : { state: 'found', pieces: [world.trees.pieceOf[source][at]], grip: GRIP_OF.index };
    }
    case 'type': {
      const type = typeNamed(world, text, source);
      if (type) return { state: 'found', pieces: [type.piece], grip: 'name' };
      return isEngines([...world.plan.engine.parts, ...world.plan.engine.types], text)
        ? UNKNOWN_TARGET
        : lost('object', text, otherCapitals(byLower(world.types.byName).get(text.toLowerCase()) ?? [], text));
    }
    case 'member':
      return findMember(world, text, source);
    case 'path': {
      const found = findPath(world, form, text, world.facts[source].file);
      if (found.path === undefined) {
        if (isEngines(world.plan.engine.files, text)) return UNKNOWN_TARGET;
        return {
          state: 'lost',
          loss: { ...emptyLoss('file', text), otherCapitals: found.otherCapitals, elsewhere: sameName(world, text) },
        };
      }
      if (inner !== undefined && form.inner) return findInner(world, found.path, form.inner, inner);
      return { state: 'found', pieces: [filePiece(world, found.path)], grip: 'path' };
    }
    default:
      return UNKNOWN_TARGET;
  }
}

/** A label that a list declares or something carries. */
export function findLabel(world: World, text: string): Target {
  const label = world.labels.piece.get(text);
  if (label !== undefined) return { state: 'found', pieces: [label], grip: 'name' };
  if (isEngines(world.plan.engine.labels, text) || !readsLabels(world.plan)) return UNKNOWN_TARGET;
  return lost('label', text, otherCapitals(byLower(world.labels.piece).get(text.toLowerCase()) ?? [], text));
}

/** Whether the plan says where labels are written at all. */
function readsLabels({ files }: Plan): boolean {
  return Object.values(files).some(({ pieces }) =>
    Object.values(pieces).some((piece) => piece.labels !== undefined || piece.kind === 'label'),
  );
}

/** A piece inside a file that was named together with it. */
function findInner(world: World, path: string, by: Naming, inner: string): Target {
  const source = world.files.sourceOf.get(path);
  // What is in a file that nobody reads is not known.
  if (source === undefined) return UNKNOWN_TARGET;
  const at = pieceNamed(world, source, { by }, inner);
  if (at >= 0) return { state: 'found', pieces: [world.trees.pieceOf[source][at]], grip: 'path' };
  const names = world.facts[source].pieces.map((piece) => (by === 'id' ? piece.id : piece.name)).filter(Boolean);
  const loss: Loss = {
    ...emptyLoss('object', inner),
    otherCapitals: otherCapitals(names, inner),
    lastObject: world.files.piece[source],
    among: [...new Set(names)].slice(0, 12),
  };
  return { state: 'lost', loss };
}

/** A constant of a type: `RES.GOLD`. */
function findMember(world: World, text: string, source: number): Target {
  const dot = text.lastIndexOf('.');
  const member = text.slice(dot + 1);
  const type = dot > 0 ? typeNamed(world, text.slice(0, dot), source) : undefined;
  if (!type) return isEngines(world.plan.engine.parts, text) || dot <= 0 ? UNKNOWN_TARGET : lost('object', text, '');
  const names = [type, ...type.ancestors].flatMap((one) =>
    one.script.types[one.local].fields.map((field) => field.name),
  );
  if (names.includes(member)) return { state: 'found', pieces: [type.piece], grip: 'name' };
  const capitals = otherCapitals(names, member);
  return {
    state: 'lost',
    loss: {
      ...emptyLoss('object', text),
      otherCapitals: capitals && `${text.slice(0, dot)}.${capitals}`,
      among: names.slice(0, 12),
    },
  };
}

interface FoundPath {
  path?: string;
  otherCapitals: string;
}

/** Paths found before, by world and form: the same few are written again and again. */
const foundPaths = oncePair((_world: World, _form: TargetForm) => new Map<string, FoundPath>());

/** The path a written path means, or, when there is none, one that differs only in capitals. */
export function findPath(world: World, form: TargetForm, text: string, file: string): FoundPath {
  const known = foundPaths(world, form);
  // Where paths start from the file, they mean something else in every folder.
  const key = form.from === 'project' ? text : `${folderOf(file)}\n${text}`;
  let found = known.get(key);
  if (!found) known.set(key, (found = lookForPath(world, form, text, file)));
  return found;
}

function lookForPath(world: World, form: TargetForm, text: string, file: string): FoundPath {
  const written = (form.decode ? decoded(text) : text).replace(/\\/g, '/');
  let otherCapitals = '';
  for (const start of startsOf(world, form, written, file)) {
    for (const ending of ['', ...form.endings]) {
      const path = normal(`${start.folder}/${start.rest}${ending}`);
      if (path === undefined) continue;
      if (world.files.paths.has(path)) return { path: world.files.replacedBy.get(path) ?? path, otherCapitals: '' };
      otherCapitals ||= world.files.byLower.get(path.toLowerCase())?.[0] ?? '';
    }
  }
  if (form.anywhere && !written.includes('/')) {
    const found = anywhere(world, form, written);
    if (found) return found;
  }
  if (otherCapitals && world.plan.house.capitals === 'ignored') return { path: otherCapitals, otherCapitals: '' };
  return { otherCapitals };
}

/** Folders that a path may start from, in order, with what of the path is left. */
function startsOf(world: World, form: TargetForm, written: string, file: string): { folder: string; rest: string }[] {
  for (const [scheme, folder] of Object.entries(form.schemes)) {
    if (written.startsWith(scheme)) return [{ folder, rest: written.slice(scheme.length) }];
  }
  const from = (...folders: string[]): { folder: string; rest: string }[] =>
    folders.map((folder) => ({ folder, rest: written }));
  if (form.from === 'package') {
    const home = packageOf(world.files.packages, file)?.folder;
    const folders = world.files.packages.map((one) => one.folder).reverse();
    return from(...(world.plan.packages.overlay || home === undefined ? folders : [home, ...folders]), ...form.roots);
  }
  if (written.startsWith('/')) return from('');
  if (form.from === 'file' && !/^\w+:/.test(written)) return from(folderOf(file), ...form.roots);
  return from('', ...form.roots);
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
  return texts
    .map((text) => (like.startsWith('./') && !text.startsWith('.') ? `./${text}` : text))
    .find((text) => lookForPath(world, form, text, file).path === path);
}

function relativeTo(folder: string, path: string): string {
  const [from, to] = [folder.split('/').filter(Boolean), path.split('/')];
  let same = 0;
  while (same < from.length && same < to.length - 1 && from[same] === to[same]) same++;
  return [...from.slice(same).map(() => '..'), ...to.slice(same)].join('/');
}

/** The file of this name below the roots; of several the first by path. */
function anywhere(world: World, form: TargetForm, name: string): FoundPath | undefined {
  const isBelow = (path: string): boolean =>
    form.roots.length === 0 || form.roots.some((root) => path.startsWith(root.endsWith('/') ? root : `${root}/`));
  const names = ['', ...form.endings].map((ending) => name + ending);
  const alike = names.flatMap((one) => world.files.byLowerName.get(one.toLowerCase()) ?? []).filter(isBelow);
  const exact = alike.filter((path) => names.includes(baseName(path))).sort();
  if (exact.length > 0) return { path: world.files.replacedBy.get(exact[0]) ?? exact[0], otherCapitals: '' };
  if (alike.length === 0) return undefined;
  return world.plan.house.capitals === 'ignored' ? { path: alike[0], otherCapitals: '' } : { otherCapitals: alike[0] };
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

/** The piece of a file; files that no rule reads get theirs when something first leads to them. */
function filePiece(world: World, path: string): number {
  const source = world.files.sourceOf.get(path);
  if (source !== undefined) return world.files.piece[source];
  let piece = world.files.unread.get(path);
  if (piece === undefined) {
    piece = world.builder.addPiece({ kind: 'file', name: baseName(path), file: path });
    world.files.unread.set(path, piece);
  }
  return piece;
}

function oneOf(world: World, form: TargetForm, text: string, all: Map<string, number[]>, source: number): Target {
  const { graph } = world.builder;
  const isFit = (piece: number): boolean =>
    (form.kinds.length === 0 || form.kinds.includes(kindOf(graph, piece))) &&
    (form.within === 'project' || isOwn(piece));
  const isOwn = (piece: number): boolean => graph.texts[graph.pieces.file[piece]] === world.facts[source].file;
  const fits = (all.get(text) ?? []).filter(isFit);
  if (fits.length > 0) {
    // An identity counts in its own file first: two files may both number their objects from one.
    const own = fits.filter(isOwn);
    return { state: 'found', pieces: own.length > 0 ? own : fits, grip: GRIP_OF[form.by] };
  }
  const { objects, parts, types, scenes, ids } = world.plan.engine;
  if (isEngines([...objects, ...parts, ...types, ...scenes, ...ids], text)) return UNKNOWN_TARGET;
  if (form.by === 'id' && world.names.madeIds.some((pattern) => pattern.test(text))) return UNKNOWN_TARGET;
  const alike = (byLower(all).get(text.toLowerCase()) ?? []).filter((key) => all.get(key)!.some(isFit));
  const loss = { ...emptyLoss('object', text), otherCapitals: otherCapitals(alike, text) };
  return { state: 'lost', loss: form.kinds.length > 0 ? { ...loss, kinds: form.kinds } : loss };
}

/** Keys of a map by their lower letters, made when first asked for: the map must be complete by then. */
const byLower = once((all: Map<string, unknown>): Map<string, string[]> => {
  const lower = new Map<string, string[]>();
  for (const key of all.keys()) push(lower, key.toLowerCase(), key);
  return lower;
});

function otherCapitals(words: Iterable<string>, wanted: string): string {
  const lower = wanted.toLowerCase();
  for (const word of words) if (word !== wanted && word.toLowerCase() === lower) return word;
  return '';
}

/** Whether the engine itself provides a thing of this name; names in the plan may be globs. */
export function isEngines(names: string[], name: string): boolean {
  return names.length > 0 && (names.includes(name) || isMatch(name, names));
}

export function emptyLoss(sought: Loss['sought'], wanted: string): Loss {
  return { sought, wanted, otherCapitals: '', lastObject: -1, among: [], elsewhere: [] };
}

function lost(sought: Loss['sought'], wanted: string, capitals: string): Target {
  return { state: 'lost', loss: { ...emptyLoss(sought, wanted), otherCapitals: capitals } };
}

/** Files of the same name in other folders. */
function sameName(world: World, text: string): string[] {
  const wanted = baseName(text.replace(/\\/g, '/')).toLowerCase();
  return (world.files.byLowerName.get(wanted) ?? []).slice(0, 5);
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
