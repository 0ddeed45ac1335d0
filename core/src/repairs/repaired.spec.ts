/** Random documents, random repairs: what is written says what was meant and nothing else, or it is refused. */
import fc from 'fast-check';
import { GlueError } from '../model/errors.js';
import { linesOf } from '../reading/lines.js';
import { LANGUAGES, type Language } from '../reading/plan/plan.js';
import { LANGUAGE } from '../reading/scripts/languages.js';
import { compileSelector } from '../reading/selector/select.js';
import { isLeaf, type TreeNode } from '../reading/tree/node.js';
import { FORMATS, readTree, type Format } from '../reading/tree/read-tree.js';
import { useGrammars } from '../testing/project.js';
import type { Change } from './change.js';
import { repairedText } from './repaired.js';

/** Names and texts that stand inside each other, hold marks of the formats, or look like something else. */
const NAMES = ['mode', 'm', 'modest', 'e', 'script'];
const TEXTS = [
  'mode',
  'modest',
  'm',
  'scripts/gate.ts',
  'nine nine',
  'say "mode"',
  "it's",
  'x & y <z>',
  '&amp;',
  'Übung ä',
  '12',
  'true',
  '- x',
  '#no',
  'a: b, c',
  'two\nlines',
  'back\\slash',
  '${mode}',
  ']]>',
  '',
];

const escapeXml = (text: string): string =>
  text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;').replace(/\n/g, '&#10;');
const quotedCell = (text: string): string => `"${text.replace(/"/g, '""')}"`;
const isSimple = (text: string): boolean => /^[a-z][a-z/.]*$/i.test(text) && text !== 'true';

/** One way of writing a text where a value stands; `style` picks among those that the format has. */
const VALUE: Record<Exclude<Format, 'xml' | 'csv' | 'ini'>, (text: string, style: number) => string> = {
  json: (text, style) => (style === 1 ? JSON.stringify(text).replace(/m/g, '\\u006d') : JSON.stringify(text)),
  yaml: (text, style) =>
    style === 1 && !text.includes('\n')
      ? `'${text.replace(/'/g, "''")}'`
      : style === 2 && isSimple(text)
        ? text
        : JSON.stringify(text),
  toml: (text, style) => (style === 1 && !/['\n]/.test(text) ? `'${text}'` : JSON.stringify(text)),
};

type Row = { name: string; text: string; style: number }[];

const WRITERS: Record<Format, (row: Row, list: string[]) => string> = {
  json: (row, list) =>
    `{ // it's\n  ${row.map(({ name, text, style }) => `"${name}": ${VALUE.json(text, style)}`).join(',\n  ')},\n  "list": [${list.map((one) => JSON.stringify(one)).join(', ')}]\n}\n`,
  yaml: (row, list) =>
    `# it's\n${row.map(({ name, text, style }) => `${name}: ${VALUE.yaml(text, style)} # "mode"\n`).join('')}list:\n${list.map((one, at) => `  - ${VALUE.yaml(one, at % 3)}\n`).join('')}`,
  toml: (row, list) =>
    `# it's\n${row.map(({ name, text, style }) => `${name} = ${VALUE.toml(text, style)} # "mode"\n`).join('')}list = [${list.map((one) => JSON.stringify(one)).join(', ')}]\n`,
  ini: (row) =>
    `; it's\n[all]\n${row.map(({ name, text, style }) => `${name}${style ? ' = ' : ': '}${text.replace(/\n/g, ' ')}\n`).join('')}`,
  csv: (row) =>
    `${row.map(({ name }) => name).join(',')}\n${row.map(({ text, style }) => (style || /[",\n]/.test(text) ? quotedCell(text) : text)).join(',')}\n`,
  xml: (row, list) => {
    const attributes = row.map(({ name, text, style }) =>
      style === 1
        ? ` ${name} = '${escapeXml(text).replace(/'/g, '&apos;')}'`
        : ` ${name}="${escapeXml(text).replace(/"/g, '&quot;')}"`,
    );
    const items = list.map((one, at) =>
      at % 3 === 1 && !one.includes(']]>') ? `<mode><![CDATA[${one}]]></mode>` : `<mode>\n  ${escapeXml(one)}\n</mode>`,
    );
    return `<?xml version="1.0"?>\n<!-- <script mode="m"/> -->\n<script${attributes.join('')}>\n  ${items.join('\n  ')}\n</script>\n`;
  },
};

/** All that a text says: the way to each value, and the value. */
function said(text: string, format: Format): Map<string, string> {
  const { documents, problems } = readTree(text, format);
  const found = new Map<string, string>([['problems', String(problems.length)]]);
  const visit = (node: TreeNode, way: string): void => {
    if (isLeaf(node)) found.set(way, `${node.kind} ${String(node.value)}`);
    node.children.forEach((child, at) => visit(child, `${way}/${node.kind === 'list' ? at : child.key}`));
  };
  documents.forEach((document) => visit(document, ''));
  return found;
}

/** What differs between two texts, as `way: before → after`. */
function differences(before: Map<string, string>, after: Map<string, string>): string[] {
  return [...new Set([...before.keys(), ...after.keys()])]
    .filter((way) => before.get(way) !== after.get(way))
    .map((way) => `${way}: ${before.get(way) ?? 'none'} → ${after.get(way) ?? 'none'}`);
}

const rows = fc
  .uniqueArray(fc.constantFrom(...NAMES), { minLength: 1, maxLength: 4 })
  .chain((names) =>
    fc.tuple(
      ...names.map((name) => fc.record({ name: fc.constant(name), text: fc.constantFrom(...TEXTS), style: fc.nat(2) })),
    ),
  );
const lists = fc.array(fc.constantFrom(...TEXTS.filter((text) => text !== '')), { minLength: 1, maxLength: 3 });

/** Values that a repair can be about, with the selector of the list around where there is one. */
function valuesOf(text: string, format: Format): TreeNode[] {
  const selector = { csv: '$[0][*]', ini: '$.all[*]', xml: '$..*', json: '$..*', yaml: '$..*', toml: '$..*' }[format];
  return readTree(text, format)
    .documents.flatMap((document) => compileSelector(selector)(document))
    .filter((node) => isLeaf(node) && node.key !== '#tag');
}

describe('a repaired text', () => {
  beforeAll(useGrammars);

  const written = (text: string, format: Format | Language, change: object): string | undefined => {
    try {
      return repairedText('f', text, format, [{ file: 'f', ...change } as Change]);
    } catch (error) {
      if (error instanceof GlueError && error.code === 'repair/impossible') return undefined;
      throw error;
    }
  };

  for (const format of FORMATS) {
    it(`in ${format} says what was meant and nothing else`, () => {
      let tried = 0;
      let done = 0;
      fc.assert(
        fc.property(
          rows,
          lists,
          fc.nat(100),
          fc.constantFrom(...TEXTS),
          fc.constantFrom('replace', 'set', 'remove'),
          (row, list, pick, to, is) => {
            const text = WRITERS[format](row, list);
            const values = valuesOf(text, format);
            const node = values[pick % values.length];
            if (!node) return;
            const range = linesOf(text).range(node.start, node.end);
            const from = String(node.value);
            if (is === 'replace' && from === '') return;
            const after = written(text, format, is === 'remove' ? { is, range } : { is, range, from, to });
            tried++;
            if (after === undefined) return;
            done++;
            const changed = differences(said(text, format), said(after, format));
            const context = `${is} “${to}” at ${range.line}:${range.column} of\n${text}\nbecame\n${after}`;
            if (is === 'remove') {
              // What stands behind it in a list moves up.
              const isInList = node.parent?.kind === 'list' || node.key === '#text';
              if (!isInList) expect(changed.length).withContext(context).toBeLessThanOrEqual(1);
            } else {
              const kind = node.kind === 'text' ? 'text' : node.kind;
              const stays = from === to ? 0 : 1;
              expect(changed.length).withContext(context).toBe(stays);
              if (stays)
                expect(changed[0].endsWith(`: ${kind} ${from} → text ${to}`))
                  .withContext(`${changed[0]} ${context}`)
                  .toBeTrue();
            }
          },
        ),
        { numRuns: 600 },
      );
      // Some texts cannot stand where they are wanted; refusing everything would be no repair.
      expect(done / tried).toBeGreaterThan(0.6);
    });
  }

  /** A call with two texts, as each language writes it. */
  const CODE: Record<Language, (one: string, two: string) => string> = {
    typescript: (one, two) => `export class Gate {\n  begin() {\n    find(${one}, ${two}); // find('mode')\n  }\n}\n`,
    javascript: (one, two) => `find(${one}, \`\${m}-\`, ${two}); /* 'mode' */\n`,
    lua: (one, two) => `function begin()\n  find(${one}, ${two}) -- 'mode'\nend\n`,
    csharp: (one, two) => `class Gate {\n  void Begin() {\n    Find(${one}, ${two}); // "mode"\n  }\n}\n`,
    python: (one, two) => `def begin():\n    find(${one}, ${two})  # 'mode'\n`,
  };

  for (const language of LANGUAGES) {
    it(`in ${language} changes the one text that was meant`, () => {
      let tried = 0;
      let done = 0;
      const texts = TEXTS.filter((text) => text !== '');
      fc.assert(
        fc.property(
          fc.constantFrom(...texts),
          fc.constantFrom(...texts),
          fc.constantFrom(...TEXTS),
          fc.boolean(),
          (one, two, to, isSingle) => {
            const quoted =
              isSingle && language !== 'csharp'
                ? `'${JSON.stringify(one).slice(1, -1).replace(/'/g, "\\'").replace(/\\"/g, '"')}'`
                : JSON.stringify(one);
            const text = CODE[language](quoted, JSON.stringify(two));
            const start = text.search(/find/i);
            const range = linesOf(text).range(start, text.indexOf('\n', start));
            const after = written(text, language, { is: 'replace', range, from: one, to });
            tried++;
            if (after === undefined) return;
            done++;
            const before = textsOf(text, language);
            const now = textsOf(after, language);
            const context = `“${one}” → “${to}”\n${text}\nbecame\n${after}`;
            expect(now.length).withContext(context).toBe(before.length);
            const other = now.filter((value, at) => value !== before[at]);
            expect(other)
              .withContext(context)
              .toEqual(one === to ? [] : [jasmine.any(String)]);
            if (one !== to)
              expect(other[0] === to || other[0] === two.replace(one, to))
                .withContext(context)
                .toBeTrue();
          },
        ),
        { numRuns: 300 },
      );
      expect(done / tried).toBeGreaterThan(0.5);
    });
  }
});

/** The texts that stand in the calls of a script. */
function textsOf(text: string, language: Language): string[] {
  const found: string[] = [];
  JSON.stringify(LANGUAGE[language].read(text), (_, value: { is?: string; value?: string } | null) => {
    if (value?.is === 'text') found.push(value.value ?? '');
    return value;
  });
  return found;
}
