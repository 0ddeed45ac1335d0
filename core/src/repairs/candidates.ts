/** The likeliest right targets for what is lost, each with the reason, and the repair that writes it. */
import { cellAt, itemAt, must } from '../helpers/at.js';
import { once, oncePer } from '../helpers/once.js';
import { push } from '../helpers/push.js';
import { groupOf, kindOf, nameOf, titleOf } from '../model/graph.js';
import type { Repair } from '../model/finding.js';
import type { Change } from './change.js';
import type { Loss } from '../model/link.js';
import type { PieceKind } from '../model/piece.js';
import type { Range } from '../model/piece.js';
import type { Linked, LookUp, LookUpPlace, LostReference } from '../linking/linked.js';
import { fits, slotTypes } from '../linking/slots.js';
import { pathsTried, pathWritten } from '../linking/paths.js';
import { baseName, folderOf, stem } from '../reading/source.js';
import { isSlip } from './sure.js';
import { rewritten } from './where-written.js';
import { nearest, wordsOf, type Words } from '../helpers/nearest.js';
import { inSight } from '../linking/sight.js';
import type { Within } from '../reading/plan/plan.js';
import { topOf, type World } from '../linking/world/world.js';

/** Something that may have been meant. */
export interface Candidate {
  /** As the reference would be written. */
  text: string;
  /** Why it may be meant, as a sentence. */
  reason: string;
  /** Nothing else can be meant. */
  sure: boolean;
}

const MOST_CANDIDATES = 4;
/** Among more names than this, those that fit a slot are not looked for: it would take too long and say too little. */
const MOST_NAMES = 5000;

/** What a lost reference may have meant, likeliest first. */
export function candidatesFor(linked: Linked, lost: LostReference): Candidate[] {
  const { loss, form } = lost;
  const found: Candidate[] = [];
  const add: Add = (text, reason, sure = false) => {
    if (text && text !== loss.wanted && !found.some((one) => one.text === text)) found.push({ text, reason, sure });
  };
  if (loss.sought === 'file' && form) addPaths(linked, lost, add);
  else addNames(linked, lost, add);
  // Of several that are sure by themselves none is.
  const isOne = found.filter(({ sure }) => sure).length === 1;
  return found.slice(0, MOST_CANDIDATES).map((one) => ({ ...one, sure: one.sure && isOne }));
}

type Add = (text: string | undefined, reason: string, sure?: boolean) => void;

function addPaths({ world, history }: Linked, { loss, form, file }: LostReference, add: Add): void {
  const addPath = (path: string, reason: string, sure = false): void => {
    if (world.files.paths.has(path)) add(pathWritten(world, must(form), path, loss.wanted, file), reason, sure);
  };
  if (loss.otherCapitals) addPath(loss.otherCapitals, `${loss.otherCapitals} differs only in capitals.`, true);
  const tried = pathsTried(world, must(form), loss.wanted, file);
  const renamed = tried.flatMap((path) => history.renamedTo(path) ?? []);
  for (const path of renamed) addPath(path, `The version history says that the file was renamed to ${path}.`, true);
  const same = tried.flatMap((path) => history.sameContent(path));
  for (const path of same)
    addPath(path, `${path} holds today, to the byte, what stood there in an earlier scan.`, true);
  for (const path of loss.elsewhere) addPath(path, `A file of the same name stands at ${path}.`);
  // What became of the file is known: what is only written alike was not meant.
  if (renamed.length + same.length > 0) return;
  for (const { path, isSure } of tried.flatMap((one) => otherFolder(world, one)))
    addPath(path, `${path} is written almost the same.`, isSure && loss.elsewhere.length === 0);
  const name = baseName(loss.wanted.replace(/\\/g, '/'));
  for (const path of alikeFor(world, name, tried))
    addPath(
      path,
      `${path} is written almost the same.`,
      loss.elsewhere.length === 0 && isSlipOfPath(world, name, path, tried),
    );
}

/** Where one folder of a path is not there, but one that is written almost the same, with all of the rest below it. */
function otherFolder(world: World, path: string): { path: string; isSure: boolean }[] {
  const steps = path.split('/');
  const inFolder = namesInFolder(world);
  const at = steps.findIndex((step, depth) => !inFolder.get(steps.slice(0, depth).join('/'))?.has(step));
  if (at < 0 || at === steps.length - 1) return [];
  const [wanted, beside] = [itemAt(steps, at), inFolder.get(steps.slice(0, at).join('/')) ?? []];
  return nearest(wanted, beside, 2).flatMap((name) => {
    const meant = [...steps.slice(0, at), name, ...steps.slice(at + 1)].join('/');
    return world.files.paths.has(meant) ? [{ path: meant, isSure: isSlip(wanted, name, beside) }] : [];
  });
}

/** Names of what stands in each folder; the top is the empty one. */
const namesInFolder = once(({ files }: World): Map<string, Set<string>> => {
  const names = new Map<string, Set<string>>();
  for (const path of files.paths) {
    const steps = path.split('/');
    for (let depth = steps.length - 1; depth >= 0; depth--) {
      const folder = steps.slice(0, depth).join('/');
      const known = names.get(folder) ?? new Set<string>();
      names.set(folder, known);
      // What is above was put there by another one.
      if (known.has(itemAt(steps, depth))) break;
      known.add(itemAt(steps, depth));
    }
  }
  return names;
});

/** Whether a file that stands where the path leads is surely meant, but for one letter of its name. */
function isSlipOfPath(world: World, name: string, path: string, tried: readonly string[]): boolean {
  const folder = folderOf(path);
  if (!tried.some((one) => folderOf(one) === folder)) return false;
  const { stems } = pathsEnding(world).get(name.slice(stem(name).length)) ?? NO_PATHS;
  return isSlip(stem(name), stem(path), stems);
}

/** Files of the same ending as a file name that are called almost the same, by the nearest names. */
const alikePaths = oncePer((world: World, name: string): readonly string[][] => {
  const { paths, stems } = pathsEnding(world).get(name.slice(stem(name).length)) ?? NO_PATHS;
  return nearest(stem(name), stems, 2).map((one) => paths.get(one) ?? []);
});

/** Of each of the nearest names two files: those that stand where the path leads first. */
function alikeFor(world: World, name: string, tried: readonly string[]): string[] {
  const folders = new Set(tried.map(folderOf));
  return alikePaths(world, name).flatMap((paths) => {
    const here = paths.filter((path) => folders.has(folderOf(path)));
    return [...here, ...paths.filter((path) => !folders.has(folderOf(path))).slice(0, 2)].slice(0, 2);
  });
}

interface PathsByStem {
  paths: Map<string, string[]>;
  stems: Words;
}

const NO_PATHS: PathsByStem = { paths: new Map(), stems: wordsOf([]) };

/** All paths by their ending, and by none, then by the rest of the file's name. */
const pathsEnding = once(({ files }: World): Map<string, PathsByStem> => {
  const endings = new Map<string, Map<string, string[]>>();
  for (const path of files.paths) {
    const [name, rest] = [baseName(path), stem(path)];
    // A name without an ending may be one of any.
    for (const ending of new Set([name.slice(rest.length), ''])) {
      const paths = endings.get(ending) ?? new Map<string, string[]>();
      endings.set(ending, paths);
      push(paths, rest, path);
    }
  }
  return new Map([...endings].map(([ending, paths]) => [ending, { paths, stems: wordsOf(paths.keys()) }]));
});

function addNames(linked: Linked, lost: LostReference, add: Add): void {
  const { world, graph } = linked;
  const { loss, form } = lost;
  if (loss.otherCapitals) add(loss.otherCapitals, `“${loss.otherCapitals}” differs only in capitals.`, true);
  const isId = form?.by === 'id';
  const written = (piece: number): string =>
    isId ? itemAt(graph.texts, cellAt(graph.pieces.id, piece)) : nameOf(graph, piece);
  // The identity is there, but of another kind, or in another file than may be meant.
  // What names no kind may mean what stands in its own file, objects as well.
  const keys = new Set([...(form?.kinds.length ? [] : [poolKey(linked, lost, true)]), poolKey(linked, lost)]);
  const pools = [...keys].map((key) => poolOf(linked, key));
  const slot = slotOf(linked, lost);
  const suits = (text: string): boolean => {
    const piece = pools.map(({ byText }) => byText.get(text)).find((one) => one !== undefined);
    return (
      piece !== undefined && slot.types.length > 0 && slot.types.some((one) => fits(world, piece, one, slot.source))
    );
  };
  const close = [...new Set(pools.flatMap(({ words }) => nearest(loss.wanted, words, MOST_CANDIDATES)))];
  for (const text of [...close.filter(suits), ...close.filter((one) => !suits(one))])
    add(
      text,
      `“${text}” is written almost the same${suits(text) ? ' and fits the slot’s type' : ''}.`,
      (!slot.isKnown || suits(text)) && pools.every(({ words }) => isSlip(loss.wanted, text, words)),
    );
  for (const name of loss.among.filter((one) => nearest(loss.wanted, [one], 1).length > 0))
    add(name, `“${name}” stands there and is written almost the same.`, isSlip(loss.wanted, name, loss.among));
  if (isId) {
    for (const piece of (world.names.byName.get(loss.wanted) ?? []).slice(0, 2))
      add(written(piece), `${titleOf(graph, piece)} has that as its name.`);
  }
  const suiting = slot.isKnown
    ? pools
        .filter(({ byText }) => byText.size <= MOST_NAMES)
        .flatMap(({ byText }) => [...byText.values()].filter((one) => suits(written(one))))
    : [];
  if (suiting.length <= 3)
    for (const piece of suiting) add(written(piece), `${titleOf(graph, piece)} fits the slot’s type.`);
}

/** Pieces that could be meant, by their identity or name. */
interface Pool {
  byText: Map<string, number>;
  words: Words;
}

/** Which pieces could be meant, as a text: by identity or name, of these kinds, in one file or in all that it sees. */
function poolKey({ world }: Linked, { loss, form, file }: LostReference, isInFile = false): string {
  const by = form?.by === 'id' ? 'id' : 'name';
  if (loss.sought === 'label') return [by, 'labels', '', '', ''].join('\n');
  const kinds = form?.kinds ?? [];
  // Objects are meant in their own scene; everything else may stand anywhere that is in sight.
  const isAnywhere = !kinds.some((kind) => kind === 'object');
  const within = isAnywhere && !isInFile ? (form?.within ?? 'project') : 'file';
  const source = within === 'project' ? '' : String(world.files.sourceOf.get(file) ?? -1);
  return [by, kinds.join(','), source, within, form?.space ?? ''].join('\n');
}

/** Asked for thousands of times, for few different pools. */
const poolOf = oncePer((linked: Linked, key: string): Pool => {
  const { graph, world } = linked;
  const [by = '', kinds = '', source = '', within = '', space = ''] = key.split('\n');
  const wanted = kinds === '' ? [] : kinds.split(',');
  const pieces =
    kinds === 'labels'
      ? [...world.labels.piece.values()]
      : within !== 'file'
        ? seen(world, piecesOfKinds(world, kinds), source, within as Within)
        : (world.trees.pieceOf[Number(source)] ?? []).filter(
            (piece) => wanted.length === 0 || wanted.includes(kindOf(graph, piece)),
          );
  const byText = new Map<string, number>();
  for (const piece of pieces) {
    const text = by === 'id' ? itemAt(graph.texts, cellAt(graph.pieces.id, piece)) : nameOf(graph, piece);
    if (text !== '' && (space === '' || world.names.spaceOf.get(piece) === space)) byText.set(text, piece);
  }
  return { byText, words: wordsOf(byText.keys()) };
});

/** Those of some pieces that a file sees; all where none is given. */
function seen(world: World, pieces: readonly number[], source: string, within: Within): readonly number[] {
  return source === '' ? pieces : [...new Set([...inSight(world, Number(source), within, pieces)].flat())];
}

/** What is not meant by its name or identity from outside of its file. */
const NOT_NAMED = new Set<PieceKind>(['object', 'part', 'step']);

/** Pieces of some kinds, by the kinds with commas between them; of all but objects where none is given. */
const piecesOfKinds = oncePer(({ builder, files, trees, names }: World, kinds: string): number[] => {
  const wanted = kinds === '' ? undefined : kinds.split(',');
  return [...files.piece, ...trees.pieceOf.flat(), ...[...names.declared.values()].flat()].filter((piece) =>
    wanted ? wanted.includes(kindOf(builder.graph, piece)) : !NOT_NAMED.has(kindOf(builder.graph, piece)),
  );
});

/** The declared type of the slot that a reference stands in. */
function slotOf(
  { world }: Linked,
  { from, field }: LostReference,
): { types: string[]; source: number; isKnown: boolean } {
  const type = world.trees.partByPiece.get(from)?.type;
  for (const declaring of type ? [type, ...type.ancestors] : []) {
    const found = itemAt(declaring.script.types, declaring.local).fields.find((one) => one.name === field);
    if (!found) continue;
    const types = slotTypes(found.type);
    return {
      types,
      source: declaring.source,
      isKnown: types.some((one) => world.types.carried.has(one) || world.names.parts.has(one)),
    };
  }
  return { types: [], source: -1, isKnown: false };
}

/** Repairs that write a candidate in the place of what was written. */
export function replacements(linked: Linked, lost: LostReference): Repair[] {
  const { file, range, loss } = lost;
  if (lost.isJoined) return [];
  return candidatesFor(linked, lost).map(({ text, reason, sure }) => ({
    title: `Write “${text}”`,
    words: reason,
    ...(sure && { sure: true as const }),
    changes: [rewritten(linked, file, range, loss.wanted, text)],
  }));
}

/** One repair that writes a name in the place of another. */
export function writeInstead(
  file: string,
  range: Range,
  from: string,
  to: string,
  words: string,
  isSure = false,
): Repair {
  const changes: Change[] = [{ is: 'replace', file, range, from, to }];
  return { title: `Write “${to}”`, words, changes, ...(isSure && { sure: true }) };
}

/**
 * Repairs for a look-up that is lost from some places. Where the line of code holds elsewhere, it is the object that
 * has the wrong name; otherwise it is the code.
 */
export function lookUpRepairs(linked: Linked, lookUp: LookUp, { loss, object }: LookUpPlace): Repair[] {
  const { graph, world } = linked;
  const { wanted, lastObject } = loss;
  const here = lastObject >= 0 ? (world.trees.children.get(lastObject) ?? []) : [];
  const suits = likeFound(linked, lookUp, wanted);
  const among = lastObject >= 0 || loss.sought !== 'object' ? loss.among : namesInScene(world, topOf(world, object));
  const names = loss.otherCapitals ? [loss.otherCapitals] : nearest(wanted, among, 2);
  const reasonFor = (name: string): string =>
    name === loss.otherCapitals
      ? `“${name}” stands there and differs only in capitals`
      : `“${name}” stands there and is written almost the same`;
  const meant = [
    ...names.map((name) => ({ name, reason: reasonFor(name) })),
    ...here
      .filter((child) => suits(child) && !names.includes(nameOf(graph, child)))
      .map((child) => ({
        name: nameOf(graph, child),
        reason: `“${nameOf(graph, child)}” stands there and carries the same parts as the “${wanted}” of other objects`,
      })),
  ];
  if (lookUp.foundCount === 0)
    return names.map((name) => ({
      ...writeInstead(lookUp.file, lookUp.range, wanted, name, `${reasonFor(name)}.`, isSlip(wanted, name, among)),
      changes: [rewritten(linked, lookUp.file, lookUp.range, wanted, name)],
    }));
  return meant.flatMap(({ name, reason }): Repair[] => {
    const child = here.find((one) => nameOf(graph, one) === name);
    const file = child === undefined ? '' : graph.texts[cellAt(graph.pieces.file, child)];
    if (child === undefined || !file) return [];
    const { line, column, endLine, endColumn } = graph.pieces;
    const range = {
      line: cellAt(line, child),
      column: cellAt(column, child),
      endLine: cellAt(endLine, child),
      endColumn: cellAt(endColumn, child),
    };
    return [
      {
        title: `Call it “${wanted}”`,
        words: `${reason}, and the same line of code finds “${wanted}” on ${lookUp.foundCount} other ${lookUp.foundCount === 1 ? 'object' : 'objects'}.`,
        changes: [{ is: 'replace', file, range, from: name, to: wanted }],
      },
    ];
  });
}

/** Names of the objects of one scene. */
const namesInScene = oncePer((world: World, top: number): Words => {
  const names = new Set<string>();
  const open = [top];
  for (let at = open.pop(); at !== undefined; at = open.pop()) {
    for (const child of world.trees.children.get(at) ?? []) {
      names.add(nameOf(world.builder.graph, child));
      open.push(child);
    }
  }
  return wordsOf(names);
});

/** Tells children that carry the same parts as what the look-up finds where it holds. */
function likeFound({ graph, world }: Linked, lookUp: LookUp, wanted: string): (child: number) => boolean {
  const { firstFound, file, range } = lookUp;
  if (!firstFound) return () => false;
  const { links } = graph;
  const found = [...groupOf(graph.outgoing, firstFound.part)].find(
    (link) =>
      graph.texts[cellAt(links.file, link)] === file &&
      links.line[link] === range.line &&
      links.column[link] === range.column,
  );
  const partsOf = (object: number): string =>
    (world.trees.partsOf.get(object) ?? [])
      .map((part) => nameOf(graph, part.piece))
      .sort()
      .join(' ');
  const parts = found === undefined || cellAt(links.to, found) < 0 ? '' : partsOf(cellAt(links.to, found));
  return (child) => parts !== '' && nameOf(graph, child) !== wanted && partsOf(child) === parts;
}

/** Objects of one scene or prefab that have a name: more than one, and a look-up by it would not be sure. */
export function isOnlyOne({ world }: Linked, name: string, near: number): boolean {
  const top = topOf(world, near);
  return (world.names.inTree.get(name) ?? []).filter((piece) => topOf(world, piece) === top).length === 1;
}

/** Words for a loss of something that a list declares. */
export function isDeclaredKind({ kinds }: Loss): boolean {
  return kinds !== undefined && kinds.length > 0 && kinds.every((kind) => DECLARED.has(kind));
}

const DECLARED = new Set<string>(['label', 'input action', 'text', 'scene', 'flag', 'event']);
