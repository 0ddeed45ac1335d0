/** Wires saved in files: ends that lead nowhere, objects that can do nothing, handlers elsewhere than on the object. */
import { plain } from '../../model/finding.js';
import { nameOf } from '../../model/graph.js';
import { PLAN, carrier, scanWith, scene, script, useGrammars, type Files } from '../../testing/project.js';

const told = ({ findings }: ReturnType<typeof scanWith>): string[] =>
  findings
    .filter(({ check }) => check.startsWith('broken/'))
    .map(({ check, sentence, evidence: [{ file, range }], repairs }) =>
      [check, plain(sentence), `@ ${file}:${range.line}`, `→ ${repairs[0].title}`].join(' '),
    );

const ENGINE = { ...PLAN.engine, types: ['Behaviour'], members: ['body', 'hide'] };
const wired = (wire: object, files: Files = {}, changes: object = {}): string[] =>
  told(
    scanWith(
      {
        'scripts/bell.ts': script('Bell', '', 'toll() { this.body.rise(); }'),
        'scenes/a.json': {
          ...scene(carrier('Tower', 'bell.ts', { id: 'tower' }), { name: 'Quay', id: 'quay' }),
          wires: [{ when: 'noon', ...wire }],
        },
        ...files,
      },
      { ...PLAN, engine: ENGINE, ...changes },
    ),
  );

describe('the ends of a wire', () => {
  beforeAll(useGrammars);

  const cases: { it: string; wire: object; files?: Files; changes?: object; told?: string }[] = [
    { it: 'are there', wire: { from: '#quay', to: '#tower', do: 'toll' } },
    {
      it: 'name a sender that is not there',
      wire: { from: '#quai', to: '#tower', do: 'toll' },
      told: 'broken/missing-object a refers to quai; its file has nothing of that name or identity @ scenes/a.json:21 → Write “quay”',
    },
    {
      it: 'name a listener that is not there',
      wire: { from: '#quay', to: '#towre', do: 'toll' },
      told: 'broken/missing-object a refers to towre; its file has nothing of that name or identity @ scenes/a.json:22 → Write “tower”',
    },
    {
      it: 'name what another file has',
      wire: { to: '#mill', do: 'toll' },
      files: { 'scenes/b.json': scene({ name: 'Mill', id: 'mill' }) },
    },
    {
      it: 'end on an object without any script',
      wire: { to: '#quay', do: 'toll' },
      told: 'broken/stale-value The wire from noon calls toll() on a / Quay, which carries no script @ scenes/a.json:22 → Rewire or remove',
    },
    { it: 'end on an object that does what the engine brings', wire: { to: '#quay', do: 'hide' } },
    {
      it: 'end on an object without any script, and nobody says what the engine brings',
      wire: { to: '#quay', do: 'toll' },
      changes: { engine: PLAN.engine },
    },
    {
      it: 'end on an object that code may attach such a script to',
      wire: { to: '#quay', do: 'toll' },
      files: { 'scripts/rig.ts': script('Rig', 'this.body.attach(Bell);') },
      changes: { calls: [...PLAN.calls, { call: '*.attach($type)', means: 'attach' }] },
    },
    { it: 'end on an object and call nothing', wire: { to: '#quay' } },
  ];
  for (const one of cases)
    it(one.it, () => {
      expect(wired(one.wire, one.files, one.changes)).toEqual(one.told ? [one.told] : []);
    });

  it('that lead nowhere neither send nor listen', () => {
    const { linked } = scanWith(
      {
        'scenes/a.json': {
          ...scene({ name: 'Quay', id: 'quay' }),
          wires: [
            { when: 'noon', from: '#quai' },
            { when: 'dusk', to: '#quai', do: 'x' },
          ],
        },
      },
      PLAN,
    );
    expect(linked.events.map(({ name, senders, listeners }) => [name, senders.length, listeners.length])).toEqual([
      ['noon', 0, 0],
      ['dusk', 0, 0],
    ]);
  });
});

describe('the handler of a wire, with a place where it is looked for', () => {
  beforeAll(useGrammars);

  const plan = (target: object): object => {
    const wires = { ...PLAN.files.scenes.events.wires, target };
    return { files: { ...PLAN.files, scenes: { ...PLAN.files.scenes, events: { wires } } } };
  };
  const inScript = plan({ by: 'function', in: 'holder', holder: { field: '$.code', by: 'path' } });

  it('is found in the script that a field names', () => {
    const wire = { to: '#quay', code: 'scripts/bell.ts' };
    expect(wired({ ...wire, do: 'toll' }, {}, inScript)).toEqual([]);
    expect(wired({ ...wire, do: 'tol' }, {}, inScript)).toEqual([
      'broken/missing-call a / Quay calls tol() by its name, and it is not there; there is toll() @ scenes/a.json:23 → Write “toll”',
    ]);
  });

  it('is found in the whole project, and listens there', () => {
    const { linked } = scanWith(
      {
        'scripts/bell.py': 'class Bell(Behaviour):\n    def toll(self):\n        bells.ring("rung")\n',
        'scenes/a.json': { ...scene({ name: 'Quay', id: 'quay' }), wires: [{ when: 'noon', to: '#quay', do: 'toll' }] },
      },
      { ...PLAN, ...plan({ by: 'function', in: 'project' }) },
    );
    const noon = linked.events.find(({ name }) => name === 'noon');
    expect(noon?.listeners.map(({ piece }) => nameOf(linked.graph, piece))).toEqual(['Bell']);
    expect(linked.storyOf('noon', 'forward').map(({ what }) => what)).toContain('rung');
  });
});
