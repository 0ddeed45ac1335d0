import { plain } from '../model/finding.js';
import { carrier, scan, scanWith, script, told, useGrammars, type Files } from '../testing/project.js';

/** The engine's own base type, of which the plan says what it can do. */
const ENGINE = { engine: { types: ['Behaviour'], members: ['part', 'child', 'holder', 'show*'], parts: ['Body'] } };

const found = (check: string, files: Files, changes: object = ENGINE): string[] => told(scan(files, changes), check);

describe('broken/missing-member', () => {
  beforeAll(useGrammars);
  const check = 'broken/missing-member';
  const office = 'export class Office extends Behaviour { taken = 0; private pence = 0; close() {} }';
  const using = (code: string, more = office): Files => ({
    'scripts/office.ts': more,
    'scripts/stile.ts': `import { Office } from './office'; export class Stile extends Behaviour { office: Office; begin() { ${code} } }`,
  });

  it('fires on a field that the declared type does not have, and names the nearest', () => {
    expect(found(check, using('this.office.takken += 1;'))).toEqual([
      'Stile sets takken of Office, which has no such member; there is taken @ scripts/stile.ts:1',
    ]);
  });
  it('fires on a part that was asked for by its type', () => {
    expect(found(check, using('this.holder.part(Office).open();'))).toEqual([
      'Stile calls open of Office, which has no such member @ scripts/stile.ts:1',
    ]);
  });
  it('warns of members that a type keeps for itself', () => {
    const analysis = scan(using('show(this.office.pence);'), ENGINE);
    expect(told(analysis, check)).toEqual([
      'Stile reads pence of Office, which keeps it for itself @ scripts/stile.ts:1',
    ]);
    expect(analysis.findings.find((finding) => finding.check === check)!.severity).toBe('warning');
  });
  it('fires where a parent of the type was looked through, too', () => {
    const child = 'export class Base extends Behaviour { a = 1 } export class Office extends Base { b = 2 }';
    expect(found(check, using('this.office.c();', child)).length).toBe(1);
  });
  it('fires on a field set on the script of a spawned prefab, and says of which', () => {
    const plan = {
      ...ENGINE,
      calls: [{ call: 'spawnFrom($path)', means: 'spawn', gives: 'script' }],
    };
    const files = (code: string): Files => ({
      'scripts/crate.ts': 'export class Crate extends Behaviour { tonnes = 1; }',
      'prefabs/crate.json': { objects: [carrier('Crate', 'crate.ts')] },
      'scripts/crane.ts': `export class Crane extends Behaviour { begin() { const crate = spawnFrom('prefabs/crate.json'); ${code} } }`,
    });
    expect(found(check, files('crate.tons = 3;'), plan)).toEqual([
      'Crane sets tons of what it spawns from crate, whose script Crate has no such member @ scripts/crane.ts:1',
    ]);
    expect(found(check, files('crate.tonnes = 3; crate.show();'), plan)).toEqual([]);
    const loose = { ...plan, calls: [{ call: 'spawnFrom($path)', means: 'spawn' }] };
    expect(found(check, files('crate.tons = 3;'), loose)).toEqual([]);
  });

  it('fires on members of what a list holds: in a loop, by its place, in a function that is handed each', () => {
    const lists = (files: Files, language: string, ending: string): string[] =>
      scanWith(files, {
        files: {},
        scripts: { all: { match: `*.${ending}`, language } },
        house: { unattached: 'fine' },
      })
        .findings.filter((one) => one.check === 'broken/missing-member')
        .map(({ sentence }) => plain(sentence).replace(/, which.*/, ''));
    const boat = 'export class Boat { speed = 1; stop() {} }';
    const begin = (code: string): Files => ({
      'boat.ts': boat,
      'own.ts': `export class Own { boats: Boat[] = []; more: Array<Boat> = []; begin(all: readonly Boat[]) { ${code} } }`,
    });
    expect(lists(begin('for (const b of this.boats) { b.spede = 3; b.speed = 2; }'), 'typescript', 'ts')).toEqual([
      'Own sets spede of Boat',
    ]);
    expect(lists(begin('this.more.forEach((b) => b.sped());'), 'typescript', 'ts')).toEqual(['Own calls sped of Boat']);
    expect(lists(begin('this.boats[0].stopp(); this.boats.length; all.push(1);'), 'typescript', 'ts')).toEqual([
      'Own calls stopp of Boat',
    ]);
    expect(lists(begin('for (const b of all) b.stopp();'), 'typescript', 'ts')).toEqual(['Own calls stopp of Boat']);
    expect(
      lists(
        {
          'Boat.cs': 'class Boat { public float speed; public void Stop() {} }',
          'Own.cs':
            'class Own { List<Boat> boats; Boat[] more; void Begin() { foreach (var b in boats) b.Stopp(); more[0].Stop(); } }',
        },
        'csharp',
        'cs',
      ),
    ).toEqual(['Own calls Stopp of Boat']);
    expect(
      lists(
        {
          'boat.py': 'class Boat:\n  def stop(self):\n    pass\n',
          'own.py':
            'class Own:\n  boats: list[Boat] = []\n  def begin(self):\n    for b in self.boats:\n      b.stopp()\n',
        },
        'python',
        'py',
      ),
    ).toEqual(['Own calls stopp of Boat']);
  });

  const silent: [string, Files, object?][] = [
    ['the type has the member', using('this.office.taken = 1; this.office.close();')],
    [
      'a parent has it',
      using('this.office.a = 1;', 'export class Base extends Behaviour { a = 1 } export class Office extends Base {}'),
    ],
    ['the engine’s base type brings it', using('this.office.showAll();')],
    ['a parent is not known', using('this.office.nothing();', 'export class Office extends Elsewhere {}')],
    ['the plan does not say what the engine’s type can do', using('this.office.nothing();'), {}],
    [
      'it is a list of the type',
      {
        'scripts/office.ts': 'export class Office extends Behaviour { close() {} }',
        'scripts/a.ts':
          'export class A { offices: Office[] = []; begin() { const mine: Office[] = []; mine.push(1); this.offices.push(2); } }',
      },
    ],
    ['the type is an interface', using('this.office.nothing();', 'export interface Office { taken: number }')],
    ['two types have that name', { ...using('this.office.nothing();'), 'scripts/other.ts': 'export class Office {}' }],
    [
      'a global service has it',
      {
        'scripts/clock.ts': 'export class Clock { hour = 1; }',
        'scripts/a.ts': 'export class A { begin() { clock.hour = 2; } }',
      },
      { ...ENGINE, globals: { clock: 'Clock' } },
    ],
    [
      'the language lets code add members, and some code does',
      {
        'scripts/office.py': 'class Office:\n  def close(self):\n    pass\n',
        'scripts/b.py': 'class B:\n  def begin(self, office: Office):\n    office.bell = 1\n    use(office.bell)\n',
      },
    ],
    [
      'the type answers to any name',
      {
        'scripts/office.py': 'class Office:\n  def __getattr__(self, name):\n    return 1\n',
        'scripts/b.py': 'class B:\n  def begin(self, office: Office):\n    office.anything()\n',
      },
    ],
  ];
  for (const [when, files, changes] of silent)
    it(`is silent when ${when}`, () => expect(found(check, files, changes ?? ENGINE)).toEqual([]));

  it('knows a global service by the type that the plan gives it', () => {
    const files: Files = {
      'scripts/clock.ts': 'export class Clock { hour = 1; }',
      'scripts/a.ts': 'export class A { begin() { clock.hours = 2; } }',
    };
    expect(found(check, files, { ...ENGINE, globals: { clock: 'Clock' } })).toEqual([
      'A sets hours of Clock, which has no such member; there is hour @ scripts/a.ts:1',
    ]);
  });
});

describe('members in languages that let code add them', () => {
  beforeAll(useGrammars);
  const office = (use: string, more = ''): string[] =>
    scan(
      {
        'scripts/office.py': `class Office:\n  def restart_prompt(self):\n    pass\n  def close(self):\n    ${use}\n${more}`,
      },
      ENGINE,
    ).findings.map(({ check }) => check);

  it('are missed only when they differ by one letter from one that is there, and stand nowhere else', () => {
    expect(office('self.restart_promt()')).toEqual(['broken/missing-call']);
    expect(office('use(self.restart_promt)')).toEqual(['broken/missing-member']);
    expect(office('self.something_else()')).toEqual([]);
    expect(office('self.restart_promt()', 'class Other:\n  def restart_promt(self):\n    pass\n')).toEqual([]);
    expect(office('self.restart_promt()', "add('restart_promt')\n")).toEqual([]);
  });
  it('are known when several are set at once', () => {
    expect(office('self.restart_pompt, self.b = 1, 2\n    use(self.restart_pompt)')).toEqual([]);
  });
});

describe('members of types that keep some of their names to themselves', () => {
  beforeAll(useGrammars);
  const using = (type: string, use: string, more: Files = {}): string[] =>
    found('broken/missing-member', {
      'scripts/office.ts': type,
      'scripts/b.ts': `import { Office } from './office'; class B { begin(office: Office) { ${use} } }`,
      ...more,
    });

  it('are not judged: computed names, any name at all, a parent of the same name, a type from outside', () => {
    expect(using('export class Office { a = 1 }', 'office.b();').length).toBe(1);
    expect(using('export class Office { [key: string]: unknown }', 'office.b();')).toEqual([]);
    expect(using("export class Office { ['b' + 1]() {} }", 'office.b();')).toEqual([]);
    expect(using('export class Office extends lib.Office {}', 'office.b();')).toEqual([]);
    const outside = {
      'scripts/b.ts': "import { Office } from 'lib'; class B { begin(office: Office) { office.b(); } }",
    };
    expect(using('export class Office {}', '', outside)).toEqual([]);
  });
  it('are known where C# has them: events, types inside, records', () => {
    const plan = { ...ENGINE, scripts: { cs: { match: 'scripts/*.cs', language: 'csharp' } } };
    const files = (use: string): Files => ({
      'scripts/Gate.cs':
        'public class Gate { public event Action Opened; public enum Mode { Open } } public record Sill(int Depth);',
      'scripts/B.cs': `class B { void begin(Gate gate, Sill sill) { ${use} } }`,
    });
    expect(found('broken/missing-member', files('gate.Opened += handler; use(sill.Depth);'), plan)).toEqual([]);
    expect(found('broken/missing-member', files('gate.Closed();'), plan).length).toBe(1);
  });
});

describe('broken/missing-call', () => {
  beforeAll(useGrammars);
  const check = 'broken/missing-call';
  const wheel = (code: string): Files => ({ 'scripts/wheel.ts': script('Wheel', code, 'squeak() {}') });

  it('fires on a function of its own that the type does not have', () => {
    expect(found(check, wheel('this.sqeak();'))).toEqual([
      'Wheel calls sqeak() on itself, and neither it nor its parents have it; there is squeak() @ scripts/wheel.ts:4',
    ]);
  });
  it('fires on a handler that is not there', () => {
    expect(found(check, wheel("bells.hear('a', this.onBell);")).length).toBe(1);
  });
  it('fires on a bare function that no script defines, where the plan names those of the engine', () => {
    const plan = { engine: { ...ENGINE.engine, functions: ['play*'] } };
    const files: Files = {
      'scripts/a.lua': 'function raise(gate) end',
      'scripts/b.lua': 'function lower(gate) rase(gate) print(gate) playSound("x") raise(gate) end',
    };
    const lua = { scripts: { lua: { match: 'scripts/*.lua', language: 'lua' } } };
    expect(found(check, files, { ...plan, ...lua })).toEqual([
      'b calls rase(), which no script defines; there is raise() @ scripts/b.lua:1',
    ]);
    expect(found(check, files, { ...ENGINE, ...lua })).toEqual([]);
  });

  const silent: [string, Files][] = [
    ['the type has the function', wheel('this.squeak();')],
    ['it was given to the type as a field', { 'scripts/a.ts': script('A', 'this.after();', 'after = () => 1;') }],
    ['the engine brings it', wheel('this.show();')],
    ['a parent is not known', { 'scripts/a.ts': 'class A extends Elsewhere { begin() { this.after(); } }' }],
    ['the function is a parameter', { 'scripts/a.py': 'class A:\n  def begin(self, after):\n    after()\n' }],
  ];
  for (const [when, files] of silent) it(`is silent when ${when}`, () => expect(found(check, files)).toEqual([]));
});

describe('broken/file-type-mismatch', () => {
  beforeAll(useGrammars);
  const check = 'broken/file-type-mismatch';
  const named = (path: string, text: string, typeNamed: string | undefined): string[] =>
    told(
      scanWith({ [path]: text }, { scripts: { ts: { match: '**/*.ts', language: 'typescript', typeNamed } } }),
      check,
    );

  it('fires when no type in the file is named after it', () => {
    expect(named('toll/toll-book.ts', 'class Ledger {}', 'pascal')).toEqual([
      'toll/toll-book.ts holds the type Ledger; by the rule of the house it would be TollBook @ toll/toll-book.ts:1',
    ]);
  });
  it('says when only capitals differ', () => {
    expect(named('tollbook.ts', 'class TollBook {}', 'same')).toEqual([
      'tollbook.ts holds the type TollBook; by the rule of the house it would be tollbook, which differs only in capitals @ tollbook.ts:1',
    ]);
  });
  const silent: [string, string, string, string | undefined][] = [
    ['the house has no such rule', 'a.ts', 'class B {}', undefined],
    ['the name is as the rule has it', 'toll-book.server.ts', 'class TollBook {}', 'pascal'],
    ['one of several types has it', 'toll-book.ts', 'class Page {} class TollBook {}', 'pascal'],
    ['only letters and digits count, and they agree', 'toll_book.ts', 'class Tollbook {}', 'letters'],
    ['the file declares no type', 'a.ts', 'export const DEPTH = 3;', 'same'],
  ];
  for (const [when, path, text, naming] of silent)
    it(`is silent when ${when}`, () => expect(named(path, text, naming)).toEqual([]));
});
