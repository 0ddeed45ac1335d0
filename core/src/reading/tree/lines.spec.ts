/** Texts of the team's own, read line by line: what they are as trees, and that places are exact. */
import type { LinesForm } from '../plan/plan.js';
import { PLAN, scanWith } from '../../testing/project.js';
import { member, plainValue, type TreeNode } from './node.js';
import { readByLines } from './read-tree.js';

const form = (kinds: Record<string, object>, more: object = {}): LinesForm =>
  ({
    kinds: Object.fromEntries(Object.entries(kinds).map(([name, kind]) => [name, { holds: false, ...kind }])),
    ...more,
  }) as LinesForm;
const PAIR = { pattern: '^\\s*(?<key>\\w+)\\s*=\\s*(?<value>.*)$' };
const cases: { it: string; text: string; form: LinesForm; is: unknown }[] = [
  {
    it: 'a list',
    text: 'rope hemp 12\nrope wire 30\n',
    form: form({ ropes: { pattern: '^rope (?<id>\\w+) (?<length>\\d+)$' } }),
    is: {
      ropes: [
        { id: 'hemp', length: '12' },
        { id: 'wire', length: '30' },
      ],
    },
  },
  {
    it: 'keys and values',
    text: 'tide = 3\r\nport = low\r\n',
    form: form({ pair: PAIR }),
    is: { tide: '3', port: 'low' },
  },
  {
    it: 'sections that end where the next begins',
    text: '* Hull\nmost = 4\n* Crane\nmost = 9\n',
    form: form({ things: { pattern: '^\\* (?<name>.+)$', holds: true }, pair: PAIR }),
    is: {
      things: [
        { name: 'Hull', most: '4' },
        { name: 'Crane', most: '9' },
      ],
    },
  },
  {
    it: 'blocks within blocks, each up to its end',
    text: 'boat Tender\n part Hull\n  most = 4\n end\n most = 9\nend\nboat Raft\nend\n',
    form: form({
      boats: { pattern: '^\\s*boat (?<name>\\w+)', until: '^\\s*end' },
      parts: { pattern: '^\\s*part (?<name>\\w+)', until: '^\\s*end' },
      pair: PAIR,
    }),
    is: { boats: [{ name: 'Tender', parts: [{ name: 'Hull', most: '4' }], most: '9' }, { name: 'Raft' }] },
  },
  {
    it: 'sections within a block, which ends them',
    text: 'boat Tender\n* Hull\nmost = 4\nend\nlast = 1\n',
    form: form({
      boats: { pattern: '^boat (?<name>\\w+)', until: '^end' },
      parts: { pattern: '^\\* (?<name>\\w+)', holds: true },
      pair: PAIR,
    }),
    is: { boats: [{ name: 'Tender', parts: [{ name: 'Hull', most: '4' }] }], last: '1' },
  },
  {
    it: 'lines that hold what stands further in',
    text: 'Flight\n  Lock\n    Gate\n  Weir\nBasin\n',
    form: form({ things: { pattern: '^\\s*(?<name>\\w+)' } }, { nested: 'indent' }),
    is: {
      things: [
        { name: 'Flight', things: [{ name: 'Lock', things: [{ name: 'Gate' }] }, { name: 'Weir' }] },
        { name: 'Basin' },
      ],
    },
  },
  {
    it: 'no comments, and nothing that no kind is for',
    text: '# rope old 1\n\nrope hemp 12\nwhatever\n',
    form: form({ ropes: { pattern: '^(# )?rope (?<id>\\w+)' } }, { skip: '^#' }),
    is: { ropes: [{ id: 'hemp' }] },
  },
];

describe('texts of the team’s own', () => {
  for (const { it: words, text, form: own, is } of cases)
    it(`are read line by line: ${words}`, () => expect(plainValue(readByLines(text, own).documents[0])).toEqual(is));

  it('keep where each key and value stands', () => {
    const text = 'rope  hemp\r\n  tide = low water\r\n';
    const own = form({ ropes: { pattern: '^rope +(?<id>\\w+)' }, pair: PAIR });
    const [root] = readByLines(text, own).documents;
    const [rope] = member(root, 'ropes')!.children;
    const placed = ({ start, end }: TreeNode): string => text.slice(start, end);
    const tide = member(root, 'tide')!;
    expect([placed(member(rope, 'id')!), placed(tide), text.slice(tide.keyStart, tide.keyEnd)]).toEqual([
      'hemp',
      'low water',
      'tide',
    ]);
  });

  it('say that they are nested too deeply instead of failing', () => {
    const text = Array.from({ length: 1000 }, (_, at) => `${' '.repeat(at)}a`).join('\n');
    const { documents, problems } = readByLines(text, form({ all: { pattern: '(?<name>a)' } }, { nested: 'indent' }));
    expect([documents.length, problems.length]).toEqual([0, 1]);
  });

  it('give pieces and references as any format does, and are told where they lead nowhere', () => {
    const plan = (id: string): object => ({
      ...PLAN,
      files: {
        ropes: {
          match: 'data/*.ropes',
          as: 'data asset',
          format: 'lines',
          lines: { kinds: { ropes: { pattern: '^rope (?<id>\\w+)( like (?<like>\\w+))?$' } } },
          pieces: { ropes: { at: '$.ropes[*]', kind: 'record', id: '$.id' } },
          references: { like: { at: '$.ropes[*].like', by: 'id' } },
        },
      },
      name: id,
    });
    const told = (like: string): string[] =>
      scanWith({ 'data/all.ropes': `rope hemp\nrope tarred like ${like}\n` }, plan('x')).findings.map(
        ({ check, evidence }) => `${check} ${evidence[0].range.line}:${evidence[0].range.column}`,
      );
    expect(told('hemp')).toEqual([]);
    expect(told('hmep')).toEqual(['broken/missing-object 2:18']);
  });

  it('may be tables whose first line is no head', () => {
    const files = { 'data/tides.csv': 'hemp,3\nwire,hmep\n' };
    const data = {
      match: 'data/*.csv',
      as: 'data asset',
      columns: ['id', 'like'],
      pieces: { rows: { at: '$[*]', kind: 'record', id: '$.id' } },
      references: { like: { at: '$[*].like', by: 'id', pattern: '^[a-z]+$' } },
    };
    const { findings } = scanWith(files, { ...PLAN, files: { data } });
    expect(findings.map(({ check, evidence }) => `${check} ${evidence[0].range.line}`)).toEqual([
      'broken/missing-object 2',
    ]);
  });
});
