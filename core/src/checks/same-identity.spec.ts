import { scanWith, told, type Files } from '../testing/project.js';

const ROWS = { at: '$.rows[*]', kind: 'record', id: '$.id', named: '$.name' };
const WANTS = { wants: { at: '$.wants[*]', by: 'id' } };
const table = (...ids: string[]): object => ({ rows: ids.map((id, at) => ({ id, name: `Row ${at + 1}` })) });
const found = (files: Files, more: object = {}): string[] =>
  told(
    scanWith(files, {
      files: {
        packs: { match: '**/pack.json', as: 'package', id: '$.id' },
        ropes: { match: '**/ropes*', as: 'data asset', pieces: { rows: ROWS } },
        tides: { match: '**/tides*', as: 'data asset', pieces: { rows: ROWS, more: { ...ROWS, at: '$.more[*]' } } },
        users: { match: '**/users*', as: 'data asset', references: WANTS, ...more },
      },
    }),
    'broken/same-identity',
  );

describe('broken/same-identity', () => {
  it('fires on one identity twice in a file', () => {
    expect(found({ 'ropes.json': table('hemp', 'wire', 'hemp') })).toEqual([
      'hemp is the identity of two things, Row 1 and Row 3, in lines 5 and 13 of ropes.json @ ropes.json:5',
    ]);
    expect(found({ 'ropes.yaml': 'rows:\n  - id: hemp\n  - id: hemp\n' }).length).toBe(1);
  });
  it('tells three of one identity once', () => {
    expect(found({ 'ropes.json': table('hemp', 'hemp', 'hemp') }).length).toBe(1);
  });
  it('fires on one identity in two files to which a third one refers', () => {
    const files = { 'ropes-a.json': table('hemp'), 'ropes-b.json': table('hemp'), 'users.json': { wants: ['hemp'] } };
    expect(found(files)).toEqual([
      'hemp is the identity of two things, Row 1 and Row 1, in ropes-a.json and ropes-b.json @ ropes-a.json:5',
    ]);
  });

  const two: Files = { 'ropes-a.json': table('hemp'), 'ropes-b.json': table('hemp') };
  const silent: [string, Files, object?][] = [
    ['identities differ', { 'ropes.json': table('hemp', 'wire') }],
    ['nobody refers to the one in two files', two],
    [
      'what refers to it counts in its own file alone',
      { ...two, 'users.json': { wants: ['hemp'] } },
      {
        references: { wants: { ...WANTS.wants, within: 'file' } },
      },
    ],
    [
      'two rules find it',
      { 'ropes.json': table('hemp'), 'tides.json': table('hemp'), 'users.json': { wants: ['hemp'] } },
    ],
    ['two rules for one file find it', { 'tides.json': { ...table('ebb'), more: [{ id: 'ebb' }] } }],
    [
      'two packages have it, which is a clash of their names',
      {
        'one/pack.json': { id: 'one' },
        'two/pack.json': { id: 'two' },
        'one/ropes.json': table('hemp'),
        'two/ropes.json': table('hemp'),
        'users.json': { wants: ['hemp'] },
      },
    ],
    ['it stands for what is written elsewhere', { 'ropes.yaml': 'rows:\n  - &h { id: hemp }\n  - *h\n' }],
  ];
  for (const [when, files, more] of silent) it(`is silent when ${when}`, () => expect(found(files, more)).toEqual([]));
});
