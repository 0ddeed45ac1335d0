/** How a written text leads to a target: identities, paths, names and types. The one place where this is decided. */
import { kindOf, titleOf } from '../model/graph.js';
import type { Grip, Loss } from '../model/link.js';
import type { ReferenceForm, TargetForm } from '../reading/plan/plan.js';
import { isMatch } from '../reading/match.js';
import { baseName, folderOf } from '../reading/source.js';
import { push, topOf, typeNamed, type World } from './world.js';

export type Target =
  { state: 'found'; pieces: number[]; grip: Grip } | { state: 'lost'; loss: Loss } | { state: 'unknown' };

const GRIP_OF: Record<ReferenceForm, Grip> = {
  id: 'fixed',
  path: 'path',
  'object path': 'path',
  name: 'name',
  type: 'name',
  member: 'name',
};
const UNKNOWN_TARGET: Target = { state: 'unknown' };

/** Finds what `text` means by `form`, written in the file at position `source`. Object paths are walked elsewhere. */
export function findTarget(world: World, form: TargetForm, text: string, source: number): Target {
  switch (form.by) {
    case 'id':
      return oneOf(world, form, text, world.byId.get(text), world.byId, source);
    case 'name':
      return oneOf(world, form, text, world.byName.get(text), world.byName, source);
    case 'type': {
      const type = typeNamed(world, text, source);
      if (type) return { state: 'found', pieces: [type.piece], grip: 'name' };
      return isEngines(world.plan.engine.parts, text)
        ? UNKNOWN_TARGET
        : lost('object', text, otherCapitals(byLower(world.typesByName).get(text.toLowerCase()) ?? [], text));
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
      const piece = filePiece(world, found.path);
      return { state: 'found', pieces: [piece], grip: 'path' };
    }
    default:
      return UNKNOWN_TARGET;
  }
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

/** The path a written path means, or, when there is none, one that differs only in capitals. */
export function findPath(
  world: World,
  form: TargetForm,
  text: string,
  file: string,
): { path?: string; otherCapitals: string } {
  const written = text.replace(/\\/g, '/');
  const starts = written.startsWith('/')
    ? ['']
    : form.from === 'file' && !/^\w+:/.test(written)
      ? [folderOf(file)]
      : ['', ...form.roots];
  let otherCapitals = '';
  for (const start of starts) {
    for (const ending of ['', ...form.endings]) {
      const path = normal(`${start}/${written}${ending}`);
      if (path === undefined) continue;
      if (world.paths.has(path)) return { path, otherCapitals: '' };
      otherCapitals ||= world.pathsByLower.get(path.toLowerCase())?.[0] ?? '';
    }
  }
  return { otherCapitals };
}

/** A path without `.` and `..`; undefined when it leads out of the project. */
function normal(path: string): string | undefined {
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
  const source = world.sourceOf.get(path);
  if (source !== undefined) return world.filePiece[source];
  let piece = world.unreadPiece.get(path);
  if (piece === undefined) {
    piece = world.builder.addPiece({ kind: 'file', name: baseName(path), file: path });
    world.unreadPiece.set(path, piece);
  }
  return piece;
}

function oneOf(
  world: World,
  form: TargetForm,
  text: string,
  pieces: number[] | undefined,
  all: Map<string, number[]>,
  source: number,
): Target {
  const fits = (pieces ?? []).filter(
    (piece) => form.kinds.length === 0 || form.kinds.includes(kindOf(world.builder.graph, piece)),
  );
  if (fits.length > 0) {
    // An identity counts in its own file first: two files may both number their objects from one.
    const own = fits.filter(
      (piece) => world.builder.graph.texts[world.builder.graph.pieces.file[piece]] === world.facts[source].file,
    );
    return { state: 'found', pieces: own.length > 0 ? own : fits, grip: GRIP_OF[form.by] };
  }
  if (isEngines([...world.plan.engine.objects, ...world.plan.engine.parts], text)) return UNKNOWN_TARGET;
  const isFit = (key: string): boolean =>
    form.kinds.length === 0 ||
    all.get(key)!.some((piece) => form.kinds.includes(kindOf(world.builder.graph, piece)));
  return lost('object', text, otherCapitals((byLower(all).get(text.toLowerCase()) ?? []).filter(isFit), text));
}

const lowerKeys = new WeakMap<Map<string, unknown>, Map<string, string[]>>();

/** Keys of a map by their lower letters, made when first asked for: the map must be complete by then. */
function byLower(all: Map<string, unknown>): Map<string, string[]> {
  let lower = lowerKeys.get(all);
  if (!lower) {
    lowerKeys.set(all, (lower = new Map()));
    for (const key of all.keys()) push(lower, key.toLowerCase(), key);
  }
  return lower;
}

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
  return (world.pathsByLowerName.get(wanted) ?? []).slice(0, 5);
}

/** Titles of other objects with this name in the same scene or prefab as `near`. */
export function elsewhere(world: World, name: string, near: number): string[] {
  const { graph } = world.builder;
  const top = topOf(world, near);
  return (world.byNameInTree.get(name) ?? [])
    .filter((piece) => topOf(world, piece) === top)
    .slice(0, 5)
    .map((piece) => titleOf(graph, piece));
}
