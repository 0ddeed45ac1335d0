import { readPlan } from '../reading/plan/read-plan.js';
import { ruleFor } from '../reading/read-structured.js';
import { starterPlan } from './starter-plan.js';

const FILES = [
  { path: 'scenes/one.scene.json', text: '{"objects": [{"id": "a", "name": "A", "picture": "pictures/a.png"}]}' },
  { path: 'prefabs/boat.prefab.yaml', text: 'children:\n  - name: Hull\n' },
  { path: 'data/tides.yaml', text: 'rows:\n  - code: ebb\n' },
  { path: 'scripts/a.ts' },
  { path: 'tools/b.py' },
  { path: 'pictures/a.png' },
  { path: 'odd name/ü.json', text: '{"the list": [{"name": "x"}]}' },
  { path: 'broken.json', text: '{"a": [' },
];

describe('a starter plan', () => {
  const plan = readPlan(starterPlan('Flight', FILES));

  it('is valid and reads every file it knows how to read', () => {
    expect(FILES.map((file) => ruleFor(plan, file.path)).filter((rule) => !rule)).toEqual([]);
  });

  it('takes scenes, prefabs, data, media and scripts for what they are', () => {
    expect(ruleFor(plan, 'scenes/two.scene.json')!.rule).toEqual(jasmine.objectContaining({ as: 'scene' }));
    expect(ruleFor(plan, 'prefabs/x.prefab.yaml')!.rule).toEqual(jasmine.objectContaining({ as: 'prefab' }));
    expect(ruleFor(plan, 'data/tides.yaml')!.rule).toEqual(jasmine.objectContaining({ as: 'data asset' }));
    expect(ruleFor(plan, 'pictures/a.png')!.rule).toEqual(jasmine.objectContaining({ as: 'media' }));
    expect(ruleFor(plan, 'tools/b.py')!.rule).toEqual(jasmine.objectContaining({ language: 'python' }));
  });

  it('finds lists of named things and fields that hold paths', () => {
    const { pieces, references } = plan.files['scene'];
    expect(pieces['objects']).toEqual(
      jasmine.objectContaining({ at: '$..objects[*]', kind: 'object', id: { select: '$.id' } }),
    );
    expect(references['picture']).toEqual(jasmine.objectContaining({ at: '$..picture', by: 'path' }));
  });

  it('finds fields that hold identities, names or paths from the own folder, and says how many lead somewhere', () => {
    const text = starterPlan('Small', [
      {
        path: 'data/boats.json',
        text: JSON.stringify({
          rows: [
            { id: 'b1', name: 'Tender' },
            { id: 'b2', name: 'Barge' },
            { id: 'b3', name: 'Raft' },
          ],
        }),
      },
      {
        path: 'data/tolls.json',
        text: JSON.stringify({
          list: [
            { boat: 'b1', called: 'Tender', picture: 'gate.svg', note: 'mind the gate' },
            { boat: 'b2', called: 'Barge', picture: 'gate.svg', note: 'Raft' },
            { boat: 'b9', called: 'Raft', picture: 'lock.svg', note: 'slow' },
          ],
        }),
      },
      { path: 'data/gate.svg' },
    ]);
    expect(text).toContain('// 2 of 3 looked at lead somewhere');
    const { references } = Object.values(readPlan(text).files)[0];
    expect(Object.entries(references).map(([name, { by, from }]) => `${name} ${by} ${from}`)).toEqual(
      jasmine.arrayWithExactContents(['boat id project', 'called name project', 'picture path file']),
    );
  });

  it('is valid for an empty folder too', () => expect(readPlan(starterPlan('', [])).name).toBe('Unnamed project'));
});
