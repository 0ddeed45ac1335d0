/** Linking only what changed must come to the same as linking everything. */
import fc from 'fast-check';
import { runChecks } from '../checks/registry.js';
import { kindOf, titleOf } from '../model/graph.js';
import { plain } from '../model/finding.js';
import { GRIPS, VERBS } from '../model/link.js';
import type { FileFacts } from '../reading/facts.js';
import type { Plan } from '../reading/plan/plan.js';
import { ruleFor } from '../reading/read-structured.js';
import { packFacts, unpackFacts } from '../reading/wire.js';
import { readinessOf } from '../readiness/readiness.js';
import { carrier, factsOf, PLAN, planOf, scene, useGrammars, type Files } from '../testing/project.js';
import { factsOfText, sampleFiles } from '../testing/sample.js';
import { linkFacts } from './link.js';
import type { Linked } from './linked.js';
import { createLinker } from './relink.js';

/** Facts that point to others by their position, and the file itself: these cannot be changed by themselves. */
const POSITIONS = new Set(
  'file rule kind language verb grip scope is type function operation piece part parent index adds spawned body'.split(
    ' ',
  ),
);
/** Lists that nothing points into. */
const LISTS = new Set(
  'references events connections attachments literals constants mentions uses strangers touches flagUses fieldReads memberReads memberWrites tableKeys tables imports fieldValues'
    .split(' ')
    .map((name) => (['references', 'events', 'connections', 'attachments'].includes(name) ? name : `script.${name}`)),
);

/** The same facts with another value at the end of a way. */
function withValue(facts: FileFacts, way: (string | number)[], value: unknown): FileFacts {
  const copy = structuredClone(facts);
  const last = way
    .slice(0, -1)
    .reduce<Record<string | number, unknown>>(
      (at, step) => at[step] as Record<string | number, unknown>,
      copy as unknown as Record<string | number, unknown>,
    );
  last[way[way.length - 1]] = value;
  return copy;
}

/** Everything that somebody could see of a linked project, in an order of its own. */
function seen(linked: Linked): Record<string, unknown> {
  const { graph } = linked;
  const links = Array.from({ length: graph.linkCount }, (_, at) => {
    const { from, to, verb, grip, label, file, line, column, moment } = graph.links;
    const end = to[at] < 0 ? `? ${linked.losses.get(at)?.loss.wanted}` : titleOf(graph, to[at]);
    return `${titleOf(graph, from[at])} ${VERBS[verb[at]]} ${end} ${GRIPS[grip[at]]} ${graph.texts[label[at]]} ${moment[at]} ${graph.texts[file[at]]}:${line[at]}:${column[at]}`;
  });
  const pieces = Array.from({ length: graph.pieceCount }, (_, at) => at)
    .filter((at) => kindOf(graph, at) !== 'file')
    .map(
      (at) =>
        `${kindOf(graph, at)} ${titleOf(graph, at)} ${graph.texts[graph.pieces.file[at]]}:${graph.pieces.line[at]}`,
    );
  const findings = runChecks(linked);
  return {
    links: links.sort(),
    pieces: pieces.sort(),
    findings: findings
      .map(
        (finding) =>
          `${finding.fingerprint} ${plain(finding.sentence)} ${JSON.stringify(finding.evidence)} ${finding.places} ${finding.files.join(' ')} ${JSON.stringify(finding.repairs)}`,
      )
      .sort(),
    rules: [...linked.rules].map(([rule, count]) => `${rule} ${JSON.stringify(count)}`).sort(),
    mentions: [...linked.mentions].sort(),
    readiness: readinessOf(graph, findings).verdict,
  };
}

/** Scripts that rest on one another by more than their types: texts that any may name, fields that any may set. */
const SHARING: Files = {
  'scripts/names.ts': "export const CLEAT = 'Cleat';\nexport const RUNG = 'bell.rung';\n",
  'scripts/rope.ts': `export class Rope {
    begin() { stage.find(CLEAT).fasten(); stage.labelled('wet').dry(); stage.find('Crate').tie(); bells.hear(RUNG, this.ring); }
    ring() {}
  }`,
  'scripts/gate.ts': 'export class Gate { begin() { this.level = 1; } }',
  'scripts/wheel.ts': `export class Wheel {
    @slot gate: Gate;
    isStuck = false;
    begin() { if (this.isStuck && this.gate.level > 1) this.gate.begin(); }
  }`,
  'scripts/crane.ts': `export class Crane {
    begin() {
      const wheel = find();
      wheel.gate = this.part('Gate');
      wheel.isStuck = true;
      spawnFrom('prefabs/crate.json');
      bells.ring(RUNG);
    }
  }`,
  // Texts that a parent keeps in fields are what its children send, spawn and look for.
  'scripts/base.ts':
    "export class Base { bell = 'base.rung'; crate = 'prefabs/crate.json'; file = table('prefabs/float.json'); }",
  'scripts/child.ts': `export class Child extends Base {
    begin() { bells.ring(this.bell); spawnFrom(this.crate); spawnFrom(this.file); }
  }`,
  // What a parent and a helper do with what is handed to them.
  'scripts/reach.ts': 'export function reach(one, name) { one.child(name).turn(); }',
  'scripts/elder.ts': 'export class Elder { tell(event, name) { bells.ring(event); this.child(name).stop(); } }',
  'scripts/heir.ts': `import { reach } from './reach';
  export class Heir extends Elder { begin() { this.tell('base.rung', 'Clapper'); reach(this, 'Rope'); } }`,
  'scripts/boat-a.ts': 'export class Boat { float() {} }',
  'scripts/boat-b.ts': 'export class Boat { sink() {} }',
  'scripts/punt.ts': "import { Boat } from './boat-a';\nexport class Punt extends Boat {}",
  'scripts/raft.ts': "import { Boat } from './boat-b';\nexport class Raft extends Boat {}",
  'scripts/quay.ts': 'export class Quay { punt: Punt; raft: Raft; begin() { this.punt.float(); this.raft.sink(); } }',
  // What fills a slot is the event that is sent.
  'scripts/gong.ts': 'export class Gong { @slot bell; begin() { this.bell.strike(); } }',
  'prefabs/crate.json': { objects: [{ name: 'Crate' }] },
  'prefabs/float.json': { objects: [{ name: 'Float' }] },
  'scripts/clock.ts': "export class Clock { onTick() { stage.find('Hook').swing(); } onHour() {} }",
  'scenes/quay.json': {
    ...scene(
      carrier('Rope', 'rope.ts', { id: 'rope' }),
      carrier('Wheel', 'wheel.ts'),
      carrier('Crane', 'crane.ts'),
      carrier('Quay', 'quay.ts'),
      carrier('Heir', 'heir.ts'),
      carrier('Child', 'child.ts'),
      carrier('Clock', 'clock.ts', { id: 'clock' }),
      carrier('Gong', 'gong.ts', {}, { bell: '#rope' }),
      { name: 'Cleat', labels: ['wet'] },
      { name: 'Crate 1', prefab: 'prefabs/crate.json', labels: ['dry'] },
      { name: 'Float 1', prefab: 'prefabs/float.json' },
    ),
    wires: [
      { when: 'tide.turned', from: '#rope', to: '#clock', do: 'onTick' },
      { when: 'tide.fell', from: '#rope', to: '#clock', do: 'onHour' },
    ],
  },
};

/**
 * What linking again compares, and what checks rest on, are lists kept by hand. So each kind of fact that stands in a
 * project is changed, in `most` places that chance has, and the outcome compared with a full run.
 */
function changeEach(all: FileFacts[], plan: Plan, most: number): { tried: number; isLocal: number } {
  const kinds = new Map<string, { fact: number; way: (string | number)[]; value: unknown }[]>();
  const gather = (fact: number, value: unknown, way: (string | number)[]): void => {
    const kind = way.map((step) => (typeof step === 'number' ? '[]' : step)).join('.');
    const last = [...way].reverse().find((step) => typeof step === 'string');
    if (last !== undefined && POSITIONS.has(last) && !Array.isArray(value)) return;
    if (typeof value !== 'object' || value === null || Array.isArray(value))
      kinds.set(kind, [...(kinds.get(kind) ?? []), { fact, way, value }]);
    if (Array.isArray(value)) value.forEach((one, at) => gather(fact, one, [...way, at]));
    else if (typeof value === 'object' && value !== null)
      for (const [key, one] of Object.entries(value)) gather(fact, one, [...way, key]);
  };
  all.forEach((fact, at) => gather(at, fact, []));
  /** Another value of the same kind; undefined where there is none that would not break what points to it. */
  const other = (kind: string, value: unknown, chance: number): unknown => {
    if (value === null || value === undefined) return undefined;
    if (typeof value === 'boolean') return !value;
    if (typeof value === 'number') return value + 1;
    if (Array.isArray(value)) return LISTS.has(kind) && value.length > 0 ? value.slice(1) : undefined;
    const others = kinds.get(kind)!.filter((one) => typeof one.value === 'string' && one.value !== value);
    const made = /\b(how|moment|side|to)$/.test(kind) ? undefined : `${String(value)}~`;
    return others.length > 0 ? others[chance % others.length].value : made;
  };
  const linker = createLinker();
  let isLocal = 0;
  let tried = 0;
  const chances = fc.sample(fc.nat({ max: 100_000 }), kinds.size);
  const changes = [...kinds].flatMap(([kind, places], at) => {
    const first = most < places.length ? chances[at] % places.length : 0;
    return places.slice(first, first + most).map((place) => ({ kind, ...place, chance: chances[at] }));
  });
  for (const { kind, fact, way, value, chance } of changes) {
    const changed = other(kind, value, chance);
    if (changed === undefined) continue;
    const first = linker.link([...all], [], plan);
    seen(first);
    const facts = all.map((one, index) => (index === fact ? withValue(one, way, changed) : one));
    const linked = linker.link(facts, [], plan);
    tried++;
    if (linked.losses === first.losses) isLocal++;
    const [mine, whole] = [seen(linked), seen(linkFacts(facts, [], plan))];
    for (const [part, found] of Object.entries(whole))
      expect(mine[part])
        .withContext(`${part}: ${all[fact].file} ${way.join('.')} = ${JSON.stringify(changed)}`)
        .toEqual(found);
  }
  return { tried, isLocal };
}

describe('linking what changed', () => {
  let plan: Plan;
  const texts = new Map<string, string>();

  beforeAll(async () => {
    await useGrammars();
    const sample = sampleFiles();
    plan = sample.plan;
    for (const [path, text] of sample.texts) if (ruleFor(plan, path)) texts.set(path, text);
  });

  const read = (path: string, text: string): FileFacts => factsOfText(plan, path, text)!;

  // Each edit is linked twice, in a project of some eighty files: half a minute on a slow machine.
  it('comes to the same as linking everything, edit after edit', () => {
    const words = [
      "'Cleat'",
      "'Hull'",
      "'Bollard'",
      "'Helm'",
      "'rope.tight'",
      "'bell.noon'",
      '"#uf-plate"',
      '"#uf-lock-3"',
      '"data/tides.yaml"',
      '"data/gone.yaml"',
      '"pictures/gate.svg"',
      'null',
      '42',
      'child',
      'holder',
      'begin',
    ];
    const edit = fc.record({
      file: fc.constantFrom(...texts.keys()),
      at: fc.nat({ max: 4000 }),
      what: fc.oneof(
        fc.constant({ insert: '\n' }),
        fc.record({ swap: fc.constantFrom(...words) }),
        fc.record({ swapFor: fc.constantFrom(...words) }),
      ),
    });
    /** Puts a word in the place of the next word of its kind. */
    const apply = (text: string, at: number, what: Record<string, string>): string => {
      if ('insert' in what) return what['insert'] + text;
      const word = what['swap'] ?? what['swapFor'];
      const kind = word.startsWith("'")
        ? /'[^'\n]*'/g
        : word.startsWith('"') || word === 'null' || word === '42'
          ? /(?<=: )("[^"\n]*"|null|\d+)/g
          : /\b[a-z]+\b/g;
      kind.lastIndex = at % Math.max(1, text.length);
      const found = kind.exec(text);
      return found ? text.slice(0, found.index) + word + text.slice(found.index + found[0].length) : text;
    };
    let isLocal = 0;
    fc.assert(
      fc.property(fc.array(edit, { minLength: 1, maxLength: 5 }), (edits) => {
        const now = new Map(texts);
        const linker = createLinker();
        let facts = [...now].map(([path, text]) => read(path, text));
        const first = linker.link(facts, [], plan);
        for (const { file, at, what } of edits) {
          now.set(file, apply(now.get(file)!, at, what));
          facts = facts.map((fact) => (fact.file === file ? read(file, now.get(file)!) : fact));
          const linked = linker.link(facts, [], plan);
          if (linked.losses === first.losses) isLocal++;
          const [mine, whole] = [seen(linked), seen(linkFacts(facts, [], plan))];
          for (const [part, value] of Object.entries(whole))
            expect(mine[part])
              .withContext(`${part} after ${file} ${at} ${JSON.stringify(what)}`)
              .toEqual(value);
        }
      }),
      { numRuns: Number(process.env['GLUE_FUZZ_RUNS'] ?? 60) },
    );
    // Were everything linked anew each time, this would say nothing.
    expect(isLocal).toBeGreaterThan(20);
  });

  // Some hundred and fifty kinds, each with a full run beside it: that takes a while.
  it('comes to the same whichever kind of fact changed in the sample', () => {
    const all = [...texts].map(([path, text]) => read(path, text));
    const { tried, isLocal } = changeEach(all, plan, 1);
    expect(tried).toBeGreaterThan(100);
    expect(isLocal).toBeGreaterThan(40);
  }, 120_000);

  // Every fact, and not one of each kind: there are some hundreds.
  it('comes to the same whichever fact changed of scripts that share names and set each other’s fields', () => {
    const shared = planOf({ calls: [...PLAN.calls, { call: '$event.strike()', means: 'send' }] });
    const { tried, isLocal } = changeEach(factsOf(SHARING, shared).facts, shared, 1000);
    expect(tried).toBeGreaterThan(100);
    expect(isLocal).toBeGreaterThan(40);
  });

  it('tells the ends of an event in the same order, whichever file was linked last', () => {
    const linker = createLinker();
    let facts = [...texts].map(([path, text]) => read(path, text));
    linker.link(facts, [], plan);
    const [path, text] = [...texts].find(([name]) => name === 'data/orders/morning.xml')!;
    facts = facts.map((fact) => (fact.file === path ? read(path, `\n${text}`.trimStart() + '\n') : fact));
    const heard = (linked: Linked): string[] =>
      linked.events.find((event) => event.name === 'bell.rung')!.listeners.map((end) => end.file);
    expect(heard(linker.link(facts, [], plan))).toEqual(heard(linkFacts(facts, [], plan)));
    expect(heard(linkFacts(facts, [], plan)).length).toBe(2);
  });

  it('takes facts that went through text and back as they were', () => {
    for (const [path, text] of texts) {
      const facts = read(path, text);
      expect(unpackFacts(packFacts(structuredClone(facts))))
        .withContext(path)
        .toEqual(JSON.parse(JSON.stringify(facts)) as FileFacts);
    }
  });

  it('links everything anew when files come or go, or the plan is another', () => {
    const linker = createLinker();
    const facts = [...texts].map(([path, text]) => read(path, text));
    const count = linker.link(facts, [], plan).graph.pieceCount;
    expect(linker.link(facts.slice(1), [], plan).graph.pieceCount).toBeLessThan(count);
    expect(linker.link(facts, ['x'], plan).graph.pieceCount).toBe(count);
    expect(linker.link(facts, ['x'], { ...plan }).plan).not.toBe(plan);
  });
});

it('a check that rests on data looks again when a table in code has changed', async () => {
  await useGrammars();
  const tables = {
    assigned: 'GOODS',
    pieces: { goods: { at: '$[*]', kind: 'record', id: '$.id', named: '$.name', space: 'goods' } },
  };
  const plan = planOf({ scripts: { ts: { match: 'scripts/*.ts', language: 'typescript', tables: { tables } } } });
  const linker = createLinker();
  const same = (name: string, id: string): number => {
    const code = `const GOODS = [{ id: 'coal', name: 'Coal' }, { id: '${id}', name: '${name}' }];`;
    const { facts, others } = factsOf({ 'scripts/a.ts': code }, plan);
    return runChecks(linker.link(facts, others, plan)).filter(({ check }) => check === 'broken/same-identity').length;
  };
  expect([same('Salt', 'salt'), same('Salt', 'coal'), same('Slate', 'coal'), same('Slate', 'slate')]).toEqual([
    0, 1, 1, 0,
  ]);
});
