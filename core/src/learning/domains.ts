/**
 * Step 2: what things can be named by. A domain is a set of texts: what tells the items of a list or the entries of a
 * map apart, what files say of themselves. Keys are candidates as in the discovery of unique columns and foreign keys
 * (Rostin et al. 2009: names, presence and uniqueness tell them).
 */
import { baseName, folderOf, stem } from '../reading/source.js';
import type { CallField } from './calls.js';
import type { Kind } from './kinds.js';
import { CALL, calledBy, isItem, shapesIn, type Shape } from './shapes.js';
import { Bag, isAmount, isNumber, makeOf, type Make, type Texts } from './texts.js';
import { isIdentityName, wordsOf } from './words.js';

/** How the things of a domain are told apart. */
export type Naming = 'member' | 'key' | 'stem' | 'folder' | 'declared' | 'type' | 'function';

export interface Domain {
  naming: Naming;
  /** The kind of files in which its things stand; undefined for what scripts give. */
  kind: Kind | undefined;
  /** What its things are: the file itself, or items of a list or map. */
  piece: Shape | undefined;
  /** Where the text stands that tells them apart; undefined for names of entries. */
  member: Shape | undefined;
  /** For what calls make known: where the text stands. */
  declaredBy?: CallField;
  texts: Bag;
  /** Mostly numbers. */
  isNumeric: boolean;
  /** Things of different sorts together, which carry an identity under one name. */
  isPooled?: true;
  /** Where the identities of those stand. */
  places?: readonly Shape[];
  /** Sorts of a list that are known together, each with its shape. */
  sorts?: readonly Shape[];
  /** How likely it is that things are named by this, from 0 to 1. */
  quality: number;
  words: readonly string[];
  /** Words of the folders, which say less. */
  around?: readonly string[];
  /** What is named by it, as it follows “names”: `one of boats by its code`. */
  title: string;
}

/** Members through which a thing is told apart stand at most so deep below it. */
const DEEPEST = 2;
/** Things that have such a member, and of them those that have one of their own. */
const PRESENT = 0.6;
const UNIQUE = 0.9;

/** Values that stand once in each thing, near it, with how deep. */
function* valuesOf(piece: Shape, depth = 0): Generator<{ member: Shape; depth: number }> {
  for (const member of piece.members.values()) {
    if (member.key === CALL) continue;
    if (member.values > 0 && member.members.size === 0) yield { member, depth };
    const inner = member.lists > 0 ? member.item : member;
    // Elements of which each thing has one, as XML writes them.
    if (!inner || inner === piece || member.isNested || depth >= DEEPEST) continue;
    if (member.lists > 0) {
      if (inner.objects + inner.values > member.lists * 1.02) continue;
      if (inner.values > 0 && inner.members.size === 0) yield { member: inner, depth };
    }
    if (inner.members.size > 0) yield* valuesOf(inner, depth + 1);
  }
}

/** Things that can be pieces: files, items of lists, entries of maps. */
function* piecesIn(kind: Kind): Generator<Shape> {
  for (const shape of shapesIn(kind.shape))
    if (shape === kind.shape ? shape.objects > 0 : isItem(shape) && shape.objects > 0) yield shape;
}

/** All domains of a kind of files. */
export function domainsOf(kind: Kind, paths: readonly string[], texts: Texts): Domain[] {
  const stems = new Set(kind.files.flatMap((file) => stemsOf(paths[file] ?? '')));
  const found: Domain[] = filesDomains(kind, paths, texts);
  for (const piece of piecesIn(kind)) {
    const isFile = piece === kind.shape;
    const called = isFile ? kind.name : calledBy(piece);
    const own = [...wordsOf(called), ...wordsOf(kind.name)];
    for (const { member, depth } of valuesOf(piece)) {
      // What stands once in each file says something of the file.
      const isAlone = isFile || piece.objects <= piece.files;
      const quality = qualityOf(piece, member, depth, isAlone, stems, texts);
      if (quality <= 0) continue;
      const words = [...own, ...wordsOf(nameOf(member))];
      const title = `${isFile ? 'a file' : 'one'} of ${called} by its ${nameOf(member)}`;
      found.push(byMember(kind, piece, member, quality, words, title, texts));
    }
    // What is known at run time alone is an empty thing.
    if (isItem(piece) && piece.parent?.keys && (kind.table === undefined || saysSomething(piece, texts))) {
      const { keys } = piece.parent;
      let depth = 0;
      for (let at = piece.parent.parent; at; at = at.parent) if (at.item) depth++;
      found.push(keysDomain(kind, piece, keys, own, called, 0.95 / (1 + depth), texts));
    }
  }
  // Names of entries whose values are no things of their own: texts by their keys.
  for (const shape of shapesIn(kind.shape))
    if (shape.keys && shape.item && shape.item.objects === 0 && !isMeasured(shape.keys, shape.item, texts)) {
      const called = calledBy(shape) || kind.name;
      found.push(
        keysDomain(
          kind,
          shape.item,
          shape.keys,
          [...wordsOf(called), ...wordsOf(kind.name)],
          called,
          shape.parent ? 0.4 : 0.7,
          texts,
        ),
      );
    }
  return found;
}

/** The domain of a member by which things are told apart; undefined when it does not tell them. */
export function domainAt(kind: Kind, piece: Shape, member: Shape, texts: Texts): Domain | undefined {
  const quality = qualityOf(piece, member, 0, false, new Set(), texts);
  if (quality <= 0) return undefined;
  const called = nameOf(member);
  return byMember(kind, piece, member, quality, wordsOf(called), `what is called so under ${called}`, texts);
}

function byMember(
  kind: Kind,
  piece: Shape,
  member: Shape,
  quality: number,
  words: readonly string[],
  title: string,
  texts: Texts,
): Domain {
  const isNumbers = isNumeric(member.texts, texts);
  return { naming: 'member', kind, piece, member, texts: member.texts, isNumeric: isNumbers, quality, words, title };
}

/** What stands in code and not in a kind of files. */
export function inCode(naming: Naming, texts: Bag, quality: number, words: readonly string[], title: string): Domain {
  return {
    naming,
    kind: undefined,
    piece: undefined,
    member: undefined,
    texts,
    isNumeric: false,
    quality,
    words,
    title,
  };
}

/** Files of a kind by their names; where they are all called the same, by the names of their folders. */
function filesDomains(kind: Kind, paths: readonly string[], texts: Texts): Domain[] {
  // Scripts are named by their paths.
  if (kind.files.length < 2 || kind.table) return [];
  const byStem = new Bag();
  const byFolder = new Bag();
  const words = new Set<string>();
  for (const file of kind.files) {
    const path = paths[file] ?? '';
    const folder = baseName(folderOf(path));
    byStem.add(texts.number(stem(path)), file);
    if (folder) byFolder.add(texts.number(folder), file);
    for (const word of wordsOf(folderOf(path))) words.add(word);
  }
  const of = (naming: 'stem' | 'folder', bag: Bag, quality: number): Domain => ({
    naming,
    kind,
    piece: kind.shape,
    member: undefined,
    texts: bag,
    isNumeric: isNumeric(bag, texts),
    quality,
    words: [...wordsOf(kind.name), ...wordsOf(kind.tag)],
    around: [...words].slice(0, 12),
    title: naming === 'stem' ? `a file of ${kind.name} by its name` : `a file of ${kind.name} by its folder`,
  });
  const different = byStem.size / kind.files.length;
  const found: Domain[] = [];
  if (different > 0.3) found.push(of('stem', byStem, 0.55 + 0.35 * different));
  else if (byFolder.size / kind.files.length > 0.8) found.push(of('folder', byFolder, 0.85));
  return found;
}

function keysDomain(
  kind: Kind,
  piece: Shape,
  keys: Bag,
  words: readonly string[],
  called: string,
  quality: number,
  texts: Texts,
): Domain {
  // The same texts stand under one key in each language.
  const unique = (piece.objects === 0 ? keys.total - keys.again : keys.size) / Math.max(1, keys.total);
  return {
    naming: 'key',
    kind,
    piece,
    member: undefined,
    texts: keys,
    isNumeric: isNumeric(keys, texts),
    // What stands under paths is about the files, and a text for people under another one says it in another language.
    quality:
      arePaths(keys, texts) || (piece.objects === 0 && areProse(keys, texts))
        ? 0.05
        : quality * (unique > 0.9 ? 1 : 0.35),
    words,
    title: `one of ${called} by its key`,
  };
}

/** How likely a member tells things apart; 0 when it does not. */
function qualityOf(
  piece: Shape,
  member: Shape,
  depth: number,
  isFile: boolean,
  stems: ReadonlySet<string>,
  all: Texts,
): number {
  const { texts } = member;
  const called = nameOf(member);
  const isNamed = isIdentityName(called);
  let present = Math.min(1, texts.total / Math.max(1, piece.objects));
  // Only what others refer to may need an identity.
  if (isNamed && present >= 0.02) present = Math.max(present, 0.7);
  if (texts.size < 2 || present < PRESENT) return 0;
  const unique = texts.size / texts.total;
  const uniqueInFile = 1 - texts.again / texts.total;
  // Objects of a tree may be called alike.
  if (uniqueInFile < (piece.parent?.isNested && isNamed ? 0.3 : isNamed ? 0.7 : UNIQUE)) return 0;
  let names = 0;
  let stemsHit = 0;
  let looked = 0;
  for (const text of texts.numbers()) {
    if (looked++ === 300) break;
    const written = all.text(text);
    const make = makeOf(written);
    if (make !== 'word for nothing' && canName(written, make)) names++;
    if (stems.has(written)) stemsHit++;
  }
  if (names / looked < 0.8) return 0;
  if (isFile && stemsHit / looked > 0.9 && looked > 2) return 0.95;
  // What is called a name below the thing says another thing's name.
  const isFirst = depth === 0 && [...piece.members.values()].find(({ key }) => key !== '#tag') === member;
  // What tells a thing apart mostly stands first.
  const named = isNamed
    ? depth === 0
      ? 1
      : 0.7
    : isNumeric(texts, all)
      ? isFirst
        ? 0.6
        : 0.2
      : isFirst
        ? 0.75
        : 0.5;
  // Local names are unique in their file alone.
  const isTree = piece.parent?.isNested === true && isNamed;
  const far = unique >= UNIQUE || isTree ? 1 : isFile ? 0 : isNamed ? 0.6 : unique < 0.8 ? 0.2 : 0.5;
  return (
    present *
    Math.max(uniqueInFile, 0.6) *
    named *
    far *
    0.9 ** depth *
    (isFile ? 0.9 : levelsOf(piece) < 2 ? 0.8 : 0.4)
  );
}

/** Whether something may be called so: amounts and sentences are no names. */
function canName(text: string, make: Make): boolean {
  return isNumber(make) ? !isAmount(text) : make !== 'several words' || text.length < 40;
}

/** Lists and maps that a thing stands in, one in the other; elements of which there is one each are none. */
function levelsOf(piece: Shape): number {
  let levels = 0;
  for (let at: Shape | undefined = piece; at; at = at.parent)
    if (isItem(at) && (at.parent?.keys || at.objects > (at.parent?.lists ?? 0) * 1.02)) levels++;
  return levels;
}

/** Names that say nothing: what they stand in says it. */
const EMPTY = /^(?:value|val|v|#text|text)$/i;

/** The name by which people would speak of a value. */
export function nameOf(member: Shape): string {
  const called = calledBy(member);
  if (!EMPTY.test(called)) return called;
  let at: Shape | undefined = member;
  while (at && (!at.key || EMPTY.test(at.key))) at = at.parent;
  return at?.key ?? called;
}

/** Members of a variable, as code writes them. */
const OF_VARIABLE = /^[\p{Ll}_][\p{L}\p{N}_]*(?:\.[\p{L}\p{N}_]+)+$/u;

/** Whether a thing in code holds more than what some function gives for variables. */
function saysSomething({ members, item }: Shape, texts: Texts): boolean {
  if ([...members.keys()].some((key) => key !== CALL)) return true;
  return item !== undefined && [...item.texts.numbers()].some((number) => !OF_VARIABLE.test(texts.text(number)));
}

/** Fewer numbers under names are the sizes of something. */
const FEWEST_NUMBERS = 8;

const isMeasured = (keys: Bag, item: Shape, texts: Texts): boolean =>
  keys.size < FEWEST_NUMBERS && item.texts.size > 0 && isNumeric(item.texts, texts);

/** So many of some texts are of several words where they are for people. */
const PROSE = 0.3;

function areProse(bag: Bag, texts: Texts): boolean {
  const numbers = [...bag.numbers()].slice(0, 300);
  return numbers.filter((number) => texts.make(number) === 'several words').length > numbers.length * PROSE;
}

function arePaths(keys: Bag, all: Texts): boolean {
  let paths = 0;
  let looked = 0;
  for (const text of keys.numbers()) {
    if (looked++ === 100) break;
    if (/[/\\].*\.\w{1,8}$/.test(all.text(text))) paths++;
  }
  return paths > looked / 2;
}

/** Whether most of some texts are numbers. */
export function isNumeric(texts: Bag, all: Texts): boolean {
  let numbers = 0;
  let looked = 0;
  for (const text of texts.numbers()) {
    if (looked++ === 100) break;
    if (isNumber(all.make(text))) numbers++;
  }
  return numbers > looked / 2;
}

/** A file's name without one ending, without two, and so on. */
function stemsOf(path: string): string[] {
  const base = baseName(path);
  const stems: string[] = [];
  for (let dot = base.lastIndexOf('.'); dot > 0; dot = base.lastIndexOf('.', dot - 1)) stems.push(base.slice(0, dot));
  return stems;
}
