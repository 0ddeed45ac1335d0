/** The way a look-up or a written way takes, asked for one link at a time. */
import { GRIPS, VERBS } from '../model/link.js';
import { nameOf, rangeOf } from '../model/graph.js';
import { carrier, scan, scene, script, useGrammars, type Files } from '../testing/project.js';

/** Each link from a part, with the way that it took. */
function walks(files: Files): string[] {
  const { linked } = scan(files);
  const { graph, walkAt } = linked;
  return Array.from({ length: graph.linkCount }, (_, link) => link).flatMap((link) => {
    const { from, file, verb, grip } = graph.links;
    const steps = walkAt(from[link], graph.texts[file[link]], rangeOf(graph.links, link));
    const told = steps.map(({ asks, finds }) => `${asks}: ${finds}`).join(', ');
    return told === '' ? [] : [`${nameOf(graph, from[link])} ${VERBS[verb[link]]} ${GRIPS[grip[link]]} = ${told}`];
  });
}

describe('the way of one link', () => {
  beforeAll(useGrammars);
  const rope = (code: string, slots: object = {}, more: object[] = []): Files => ({
    'scripts/rope.ts': script('Rope', code, '@slot to?: X; @slot table?: X;'),
    'scenes/a.json': scene({ name: 'Boat', objects: [carrier('Line', 'rope.ts', {}, slots), ...more] }),
    'data/tides.json': {},
  });

  it('of a look-up is walked from the object that carries the script', () => {
    expect(walks(rope("this.holder.child('Cleat').show();", {}, [{ name: 'Cleat' }])).sort()).toEqual([
      'Rope uses path = starts on: a / Boat / Line, one step up: a / Boat, child “Cleat”: a / Boat / Cleat',
    ]);
  });
  it('that code has from a parent type is walked in the parent’s script', () => {
    const files: Files = {
      ...rope(''),
      'scripts/line.ts': 'export class Base { begin() { this.holder.show(); } }',
      'scripts/rope.ts': 'export class Rope extends Base {}',
    };
    expect(walks(files)).toEqual(['Rope uses path = starts on: a / Boat / Line, one step up: a / Boat']);
  });
  it('written in a slot is walked, found or lost', () => {
    expect(walks(rope('', { to: '@../Cleat' }, [{ name: 'Cleat' }]))).toEqual([
      'Rope uses path = starts on: a / Boat / Line, one step up: a / Boat, child “Cleat”: a / Boat / Cleat',
    ]);
    expect(walks(rope('', { to: '@../Cleat' }, [{ name: 'Bollard' }]))).toEqual([
      'Rope uses lost = starts on: a / Boat / Line, one step up: a / Boat, child “Cleat”: not among: Line, Bollard',
    ]);
  });
  it('is none for what is named by identity or by path, and for what is carried', () => {
    expect(walks(rope('', { to: '#cleat', table: 'data/tides.json' }, [{ name: 'Cleat', id: 'cleat' }]))).toEqual([]);
  });
});

describe('a choice between texts', () => {
  beforeAll(useGrammars);
  const lost = (code: string): string[] =>
    scan({
      'scripts/names.ts': "export const CLEAT = 'Cleat';",
      'scripts/rope.ts': script('Rope', code),
      'scenes/a.json': scene(carrier('Line', 'rope.ts', { objects: [{ name: 'Cleat' }] })),
    })
      .findings.filter(({ check }) => check === 'broken/missing-object')
      .map(({ evidence: [{ range }] }) => String(range.line));

  it('is lost when all of them are, and not known when one is not', () => {
    expect(lost("this.child(this.x ? 'Post' : 'Pole').show();").length).toBe(1);
    expect(lost("this.child(this.x ? 'Cleat' : 'Pole').show();")).toEqual([]);
    expect(lost("this.child(this.x ? 'Post' : this.name).show();")).toEqual([]);
    expect(lost("this.child(this.x ? 'Post' : CLEAT).show();")).toEqual([]);
    expect(lost("this.child(this.x ? 'Post' : UNKNOWN).show();")).toEqual([]);
  });
});

describe('a piece named together with its file', () => {
  beforeAll(useGrammars);
  const asked = (inner: 'id' | 'name', text: string): string[] => {
    const plan = {
      files: {
        data: {
          match: 'data/*',
          as: 'data asset',
          pieces: { boats: { at: '$.boats[*]', kind: 'record', id: '$.id', named: '$.title' } },
          references: { next: { at: '$.next', by: 'path', pattern: '^(.+)!(.+)$', inner } },
        },
      },
    };
    const boats = [{ id: 'punt', title: 'Old Punt' }, { id: 'ferry' }, { title: 'Nameless' }];
    const { linked, findings } = scan(
      { 'data/one.json': { next: `data/boats.json!${text}` }, 'data/boats.json': { boats } },
      plan,
    );
    const found = [...linked.losses.values()].map(
      ({ loss }) => `${loss.wanted} ${loss.otherCapitals} ${loss.among.join()}`,
    );
    return found.length > 0 ? found : findings.map(({ check }) => check);
  };

  it('is looked for by what the plan says, and those that are there are told', () => {
    expect(asked('id', 'punt')).toEqual([]);
    expect(asked('name', 'Old Punt')).toEqual([]);
    expect(asked('id', 'barge')).toEqual(['barge  punt,ferry']);
    expect(asked('id', 'PUNT')).toEqual(['PUNT punt punt,ferry']);
    expect(asked('name', 'old punt')).toEqual(['old punt Old Punt Old Punt,Nameless']);
  });
});
