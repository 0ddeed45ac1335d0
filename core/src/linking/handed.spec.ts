/** What callers hand to functions of other files. */
import { createLinker } from './relink.js';
import { analyse } from '../analyse.js';
import { plain } from '../model/finding.js';
import { carrier, factsOf, PLAN, planOf, scan, scene, useGrammars, type Files } from '../testing/project.js';

const SCRIPTS = {
  ...Object.fromEntries(
    [
      ['typescript', 'ts'],
      ['javascript', 'js'],
      ['lua', 'lua'],
      ['csharp', 'cs'],
      ['python', 'py'],
    ].map(([language, ending]) => [
      language,
      { match: `scripts/*.${ending}`, language, moments: { start: ['begin'], everyFrame: [] } },
    ]),
  ),
};
const calls = [
  { call: '*.child($name)', means: 'child' },
  { call: 'bells.ring($event, ...)', means: 'send' },
  { call: 'bells.hear($event, $handler)', means: 'listen' },
];

function told(scripts: Files, own: string): string[] {
  const files = { ...scripts, 'scenes/a.json': scene(carrier('Boat', own, { objects: [{ name: 'Cleat' }] })) };
  return scan(files, { scripts: SCRIPTS, calls, house: { unattached: 'fine' } }).findings.map(
    ({ check, sentence, evidence: [{ file, range }] }) => `${check} ${plain(sentence)} @ ${file}:${range.line}`,
  );
}

const LOST = 'broken/missing-object Own on a / Boat looks for a child called Cleet; Boat has no such child';

describe('what is handed to functions of other files', () => {
  beforeAll(useGrammars);

  it('is looked for on the caller’s object, through what it has from a parent, in every language', () => {
    expect(
      told(
        {
          'scripts/base.ts': 'export class Base { take(name: string) { this.child(name).show(); } }',
          'scripts/own.ts': "export class Own extends Base {\n begin() { this.take('Cleet'); this.take('Cleat'); } }",
        },
        'own.ts',
      ),
    ).toEqual([`${LOST} @ scripts/own.ts:2`]);
    expect(
      told(
        {
          'scripts/base.cs': 'class Base { void Take(string name) { this.child(name); } }',
          'scripts/own.cs': 'class Own : Base {\n void begin() { Take("Cleet"); Take("Cleat"); } }',
        },
        'own.cs',
      ),
    ).toEqual([`${LOST} @ scripts/own.cs:2`]);
    expect(
      told(
        {
          'scripts/base.py': 'class Base:\n  def take(self, name):\n    self.child(name)\n',
          'scripts/own.py': 'class Own(Base):\n  def begin(self):\n    self.take("Cleet")\n    self.take("Cleat")\n',
        },
        'own.py',
      ),
    ).toEqual([`${LOST} @ scripts/own.py:3`]);
  });

  it('is followed through functions that were taken in, or stand in a table of their own', () => {
    expect(
      told(
        {
          'scripts/reach.ts': 'export function take(one, name) { one.child(name).show(); }',
          'scripts/own.ts':
            "import { take as grab } from './reach';\nexport class Own { begin() { grab(this, 'Cleet'); } }",
        },
        'own.ts',
      ),
    ).toEqual([`${LOST} @ scripts/own.ts:2`]);
    expect(
      told(
        {
          'scripts/reach.lua': 'local reach = {}\nfunction reach.take(one, name) one:child(name) end\nreturn reach\n',
          'scripts/own.lua':
            "local reach = require('reach')\nlocal Own = {}\nfunction Own:begin()\n  reach.take(self, 'Cleet')\nend\nreturn Own\n",
        },
        'own.lua',
      ),
    ).toEqual([`${LOST} @ scripts/own.lua:4`]);
  });

  it('is sent by the caller, through a helper that calls a helper', () => {
    expect(
      told(
        {
          'scripts/ring.ts': 'export function ring(event) { bells.ring(event); }',
          'scripts/base.ts': "import { ring } from './ring';\nexport class Base { tell(event) { ring(event); } }",
          'scripts/own.ts': "export class Own extends Base { begin() { this.tell('noon'); } }",
        },
        'own.ts',
      ),
    ).toEqual(['fragile/unheard noon is sent by Own and nobody listens @ scripts/own.ts:1']);
  });

  it('is followed on from a helper on the caller’s own type: a function of its own comes first', () => {
    const scripts = (more: string): Files => ({
      'scripts/base.ts': 'export class Base { take(name) { this.get(name); } get(name) { this.child(name).show(); } }',
      'scripts/mid.ts': 'export class Mid extends Base { reach(name) { this.take(name); } }',
      'scripts/own.ts': `export class Own extends Mid { begin() { this.reach('Cleet'); } ${more} }`,
    });
    expect(told(scripts(''), 'own.ts')).toEqual([`${LOST} @ scripts/own.ts:1`]);
    expect(told(scripts('take(name) {}'), 'own.ts')).toEqual([]);
  });

  it('is not followed where several functions may be meant, and what a helper does anyway is not the caller’s', () => {
    const own = "import { take } from 'lib';\nexport class Own { begin() { take(this, 'Cleet'); } }";
    const helper = 'export function take(one, name) { one.child(name).show(); }';
    expect(told({ 'scripts/a.ts': helper, 'scripts/b.ts': helper, 'scripts/own.ts': own }, 'own.ts')).toEqual([]);
    expect(
      told(
        {
          'scripts/base.ts': "export class Base { take(name) { bells.ring('noon'); this.child(name).show(); } }",
          'scripts/own.ts': "export class Own extends Base { begin() { this.take('Cleat'); } }",
        },
        'own.ts',
      ),
    ).toEqual(['fragile/unheard noon is sent by Base and nobody listens @ scripts/base.ts:1']);
  });

  it('is not missed where the caller may ask for what it is given back', () => {
    expect(
      told(
        {
          'scripts/base.ts':
            "export class Base { get(name) { return this.child(name); } wake() { this.get('Cleat').show(); } }",
          'scripts/own.ts':
            "export class Own extends Base { begin() { const one = this.get('Cleet'); if (one) one.show(); } }",
        },
        'own.ts',
      ),
    ).toEqual([]);
  });

  it('is linked again when the helper changes', () => {
    const plan = planOf({ ...PLAN, calls, scripts: SCRIPTS });
    const files = (code: string): Files => ({
      'scripts/base.ts': `export class Base { take(name) { ${code} } }`,
      'scripts/own.ts': "export class Own extends Base { begin() { this.take('Cleet'); } }",
      'scenes/a.json': scene(carrier('Boat', 'own.ts', { objects: [{ name: 'Cleat' }] })),
    });
    const [before, after] = [factsOf(files('this.child(name).show();'), plan), factsOf(files(''), plan)];
    const facts = before.facts.map((fact) =>
      fact.file === 'scripts/base.ts' ? after.facts.find(({ file }) => file === fact.file)! : fact,
    );
    const linker = createLinker();
    const lost = (some: typeof facts): number =>
      analyse(some, before.others, plan, linker).findings.filter(({ check }) => check === 'broken/missing-object')
        .length;
    expect([lost(before.facts), lost(facts), lost(before.facts)]).toEqual([1, 0, 1]);
  });
});
