/**
 * Code with planted copies, for measuring the search for twins: functions that have nothing to do with one another, in
 * five languages, and among them copies of known kinds. The same seed gives the same code.
 */
import type { Language } from '../reading/plan/plan.js';

export const COPY_KINDS = ['exact', 'renamed', 'values', 'added', 'removed', 'moved'] as const;
export type CopyKind = (typeof COPY_KINDS)[number];

export interface Planted {
  files: Record<string, string>;
  /** What was planted: the names of the two functions, with their files. */
  copies: { kind: CopyKind; language: Language; one: string; other: string }[];
}

type Node =
  | { is: 'set'; field: boolean; name: string; value: Sum }
  | { is: 'call'; on: string; member: string; arguments: Sum[] }
  | { is: 'if'; left: Sum; sign: string; right: Sum; then: Node[] }
  | { is: 'while'; left: Sum; sign: string; right: Sum; then: Node[] }
  | { is: 'return'; value: Sum };
/** Names and numbers with signs between them. */
type Sum = { terms: (string | number)[]; signs: string[] };

const ENDINGS: Record<Language, string> = {
  typescript: 'ts',
  javascript: 'js',
  lua: 'lua',
  csharp: 'cs',
  python: 'py',
};
const STEMS =
  'lock gate paddle rope boat quay bell gauge tide crew cargo toll wheel lamp buoy sluice weir bank keel mast'.split(
    ' ',
  );
const DOES = 'lift turn fill drain hold pull weigh count ring light open close moor cast steer mend'.split(' ');

/** Mulberry32 (public domain): small, and the same everywhere. */
export function randomFrom(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}

/** @param perKind copies of each kind in each language; @param unrelated functions beside them, for each copy */
export function plantTwins(seed: number, perKind: number, unrelated: number): Planted {
  const random = randomFrom(seed);
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)];
  const whole = (from: number, to: number): number => from + Math.floor(random() * (to - from + 1));
  const capital = (word: string): string => word[0].toUpperCase() + word.slice(1);
  const name = (): string => pick(STEMS) + capital(pick(STEMS)) + (random() < 0.4 ? capital(pick(DOES)) : '');

  const sum = (names: string[]): Sum => {
    const count = whole(1, 3);
    const term = (): string | number => (random() < 0.6 ? pick(names) : whole(2, 90));
    return {
      terms: Array.from({ length: count }, term),
      signs: Array.from({ length: count - 1 }, () => pick(['+', '-', '*'])),
    };
  };
  const statement = (names: string[], depth: number): Node => {
    const chance = random();
    if (chance < 0.4) return { is: 'set', field: random() < 0.6, name: pick(names), value: sum(names) };
    if (chance < 0.7 || depth > 1)
      return {
        is: 'call',
        on: pick(names),
        member: pick(DOES),
        arguments: Array.from({ length: whole(0, 3) }, () => sum(names)),
      };
    const body = Array.from({ length: whole(1, 3) }, () => statement(names, depth + 1));
    const head = { left: sum(names), sign: pick(['<', '>', '<=', '>=']), right: sum(names), then: body };
    return chance < 0.9 ? { is: 'if', ...head } : { is: 'while', ...head };
  };
  const body = (): Node[] => {
    const names = Array.from({ length: whole(4, 7) }, name);
    const nodes = Array.from({ length: whole(6, 11) }, () => statement(names, 0));
    if (random() < 0.5) nodes.push({ is: 'return', value: sum(names) });
    return nodes;
  };

  /** What everybody writes alike and nobody copied: a row of listeners, a row of values taken over. */
  const habit = (): Node[] =>
    Array.from({ length: whole(3, 5) }, (): Node =>
      random() < 0.5
        ? { is: 'call', on: 'bells', member: 'ring', arguments: [{ terms: [name()], signs: [] }] }
        : { is: 'set', field: true, name: name(), value: { terms: [name()], signs: [] } },
    );

  /** Changes every name by one rule, or every number by another; or adds, takes out or moves a statement. */
  const copyOf = (nodes: Node[], kind: CopyKind): Node[] => {
    const renamed = new Map<string, string>();
    const newName = (old: string): string => {
      if (kind !== 'renamed') return old;
      if (!renamed.has(old)) renamed.set(old, `${name()}${renamed.size}`);
      return renamed.get(old)!;
    };
    const newSum = ({ terms, signs }: Sum): Sum => ({
      signs,
      terms: terms.map((term) => (typeof term === 'string' ? newName(term) : kind === 'values' ? whole(2, 900) : term)),
    });
    const again = (node: Node): Node => {
      switch (node.is) {
        case 'set':
          return { ...node, name: newName(node.name), value: newSum(node.value) };
        case 'call':
          return { ...node, on: newName(node.on), arguments: node.arguments.map(newSum) };
        case 'return':
          return { ...node, value: newSum(node.value) };
        default:
          return { ...node, left: newSum(node.left), right: newSum(node.right), then: node.then.map(again) };
      }
    };
    const copy = nodes.map(again);
    const at = whole(1, copy.length - 2);
    if (kind === 'added') copy.splice(at, 0, statement([name(), name()], 2));
    if (kind === 'removed') copy.splice(at, 1);
    if (kind === 'moved') copy.splice(at === 1 ? copy.length - 1 : 1, 0, ...copy.splice(at, 1));
    return copy;
  };

  const languages = Object.keys(ENDINGS) as Language[];
  const planted: Planted = { files: {}, copies: [] };
  const functions = new Map<Language, { name: string; nodes: Node[] }[]>(languages.map((language) => [language, []]));
  let number = 0;
  const add = (language: Language, nodes: Node[]): string => {
    const title = `${pick(DOES)}${capital(pick(STEMS))}${number++}`;
    functions.get(language)!.push({ name: title, nodes });
    return title;
  };
  for (const language of languages)
    for (const kind of COPY_KINDS)
      for (let at = 0; at < perKind; at++) {
        const nodes = body();
        const one = add(language, nodes);
        for (let other = 0; other < unrelated; other++) add(language, body());
        add(language, habit());
        planted.copies.push({ kind, language, one, other: add(language, copyOf(nodes, kind)) });
      }
  for (const [language, list] of functions) {
    // Shuffled, so that copies stand in other files.
    list.sort((a, b) => hashOf(a.name) - hashOf(b.name));
    for (let at = 0; at < list.length; at += 8) {
      const title = `Part${at / 8}`;
      planted.files[`scripts/${language}${at / 8}.${ENDINGS[language]}`] = write(
        language,
        title,
        list.slice(at, at + 8),
      );
    }
  }
  return planted;
}

function hashOf(text: string): number {
  let hash = 7;
  for (const letter of text) hash = Math.imul(hash ^ letter.charCodeAt(0), 0x01000193);
  return hash;
}

function write(language: Language, title: string, functions: { name: string; nodes: Node[] }[]): string {
  const self = language === 'lua' || language === 'python' ? 'self' : 'this';
  const end = language === 'lua' || language === 'python' ? '' : ';';
  const term = (one: string | number): string => (typeof one === 'number' ? String(one) : `${self}.${one}`);
  const sum = ({ terms, signs }: Sum): string =>
    terms.map((one, at) => (at > 0 ? ` ${signs[at - 1]} ` : '') + term(one)).join('');
  const lines = (node: Node, indent: string): string[] => {
    const inner = `${indent}  `;
    switch (node.is) {
      case 'set': {
        const local = { typescript: 'const ', javascript: 'const ', lua: 'local ', csharp: 'var ', python: '' }[
          language
        ];
        return [`${indent}${node.field ? `${self}.${node.name}` : `${local}${node.name}`} = ${sum(node.value)}${end}`];
      }
      case 'call':
        return [
          `${indent}${self}.${node.on}${language === 'lua' ? ':' : '.'}${node.member}(${node.arguments.map(sum).join(', ')})${end}`,
        ];
      case 'return':
        return [`${indent}return ${sum(node.value)}${end}`];
      default: {
        const asks = `${sum(node.left)} ${node.sign} ${sum(node.right)}`;
        const then = node.then.flatMap((one) => lines(one, inner));
        if (language === 'python') return [`${indent}${node.is} ${asks}:`, ...then];
        if (language === 'lua')
          return [`${indent}${node.is} ${asks} ${node.is === 'if' ? 'then' : 'do'}`, ...then, `${indent}end`];
        return [`${indent}${node.is} (${asks}) {`, ...then, `${indent}}`];
      }
    }
  };
  const code = functions.flatMap(({ name, nodes }) => {
    const inside = nodes.flatMap((node) => lines(node, '    '));
    switch (language) {
      case 'python':
        return [`  def ${name}(self):`, ...inside];
      case 'lua':
        return [`function ${title}:${name}()`, ...inside, 'end'];
      case 'csharp':
        return [`  void ${name}() {`, ...inside, '  }'];
      default:
        return [`  ${name}() {`, ...inside, '  }'];
    }
  });
  switch (language) {
    case 'python':
      return [`class ${title}:`, ...code, ''].join('\n');
    case 'lua':
      return [`local ${title} = {}`, ...code, `return ${title}`, ''].join('\n');
    default:
      return [`class ${title} {`, ...code, '}', ''].join('\n');
  }
}
