/** How a written text leads to a target: identities, paths, names and types. The one place where this is decided. */
import { cellAt, itemAt, knownIn } from '../helpers/at.js';
import { once } from '../helpers/once.js';
import { push } from '../helpers/push.js';
import { kindOf, rangeOf } from '../model/graph.js';
import type { Grip, Loss } from '../model/link.js';
import type { Naming, Plan, ReferenceForm, TargetForm } from '../reading/plan/plan.js';
import { baseName, folderOf } from '../reading/source.js';
import { findFunction } from './functions.js';
import { isEngines, emptyLoss } from './losses.js';
import { fillingsOf } from './holes.js';
import { filesOfFolder, findPath, sameName, sharedSteps } from './paths.js';
import { inSight, inSpaces } from './sight.js';
import { pieceNamed } from './world/pieces.js';
import { typeNamed } from './world/types.js';
import { holding, isRead, isTypeRead, labelling, mayBeUnread, scripting } from './world/unread.js';
import type { World, WorldType } from './world/world.js';

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
  function: 'name',
  folder: 'path',
};

const UNKNOWN_TARGET: Target = { state: 'unknown' };

/** A text as written, with what stands around it. */
export interface Pointer {
  text: string;
  /** The piece inside the file, where the text names both. */
  inner?: string;
  /** Position in the file's pieces of the piece that holds it, or -1. */
  piece: number;
  /** For functions: the type whose code it is, the types of what the call is made on, and what a field names. */
  type?: WorldType;
  receiver?: readonly WorldType[];
  holder?: string;
}

/**
 * Finds what a text means by `form`, written in the file at position `source`. Object paths are walked elsewhere.
 * A text with holes means what each filling of them does; it is lost when none is there, or one that must be.
 */
export function findTarget(world: World, form: TargetForm, pointer: Pointer, source: number): Target {
  const filled = form.by === 'function' ? undefined : fillingsOf(world, pointer.text);
  if (!filled) return findOne(world, form, pointer, source);
  const { fillings, areAll } = filled;
  const targets = fillings.map(({ text }) => findOne(world, form, { ...pointer, text }, source));
  const missing = targets.find((target, at) => target.state === 'lost' && fillings[at]?.isStated);
  if (missing) return missing;
  const found = targets.filter((target) => target.state === 'found');
  const pieces = [...new Set(found.flatMap((target) => target.pieces))];
  if (pieces.length > 0) return { state: 'found', pieces, grip: 'built' };
  const isLost = areAll && targets.every(({ state }) => state === 'lost');
  return isLost
    ? lost(form.by === 'path' || form.by === 'folder' ? 'file' : 'object', pointer.text, '')
    : UNKNOWN_TARGET;
}

function findOne(world: World, form: TargetForm, pointer: Pointer, source: number): Target {
  const { text, inner, piece: near } = pointer;
  switch (form.by) {
    case 'id':
      return oneOf(world, form, text, world.names.byId, source);
    case 'name':
      return oneOf(world, form, text, world.names.byName, source);
    case 'label':
      return findLabel(world, text);
    case 'index': {
      const at = pieceNamed(world, source, { by: 'index', of: form.of }, text, near);
      if (at < 0) return isRead(world, source) ? lost('object', text, '') : UNKNOWN_TARGET;
      return { state: 'found', pieces: [itemAt(itemAt(world.trees.pieceOf, source), at)], grip: GRIP_OF.index };
    }
    case 'type': {
      const type = typeNamed(world, text, source);
      if (type) return { state: 'found', pieces: [type.piece], grip: 'name' };
      const { parts, types } = world.plan.engine;
      return isEngines([...parts, ...types], text) || mayBeUnread(world, text, scripting)
        ? UNKNOWN_TARGET
        : lost('object', text, otherCapitals(byLower(world.types.byName).get(text.toLowerCase()) ?? [], text));
    }
    case 'function':
      return findFunction(world, form, pointer, source, (holder) =>
        form.holder ? findTarget(world, form.holder, { text: holder, piece: -1 }, source) : UNKNOWN_TARGET,
      );
    case 'member':
      return findMember(world, text, source);
    case 'path': {
      const found = findPath(world, form, text, itemAt(world.facts, source).file);
      if (found.path === undefined) {
        if (isEngines(world.plan.engine.files, text) || found.isBelowFile) return UNKNOWN_TARGET;
        return {
          state: 'lost',
          loss: { ...emptyLoss('file', text), otherCapitals: found.otherCapitals, elsewhere: sameName(world, text) },
        };
      }
      if (inner !== undefined && form.inner) return findInner(world, found.path, form.inner, inner);
      return { state: 'found', pieces: [filePiece(world, found.path)], grip: 'path' };
    }
    case 'folder':
      return findFolder(world, form, text, source);
    default:
      return UNKNOWN_TARGET;
  }
}

/** The files of a folder. */
function findFolder(world: World, form: TargetForm, text: string, source: number): Target {
  const paths = filesOfFolder(world, form, text, itemAt(world.facts, source).file);
  if (paths.length === 0) return isEngines(world.plan.engine.files, text) ? UNKNOWN_TARGET : lost('file', text, '');
  if (paths.length > MOST_FILES) {
    const piece = filePiece(world, itemAt(paths, 0));
    const words = `what takes in the folder ${text} is linked to ${MOST_FILES} of its files, and there are more`;
    world.leftOut.set(`folder ${text}`, { words, piece, file: itemAt(paths, 0), range: WHOLE });
  }
  return { state: 'found', pieces: paths.slice(0, MOST_FILES).map((path) => filePiece(world, path)), grip: 'path' };
}

/** Files of one folder that what means it is linked to. */
const MOST_FILES = 500;
const WHOLE = { line: 1, column: 1, endLine: 1, endColumn: 1 };

/** A label that a list declares or something carries. */
export function findLabel(world: World, text: string): Target {
  const label = world.labels.piece.get(text);
  if (label !== undefined) return { state: 'found', pieces: [label], grip: 'name' };
  if (isEngines(world.plan.engine.labels, text) || !readsLabels(world.plan)) return UNKNOWN_TARGET;
  if (mayBeUnread(world, text, labelling)) return UNKNOWN_TARGET;
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
  if (at >= 0) return { state: 'found', pieces: [itemAt(itemAt(world.trees.pieceOf, source), at)], grip: 'path' };
  if (!isRead(world, source)) return UNKNOWN_TARGET;
  const names = itemAt(world.facts, source)
    .pieces.map((piece) => (by === 'id' ? piece.id : piece.name))
    .filter(Boolean);
  const loss: Loss = {
    ...emptyLoss('object', inner),
    otherCapitals: otherCapitals(names, inner),
    lastObject: itemAt(world.files.piece, source),
    among: [...new Set(names)].slice(0, 12),
  };
  return { state: 'lost', loss };
}

/** A constant of a type: `RES.GOLD`. */
function findMember(world: World, text: string, source: number): Target {
  const dot = text.lastIndexOf('.');
  const member = text.slice(dot + 1);
  const type = dot > 0 ? typeNamed(world, text.slice(0, dot), source) : undefined;
  if (!type) {
    const isUnknown = isEngines(world.plan.engine.parts, text) || dot <= 0;
    return isUnknown || mayBeUnread(world, text.slice(0, dot), scripting) ? UNKNOWN_TARGET : lost('object', text, '');
  }
  const names = [type, ...type.ancestors].flatMap((one) =>
    itemAt(one.script.types, one.local).fields.map((field) => field.name),
  );
  if (names.includes(member)) return { state: 'found', pieces: [type.piece], grip: 'name' };
  if (!isTypeRead(world, type)) return UNKNOWN_TARGET;
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

/** The piece of a file; files that no rule reads get theirs when something first leads to them. */
function filePiece(world: World, path: string): number {
  const source = world.files.sourceOf.get(path);
  if (source !== undefined) return itemAt(world.files.piece, source);
  let piece = world.files.unread.get(path);
  if (piece === undefined) {
    piece = world.builder.addPiece({ kind: 'file', name: baseName(path), file: path });
    world.files.unread.set(path, piece);
  }
  return piece;
}

function oneOf(world: World, form: TargetForm, text: string, all: Map<string, number[]>, source: number): Target {
  const { graph } = world.builder;
  const isFit = (piece: number): boolean => form.kinds.length === 0 || form.kinds.includes(kindOf(graph, piece));
  const called = all.get(text) ?? [];
  const named = inSpaces(world, called, form.space);
  let fits: number[] = [];
  for (const pieces of inSight(world, source, form.within, named)) {
    const near = form.nearest ? nearestByFolder(world, source, pieces.filter(isFit)) : pieces;
    fits = fewOf(world, text, near, isFit);
    if (fits.length > 0) break;
  }
  if (fits.length > 0) return { state: 'found', pieces: fits, grip: GRIP_OF[form.by] };
  const { objects, parts, types, scenes, ids } = world.plan.engine;
  if (isEngines([...objects, ...parts, ...types, ...scenes, ...ids], text)) return UNKNOWN_TARGET;
  const isUnread =
    form.within === 'file' ? !isRead(world, source) : mayBeUnread(world, text, holding(form.kinds, form.space));
  if (isUnread) return UNKNOWN_TARGET;
  if (form.by === 'id' && world.names.madeIds.some((pattern) => pattern.test(text))) return UNKNOWN_TARGET;
  const alike = (byLower(all).get(text.toLowerCase()) ?? []).filter((key) => knownIn(all, key).some(isFit));
  const unseen = form.within === 'project' ? [] : named.filter(isFit).slice(0, 5);
  const elsewhere = [...new Set(unseen.map((piece) => itemAt(graph.texts, cellAt(graph.pieces.file, piece))))];
  const loss = { ...emptyLoss('object', text), otherCapitals: otherCapitals(alike, text), elsewhere };
  return { state: 'lost', loss: form.kinds.length > 0 ? { ...loss, kinds: form.kinds } : loss };
}

/** Those of some pieces that stand in the folders nearest to that of a file. */
function nearestByFolder(world: World, source: number, pieces: readonly number[]): readonly number[] {
  if (pieces.length <= 1) return pieces;
  const { graph } = world.builder;
  const own = folderOf(itemAt(world.facts, source).file);
  const shared = pieces.map((piece) =>
    sharedSteps(own, folderOf(itemAt(graph.texts, cellAt(graph.pieces.file, piece)))),
  );
  const most = Math.max(...shared);
  return pieces.filter((_, at) => shared[at] === most);
}

/** Pieces of one identity or name that a reference is linked to. */
const MOST_ALIKE = 20;

/** Those that fit, up to so many. */
function fewOf(world: World, text: string, pieces: readonly number[], isFit: (piece: number) => boolean): number[] {
  const found: number[] = [];
  for (const piece of pieces) {
    if (!isFit(piece)) continue;
    if (found.length < MOST_ALIKE) found.push(piece);
    else {
      leaveOutAlike(world, text, itemAt(found, 0));
      break;
    }
  }
  return found;
}

function leaveOutAlike(world: World, text: string, piece: number): void {
  const { graph } = world.builder;
  // Each language has the same texts.
  if (kindOf(graph, piece) === 'text') return;
  const file = itemAt(graph.texts, cellAt(graph.pieces.file, piece));
  const words = `what refers to “${text}” is linked to ${MOST_ALIKE} of the pieces that are called so, and there are more`;
  world.leftOut.set(`alike ${text}`, { words, piece, file, range: rangeOf(graph.pieces, piece) });
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

function lost(sought: Loss['sought'], wanted: string, capitals: string): Target {
  return { state: 'lost', loss: { ...emptyLoss(sought, wanted), otherCapitals: capitals } };
}
