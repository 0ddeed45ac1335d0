import { keyOf } from '../model/graph.js';
import { carrier, scan, scene, script, useGrammars } from '../testing/project.js';
import { viewFinding } from './finding-view.js';
import { searchPieces } from './search.js';
import { pieceByKey, tracePiece, type TracePage } from './trace.js';

const FILES = {
  'scripts/rope.ts': script('Rope', "this.holder.holder.child('Cleat').show(); bells.ring('rope.tight');"),
  'scripts/keeper.ts': script('Keeper', "bells.hear('rope.tight', this.hear);"),
  'prefabs/boat.json': {
    objects: [{ name: 'Boat', objects: [{ name: 'Cleat' }, { name: 'Stern', objects: [carrier('Line', 'rope.ts')] }] }],
  },
  'scenes/a.json': scene(
    { name: 'One', id: 'one', prefab: 'prefabs/boat.json' },
    { name: 'Two', prefab: 'prefabs/boat.json' },
    { name: 'Raft', objects: [{ name: 'Stern', objects: [carrier('Line', 'rope.ts')] }] },
    { name: 'Same/Name', objects: [{ name: 'x' }, { name: 'x' }] },
  ),
};

function page(key: string): TracePage {
  const { linked } = scan(FILES);
  return tracePiece(linked.graph, linked.losses, pieceByKey(linked.graph, key)!);
}

const lines = (groups: TracePage['reliesOn']): string[] =>
  groups.flatMap((group) =>
    group.lines.map((line) => `${line.link.verb} ${line.to?.title ?? `?${line.link.label}`} ×${line.placeCount}`),
  );

describe('trace', () => {
  beforeAll(useGrammars);

  it('shows a script with all objects that carry it, and each line with the objects it holds from', () => {
    const { runsOn, runsOnCount, heirCount, reliesOn } = page('type:scripts/rope.ts#Rope');
    expect(heirCount).toBe(0);
    expect(runsOnCount).toBe(3);
    expect(runsOn.map((object) => object.title).sort()).toEqual([
      'a / One / Stern / Line',
      'a / Raft / Stern / Line',
      'a / Two / Stern / Line',
    ]);
    expect(lines(reliesOn)).toEqual(
      jasmine.arrayWithExactContents(['uses a / One / Cleat ×2', 'uses ?Cleat ×1', 'sends rope.tight ×1']),
    );
  });

  it('counts the objects on which a type runs through those that descend from it', () => {
    const { linked } = scan({
      'scripts/boat.ts': 'export class Boat {}',
      'scripts/tug.ts': 'export class Tug extends Boat {}',
      'scripts/steam.ts': 'export class Steam extends Tug {}',
      'scenes/a.json': scene(carrier('One', 'tug.ts'), carrier('Two', 'steam.ts'), carrier('Three', 'steam.ts')),
    });
    const counts = ['boat.ts#Boat', 'tug.ts#Tug', 'steam.ts#Steam'].map((name) => {
      const { graph, losses } = linked;
      const { runsOnCount, heirCount } = tracePiece(graph, losses, pieceByKey(graph, `type:scripts/${name}`)!);
      return [runsOnCount, heirCount];
    });
    expect(counts).toEqual([
      [0, 3],
      [1, 2],
      [2, 0],
    ]);
  });

  it('says of a lost line how the walk went', () => {
    const lost = page('type:scripts/rope.ts#Rope')
      .reliesOn.flatMap((group) => group.lines)
      .find((line) => line.link.grip === 'lost')!;
    expect(lost.walk.map((step) => [step.asks, step.finds])).toEqual([
      ['starts on', 'a / Raft / Stern / Line'],
      ['one step up', 'a / Raft / Stern'],
      ['one step up', 'a / Raft'],
      ['child “Cleat”', 'not among: Stern'],
    ]);
    expect(lost.loss!.wanted).toBe('Cleat');
  });

  it('leads from an event to both of its ends', () => {
    const { reliedOnBy } = page('event:rope.tight');
    expect(reliedOnBy.map((group) => [group.verb, group.lines.map((line) => line.from.name)])).toEqual([
      ['sends', ['Rope']],
      ['listens to', ['Keeper']],
    ]);
  });

  it('shows an object with its parts’ links, what it holds and what it stands in', () => {
    const { within, holds, reliesOn } = page('object:scenes/a.json#Raft');
    expect(within.map((piece) => piece.name)).toEqual(['a']);
    expect(holds.map((piece) => piece.name)).toEqual(['Stern']);
    expect(reliesOn).toEqual([]);
    expect(lines(page('object:scenes/a.json#One/Stern/Line').reliesOn)).toEqual([
      'runs Rope ×1',
      'uses a / One / Cleat ×1',
    ]);
  });

  it('tells instances of a prefab from the prefab itself', () => {
    expect(lines(page('prefab:prefabs/boat.json').reliedOnBy)).toEqual(['made from boat ×1', 'made from boat ×1']);
  });

  it('gives every piece a key of its own that leads back to it', () => {
    const { graph } = scan(FILES).linked;
    const keys = Array.from({ length: graph.pieceCount }, (_, piece) => keyOf(graph, piece));
    expect(new Set(keys).size).toBe(graph.pieceCount);
    expect(keys.map((key) => pieceByKey(graph, key))).toEqual(keys.map((_, at) => at));
  });

  it('knows no piece by a key of another scan', () => {
    expect(pieceByKey(scan(FILES).linked.graph, 'object:scenes/a.json#Gone')).toBeUndefined();
  });
});

describe('search', () => {
  beforeAll(useGrammars);
  const found = (text: string): string[] =>
    searchPieces(scan(FILES).linked.graph, text, 20).map((hit) => `${hit.kind} ${hit.title}`);

  it('puts exact names first, then beginnings, whatever the capitals', () =>
    expect(found('rope').slice(0, 2)).toEqual(['script rope', 'type Rope']));
  it('finds by identity, by file and by kind', () => {
    expect(found('one')[0]).toBe('object a / One');
    expect(found('keeper.ts')).toContain('script keeper');
    expect(found('event')).toContain('event rope.tight');
  });
  it('needs all words', () => expect(found('raft line')).toEqual([]));
  it('finds nothing for nothing', () => expect([...found('  '), ...found('zzz')]).toEqual([]));
});

describe('findings as shown', () => {
  beforeAll(useGrammars);

  it('name pieces by key, so that they stand without their map', () => {
    const { linked, findings } = scan(FILES);
    const view = viewFinding(linked.graph, findings[0]);
    expect(view.text).toContain('looks for a child called Cleat');
    expect(view.pieces[0].key).toBe('part:scenes/a.json#Raft/Stern/Line/Rope');
    expect(view.walk.at(-1)).toEqual({
      asks: 'child “Cleat”',
      finds: 'not among: Stern',
      key: undefined,
      grip: 'lost',
    });
  });
});
