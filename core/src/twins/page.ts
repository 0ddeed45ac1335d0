/** The twins of a project as the interface and the task list show them: of code, of data and of saved wiring. */
import { once } from '../helpers/once.js';
import { fingerprint } from '../helpers/fingerprint.js';
import { folded } from '../helpers/folded.js';
import { dated } from '../model/history.js';
import { nameOf } from '../model/graph.js';
import { baseName } from '../reading/source.js';
import type { Linked } from '../linking/linked.js';
import { assetTwinsOf, type AssetTwins } from './assets.js';
import type { Parting } from './drift.js';
import { brotherRulesOf, weightOf, type Rule } from './rules.js';
import { repeatedTables, type RepeatedTable } from './tables.js';
import { isPart, LIKENESS_WORDS, twinsOf, twinsOfRule, type Difference, type Home, type Twins } from './twins.js';
import { pastedWires, sameGraphs, sameWiring, type GraphSteps, type PastedWires, type SameWiring } from './wiring.js';

/** What is written again. */
export const TWIN_KINDS = ['code', 'prefab', 'data asset', 'wiring', 'table'] as const;
export type TwinKind = (typeof TWIN_KINDS)[number];

/** How likely it is that one of them is wrong by now, most first. */
export const RISKS = ['changed in one', 'drifted apart', 'values differ', 'the same'] as const;
export type Risk = (typeof RISKS)[number];

export interface TwinView {
  kind: TwinKind;
  /** How alike they are, in words: `the same with other values`. */
  likeness: string;
  risk: Risk;
  /** Who was changed while the others stayed as they were, as a sentence; empty when nothing tells. */
  parting: string;
  /** Tokens of code that writing it once would save; 0 for what is no code. */
  saves: number;
  places: TwinPlaceView[];
  differences: TwinDifference[];
  /** Values that differ, under the names that fields for them could have. */
  fields: { name: string; words: string[] }[];
  /** Where it could live – empty when it is to stay where it is – and what is to be written there. */
  home: { words: string; change: string };
}

export interface TwinPlaceView {
  name: string;
  file: string;
  line: number;
  endLine: number;
  /** -1 when there is none to trace. */
  piece: number;
  /** What would change here. */
  change: string;
}

export interface TwinDifference {
  what: Difference['what'] | 'wire';
  /** The line in each copy; 0 where there is nothing. */
  lines: number[];
  /** Where there is nothing: the line before which it would stand; 0 elsewhere. */
  before: number[];
  words: string[];
  /** When they parted, as words; empty when nothing tells. */
  parting: string;
}

/** A group before anybody looks at it: what it is listed, sorted and found by. */
interface Entry {
  kind: TwinKind;
  risk: Risk;
  saves: number;
  places: readonly { name: string; file: string }[];
  view(): TwinView;
}

export interface TwinFilter {
  /** Words in the name or file of a place. */
  text?: string;
  kind?: TwinKind;
  /** What saves most first, instead of what is likeliest to be wrong by now. */
  order?: 'saves';
  limit: number;
  /** Key of a group that is wanted whether or not it is among the first. */
  group?: string;
}

/** A group with a key that stays from scan to scan, as long as its places have their names. */
export type KeyedTwins = TwinView & { key: string };

export interface TwinPage {
  /** Of all kinds, and those that are wanted. */
  all: number;
  total: number;
  groups: KeyedTwins[];
  opened?: KeyedTwins;
}

/** All groups: those that are likeliest to be wrong by now first, and of those alike in that what saves most. */
const entriesOf = once((linked: Linked): Entry[] => {
  const code = twinsOf(linked);
  const told = new Set(code.flatMap(({ places }) => places.map(({ source, function: at }) => `${source} ${at}`)));
  const rules = brotherRulesOf(linked).filter(
    ({ holders }) => !holders.every(({ type, function: at }) => told.has(`${type.source} ${at}`)),
  );
  const ready = [
    ...code.map((twins) => codeView(linked, twins)),
    ...assetTwinsOf(linked).map((twins) => assetView(linked, twins)),
    ...pastedWires(linked).map((wires) => wiresView(linked, wires)),
    ...sameGraphs(linked).map((graphs) => graphsView(linked, graphs)),
    ...sameWiring(linked).map((same) => sameWiringView(linked, same)),
    ...repeatedTables(linked).map((table) => tableView(linked, table)),
  ];
  const entries = [
    ...ready.map((view): Entry => ({ ...view, view: () => view })),
    // There may be thousands: they are laid beside each other when they are looked at.
    ...rules.map((rule): Entry => ruleEntry(linked, rule)),
  ];
  entries.sort((a, b) => RISKS.indexOf(a.risk) - RISKS.indexOf(b.risk) || b.saves - a.saves);
  return entries;
});

function ruleEntry(linked: Linked, rule: Rule): Entry {
  return {
    kind: 'code',
    risk: rule.differs.length > 0 ? 'values differ' : 'the same',
    saves: weightOf(rule.holders[0].body) * (rule.holders.length - 1),
    places: rule.holders.map(({ type }) => ({
      name: `${type.name}.${rule.name}()`,
      file: linked.facts[type.source].file,
    })),
    view: () => codeView(linked, twinsOfRule(linked, rule)),
  };
}

/** The groups that are wanted, the first of them whole. */
export function twinPage(linked: Linked, { text = '', kind, order, limit, group }: TwinFilter): TwinPage {
  const entries = entriesOf(linked);
  const words = folded(text);
  const wanted = entries.filter(
    (entry) =>
      (!kind || entry.kind === kind) &&
      (!words || entry.places.some(({ name, file }) => folded(`${name} ${file}`).includes(words))),
  );
  if (order === 'saves') wanted.sort((a, b) => b.saves - a.saves);
  const keyed = (entry: Entry): KeyedTwins => ({ ...entry.view(), key: keyOf(entry) });
  const opened = group === undefined ? undefined : entries.find((entry) => keyOf(entry) === group);
  return {
    all: entries.length,
    total: wanted.length,
    groups: wanted.slice(0, limit).map(keyed),
    ...(opened && { opened: keyed(opened) }),
  };
}

function keyOf({ kind, places }: Entry): string {
  return fingerprint([kind, ...places.map(({ name, file }) => `${file} ${name}`).sort()]);
}

// Code ---------------------------------------------------------------------------------------------------------------

function codeView(linked: Linked, twins: Twins): TwinView {
  const { likeness, saves, drift, places, differences, home, parting } = twins;
  const fields = fieldsFor(twins);
  const values = (copy: number): string => fields.map(({ name, words }) => `${name} = ${words[copy]}`).join(', ');
  const isInherited = home.is === 'the parent' || home.is === 'a new parent';
  return {
    kind: 'code',
    likeness: `${isPart(twins) ? 'parts are ' : ''}the same ${LIKENESS_WORDS[likeness]}`,
    risk: parting
      ? 'changed in one'
      : drift
        ? 'drifted apart'
        : differences.some(({ what }) => what === 'value')
          ? 'values differ'
          : 'the same',
    parting: parting ? `${partingWords(twins, parting)}.` : '',
    saves,
    places: places.map((place, copy) => {
      const { name, file, line, endLine, type } = place;
      const sets = values(copy);
      const lines = line === endLine ? `Line ${line} becomes` : `Lines ${line} to ${endLine} become`;
      const change =
        isInherited && place.share === 1
          ? `The function goes out${sets && `; ${type?.name ?? 'the script'} sets ${sets}`}.`
          : `${lines} one call${sets && ` with ${sets}`}.`;
      return { name, file, line, endLine, piece: type?.piece ?? -1, change };
    }),
    differences: differences.map(({ what, lines, before, words, parting: own }) => ({
      what,
      lines,
      before,
      words,
      parting: own ? partingWords(twins, own) : '',
    })),
    fields,
    home: { words: homeWords(home), change: homeChange(linked, twins, fields) },
  };
}

function partingWords({ places }: Twins, { copy, by }: Parting): string {
  return `${places[copy].name} was changed ${dated(by)}, and ${places.length === 2 ? 'the other' : 'others'} not`;
}

const HOMES: Record<Home['is'], string> = {
  'the same type': 'one function of the type, called from both places',
  'the parent': 'the parent that they have',
  'a new parent': 'a new parent between them and theirs',
  'a shared script': 'a script that all of them take in',
};

function homeWords({ is, type }: Home): string {
  return type ? `${HOMES[is]}: ${type.name}` : HOMES[is];
}

function homeChange(
  { facts, graph }: Linked,
  { places, differences, home }: Twins,
  fields: TwinView['fields'],
): string {
  const apart = differences.filter(({ what }) => what === 'statement').length;
  const decide =
    apart > 0
      ? ` Decide first which is right at the ${apart === 1 ? 'statement' : `${apart} statements`} that not all have.`
      : '';
  const names = fields.map(({ name }) => name).join(', ');
  const code = places[0].name.split('.').pop()!;
  const [first] = places;
  switch (home.is) {
    case 'the parent':
      return `${home.type!.name} in ${facts[home.type!.source].file} gets ${code}${names && ` and the ${fields.length === 1 ? 'field' : 'fields'} ${names}`}.${decide}`;
    case 'a new parent':
      return `A new type takes ${code}${names && ` and the ${fields.length === 1 ? 'field' : 'fields'} ${names}`}; ${typeNames(places)} descend from it.${decide}`;
    case 'the same type':
      return `${first.type ? nameOf(graph, first.type.piece) : first.file} gets one function for it${names && `, which takes ${names}`}.${decide}`;
    case 'a shared script':
      return `It gets one function for it${names && `, which takes ${names}`}.${decide}`;
  }
}

function typeNames(places: Twins['places']): string {
  const names = [...new Set(places.flatMap(({ type }) => type?.name ?? []))];
  return names.length > 4 ? `${names.slice(0, 3).join(', ')} and ${names.length - 3} more` : names.join(', ');
}

/** A field for each value that differs, named after the function and the name that the value stands with. */
function fieldsFor({ places, differences }: Twins): TwinView['fields'] {
  const [, code = ''] = /([\w$]+)\(\)$/.exec(places[0].name) ?? [];
  const stem = code.replace(/^on_?(?=[A-Z_a-z])(?=[A-Z]|.*_)/, '');
  const taken = new Map<string, number>();
  return differences.flatMap(({ what, near, words }) => {
    if (what !== 'value') return [];
    const isSnake = code.includes('_') || near.includes('_');
    const name = fieldName(stem, near || 'value', isSnake);
    const count = (taken.get(name) ?? 0) + 1;
    taken.set(name, count);
    return [{ name: count === 1 ? name : `${name}${count}`, words }];
  });
}

function fieldName(stem: string, near: string, isSnake: boolean): string {
  if (!stem || stem.toLowerCase() === near.toLowerCase()) return near;
  if (isSnake) return `${stem}_${near}`.toLowerCase();
  return stem[0].toLowerCase() + stem.slice(1) + near[0].toUpperCase() + near.slice(1);
}

// Data and wiring ----------------------------------------------------------------------------------------------------

function assetView({ facts, world, graph }: Linked, { kind, sources, differing }: AssetTwins): TwinView {
  const isPrefab = kind === 'prefab';
  const own = (copy: number): string => differing.map(({ name, texts }) => `${name} = ${texts[copy]}`).join(', ');
  const [first] = sources;
  return {
    kind,
    likeness: differing.length === 0 ? 'the same but for their names' : 'the same with other values',
    risk: differing.length === 0 ? 'the same' : 'values differ',
    parting: '',
    saves: 0,
    places: sources.map((source, copy) => {
      const { file, name, range, pieces } = facts[source];
      const { line } = pieces[0]?.range ?? range;
      const stays = differing.length === 0 ? 'goes out; whoever uses it takes the other.' : `says only ${own(copy)}.`;
      const change = copy === 0 ? 'Stays as it is.' : isPrefab ? prefabChange(own(copy)) : `It ${stays}`;
      return {
        name,
        file,
        line,
        endLine: Math.max(line, ...differing.map(({ lines }) => lines[copy])),
        piece: world.files.piece[source],
        change,
      };
    }),
    differences: differing.map(({ texts, lines }) => ({
      what: 'value',
      lines,
      before: lines.map(() => 0),
      words: texts,
      parting: '',
    })),
    fields: differing.map(({ name, texts }) => ({ name, words: texts })),
    home: {
      words: isPrefab ? 'variants of one prefab' : 'one data asset that the others are like',
      change: `${nameOf(graph, world.files.piece[first])} is what they have in common.`,
    },
  };
}

function prefabChange(own: string): string {
  return own ? `Is made from the first, and saves ${own} over it.` : 'Goes out; whoever uses it takes the first.';
}

function wiresView({ facts, world, graph }: Linked, { source, pairs, wire, own }: PastedWires): TwinView {
  const { file } = facts[source];
  const nameIn = (id: string): { name: string; piece: number } => {
    const piece = (world.names.byId.get(id) ?? []).find((one) => graph.texts[graph.pieces.file[one]] === file);
    return piece === undefined ? { name: id, piece: -1 } : { name: nameOf(graph, piece), piece };
  };
  const place = (side: 0 | 1, change: string): TwinPlaceView => {
    const lines = pairs.map((pair) => pair[side].range.line);
    const [line, endLine] = [Math.min(...lines), Math.max(...lines)];
    return { ...nameIn(pairs[0][side].from), file, line, endLine, change };
  };
  return {
    kind: 'wiring',
    likeness: 'the same wires, one of them left as it was',
    risk: 'drifted apart',
    parting: '',
    saves: 0,
    places: [
      place(0, 'Stays as it is.'),
      place(1, `${wire.event} → ${wire.handler}() in line ${wire.range.line} leads to ${nameIn(own).name}.`),
    ],
    differences: pairs
      .filter(([one, other]) => one.to !== other.to || other === wire)
      .map(([one, other]) => ({
        what: 'wire',
        lines: [one.range.line, other.range.line],
        before: [0, 0],
        words: [one, other].map(({ event, to, handler }) => `${event} → ${nameIn(to).name}.${handler}()`),
        parting: '',
      })),
    fields: [],
    home: { words: '', change: 'Each object keeps wires of its own; one of them is led elsewhere.' },
  };
}

function graphsView({ world }: Linked, graphs: GraphSteps[]): TwinView {
  return {
    kind: 'wiring',
    likeness: `the same ${graphs[0].steps.length} steps in the same order`,
    risk: 'the same',
    parting: '',
    saves: 0,
    places: graphs.map(({ source, fact, steps }, at) => ({
      name: fact.name,
      file: fact.file,
      line: steps[0].range.line,
      endLine: steps.at(-1)!.range.line,
      piece: world.files.piece[source],
      change: at === 0 ? 'Stays, with a variable for what differs.' : 'Goes out; who runs it runs the first.',
    })),
    differences: [],
    fields: [],
    home: { words: 'one graph that all of them run', change: `${graphs[0].fact.name} is kept.` },
  };
}

function sameWiringView({ facts, graph }: Linked, { types, does }: SameWiring): TwinView {
  return {
    kind: 'wiring',
    likeness: `the same wiring in two languages: ${does.map(({ verb, to }) => `${verb} ${nameOf(graph, to)}`).join(', ')}`,
    risk: 'the same',
    parting: '',
    saves: 0,
    places: types.map(({ name, piece, source, script, local }) => {
      const { line, endLine } = script.types[local].range;
      const change = 'Stays, or goes out: one of them is enough.';
      return { name, file: facts[source].file, line, endLine, piece, change };
    }),
    differences: [],
    fields: [],
    home: { words: 'one of them', change: '' },
  };
}

function tableView({ facts, world }: Linked, { source, asset, table, differing }: RepeatedTable): TwinView {
  const [script, data] = [facts[source], facts[asset]];
  const piece = world.files.piece[source];
  return {
    kind: 'table',
    likeness: 'a table in code that repeats a data asset',
    risk: differing.length > 0 ? 'drifted apart' : 'the same',
    parting: '',
    saves: 0,
    places: [
      {
        name: baseName(script.file),
        file: script.file,
        line: table.range.line,
        endLine: table.range.endLine,
        piece,
        change: `The table goes out; the code reads ${data.file}.`,
      },
      {
        name: data.name,
        file: data.file,
        line: differing[0]?.record.range.line ?? data.range.line,
        endLine: differing.at(-1)?.record.range.endLine ?? data.range.endLine,
        piece: world.files.piece[asset],
        change: differing.length > 0 ? 'Stays, once it is decided which number is right.' : 'Stays as it is.',
      },
    ],
    differences: differing.map(({ key, number, line, record, says }) => ({
      what: 'value',
      lines: [line, record.range.line],
      before: [0, 0],
      words: [`${key}: ${number}`, `${key}: ${says}`],
      parting: '',
    })),
    fields: [],
    home: { words: `the data asset: ${data.name}`, change: '' },
  };
}

// Tasks --------------------------------------------------------------------------------------------------------------

const MOST_TOLD = 12;

/** All groups as a list of tasks, in Markdown. */
export function twinTasks(project: string, linked: Linked): string {
  const groups = entriesOf(linked).map((entry) => entry.view());
  const lines = [`# ${project}: what is written more than once`, ''];
  for (const { places, likeness, home, parting, differences, fields } of groups) {
    const [first] = places;
    const lives = home.words && ` It could live in ${home.words}.`;
    lines.push(`- [ ] ${code(first.name)} and ${places.length - 1} more: ${likeness}.${lives} ${home.change}`);
    if (parting) lines.push(`  - ${parting}`);
    for (const { name, file, line, endLine, change } of places)
      lines.push(`  - [ ] ${code(name)} in ${file}, lines ${line} to ${endLine}. ${change}`);
    for (const { name, words } of fields.slice(0, MOST_TOLD))
      lines.push(`  - ${code(name)}: ${words.map(code).join(' / ')}`);
    for (const { what, words } of differences
      .filter((one) => one.what !== 'value' || fields.length === 0)
      .slice(0, MOST_TOLD))
      lines.push(`  - ${what}: ${words.map((word) => (word ? code(word) : 'not there')).join(' / ')}`);
  }
  return `${lines.join('\n')}\n`;
}

/** A text as code in Markdown: the marks around it are more than any inside. */
function code(text: string): string {
  const inside = Math.max(0, ...[...text.matchAll(/`+/g)].map(([run]) => run.length));
  const marks = '`'.repeat(inside + 1);
  return inside > 0 ? `${marks} ${text} ${marks}` : `${marks}${text}${marks}`;
}
