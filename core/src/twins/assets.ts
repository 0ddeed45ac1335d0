/** Prefabs and data assets that are the same but for a few values. */
import { itemAt, must } from '../helpers/at.js';
import { grouped } from '../helpers/grouped.js';
import { isMatch } from '../reading/match.js';
import type { FileFacts } from '../reading/facts.js';
import type { Linked } from '../linking/linked.js';
import { apart, nearSame } from './near.js';

export interface AssetTwins {
  kind: 'prefab' | 'data asset';
  /** Positions in the list of facts, in the order of their paths. */
  sources: number[];
  /** Values that are not the same in all: what stands in each, and on which line. */
  differing: { name: string; texts: string[]; lines: number[] }[];
  /** Values that each of them has. */
  values: number;
}

/** So many values may differ, of so many at least. */
const MOST_DIFFERENT = 3;
const LEAST_SAVED = 3;
const LEAST_LEAVES = 8;
/** What this many files have alike is how files of that kind are. */
const TOO_MANY = 12;

interface Row {
  source: number;
  names: string[];
  texts: string[];
  lines: number[];
}

/** Those alike, by the path of the first. */
export function assetTwinsOf({ facts, plan }: Linked): AssetTwins[] {
  const sources = [...facts.keys()].sort((a, b) => (itemAt(facts, a).file < itemAt(facts, b).file ? -1 : 1));
  const wanted = sources.filter((source) => !isMatch(itemAt(facts, source).file, plan.house.copiesFine));
  const prefabs = wanted.filter((source) => {
    const { kind, pieces, extends: parent } = itemAt(facts, source);
    return kind === 'prefab' && pieces.length > 0 && !parent && !itemAt(pieces, 0).madeFrom;
  });
  const assets = wanted.filter((source) => {
    const { kind, leaves, pieces, extends: parent } = itemAt(facts, source);
    // What is derived from another says only what differs.
    return kind === 'data asset' && leaves && !parent && !pieces[0]?.extends;
  });
  const commonIn = commonOf(assets.map((source) => itemAt(facts, source)));
  return [
    ...grouped(prefabs, (source) => shapeOf(itemAt(facts, source))).flatMap((same) =>
      twinsIn(
        'prefab',
        same.map((source) => savedIn(itemAt(facts, source), source)),
        LEAST_SAVED,
        1,
      ),
    ),
    ...grouped(assets, (source) => `${itemAt(facts, source).rule}\n${must(itemAt(facts, source).leaves).ways}`).flatMap(
      (same) =>
        twinsIn(
          'data asset',
          same.map((source) => leavesIn(itemAt(facts, source), source)),
          LEAST_LEAVES,
          0.25,
          commonIn(itemAt(facts, itemAt(same, 0)).rule),
        ),
    ),
  ];
}

/** How often each value stands under each name, in all files of a rule. */
interface Common {
  files: number;
  counts: Map<string, number>;
}

/** Of fewer files nobody can say how alike they are by nature. */
const LEAST_FILES = 8;

/** What is common in the files of each rule. */
function commonOf(facts: readonly FileFacts[]): (rule: string) => Common {
  const byRule = new Map<string, Common>();
  for (const { rule, leaves } of facts) {
    const common = byRule.get(rule) ?? { files: 0, counts: new Map<string, number>() };
    byRule.set(rule, common);
    common.files++;
    const { ways, texts } = must(leaves);
    const names = ways.split('\n');
    const own = new Set(texts.map((text, at) => `${names[at]}\n${text}`));
    for (const key of own) common.counts.set(key, (common.counts.get(key) ?? 0) + 1);
  }
  return (rule) => byRule.get(rule) ?? { files: 0, counts: new Map<string, number>() };
}

/**
 * Whether rows agree in more than files of their kind do by nature. A value that nearly all files have says nothing; what
 * the others say is counted in bits, and must be more than two files of so many would agree in by chance.
 */
function standsOut(members: readonly Row[], places: readonly number[], { files, counts }: Common): boolean {
  if (files < LEAST_FILES) return true;
  const [first] = members;
  const differs = new Set(places);
  const others = files - members.length;
  const bits = (first?.texts ?? []).reduce((sum, text, at) => {
    if (!first || differs.has(at)) return sum;
    const elsewhere = Math.max(0, (counts.get(`${first.names[at]}\n${text}`) ?? 0) - members.length);
    return sum + Math.log2((others + 1) / (elsewhere + 1));
  }, 0);
  return bits > 2 * Math.log2(files) + 2;
}

/**
 * @param share of all values that may differ
 * @param common what files of the kind have in common by nature
 */
function twinsIn(kind: AssetTwins['kind'], rows: Row[], least: number, share: number, common?: Common): AssetTwins[] {
  const values = itemAt(rows, 0).texts.length;
  if (rows.length < 2 || values < least) return [];
  const texts = rows.map((row) => row.texts);
  return nearSame(texts, Math.min(MOST_DIFFERENT, Math.floor(values * share))).flatMap((group): AssetTwins[] => {
    const members = group.map((at) => itemAt(rows, at));
    const places = apart(members.map((row) => row.texts));
    if (members.length > TOO_MANY || places.length > MOST_DIFFERENT) return [];
    if (common && !standsOut(members, places, common)) return [];
    const differing = places.map((at) => ({
      name: itemAt(itemAt(members, 0).names, at),
      texts: members.map((row) => itemAt(row.texts, at)),
      lines: members.map((row) => itemAt(row.lines, at)),
    }));
    return [{ kind, sources: members.map(({ source }) => source), differing, values }];
  });
}

/** All of a prefab but the root's name and the saved values. */
function shapeOf({ rule, pieces }: FileFacts): string {
  return JSON.stringify([
    rule,
    pieces.map(({ kind, name, parent, madeFrom, parts, labels }, at) => [
      kind,
      at === 0 ? '' : name,
      parent,
      madeFrom?.text,
      labels?.map(({ text }) => text),
      parts.map((part) => [part.type, part.script?.text, part.values.map((value) => value.name)]),
    ]),
  ]);
}

function savedIn({ pieces }: FileFacts, source: number): Row {
  const values = pieces.flatMap(({ parts }) => parts.flatMap((part) => part.values));
  return {
    source,
    names: values.map(({ name }) => name),
    texts: values.map(({ text, empty }) => (empty ? '(empty)' : (text ?? '(a list)'))),
    lines: values.map(({ range }) => range.line),
  };
}

/** What stands in a data asset; its own name and identity are always another and do not count. */
function leavesIn({ name, id, leaves }: FileFacts, source: number): Row {
  const { ways, texts, lines } = must(leaves);
  const isOwn = (text: string): boolean => text !== '' && (text === name || text === id);
  return { source, names: ways.split('\n'), texts: texts.map((text) => (isOwn(text) ? '(its name)' : text)), lines };
}
