import { itemAt, must } from '../helpers/at.js';
import { nameOf } from '../model/graph.js';
import type { LookUp } from '../linking/linked.js';
import type { WorldType } from '../linking/world/world.js';
import type { Touch, Value } from '../reading/facts.js';
import { steps, type Check } from './check.js';
import { behind, operationsThat, placeKey } from './reached.js';

/** One thing that a script does to what stands above it. */
interface Drive {
  lookUp: LookUp;
  does: string;
  range: Touch['range'];
}

/** A child drives what stands above it in the tree. */
export const reachUp: Check = {
  id: 'fragile/reach-up',
  title: 'A child drives what stands above it',
  severity: 'note',
  why: 'Calls that go down and notices that go up survive change; a child that gives orders upwards works under one parent alone.',
  decides:
    'Fires once for a script that sets a field of an object above it in the tree, or of one beside it, calls a function there whose result nothing uses, or destroys, switches or moves it. Two steps up or more are worth a warning. Silent on reading, on what stands below, and on notices that are sent up.',
  run: ({ graph, lookUps, world }) => {
    const climbing = new Map(
      lookUps
        .filter(({ ups, foundCount }) => ups > 0 && foundCount > 0)
        .map((lookUp) => [placeKey(lookUp.file, lookUp.range), lookUp]),
    );
    if (climbing.size === 0) return [];
    const drives = new Map<WorldType, Drive[]>();
    const note = (type: WorldType, on: Value, does: string, range: Touch['range']): void => {
      for (const { type: of, operation } of behind(world, type, on).lookUps) {
        const file = itemAt(world.facts, of.source).file;
        const lookUp = climbing.get(placeKey(file, itemAt(of.script.operations, operation).range));
        if (lookUp) drives.set(type, [...(drives.get(type) ?? []), { lookUp, does, range }]);
      }
    };
    for (const type of world.types.all)
      for (const { type: local, on, member, how, isDriving, range } of type.script.touches)
        if (local === type.local && isDriving)
          note(type, on, how === 'writes' ? `sets ${member}` : `calls ${member}()`, range);
    for (const { type, operation, rule } of operationsThat(world, 'destroy', 'switch', 'move', 'travel')) {
      const on = operation.arguments.object ?? operation.receiver;
      note(type, on, must(DOES[rule.means]), operation.range);
    }
    return [...drives].map(([type, found]) => {
      const { file } = itemAt(world.facts, type.source);
      const highest = found.reduce((a, b) => (b.lookUp.ups > a.lookUp.ups ? b : a)).lookUp;
      const { ups, down, firstFound } = highest;
      const does = [...new Set(found.map((one) => one.does))];
      return {
        severity: ups > 1 || down ? ('warning' as const) : undefined,
        sentence: [
          { name: type.name, piece: type.piece },
          ` drives what stands ${steps(ups)} above it${down ? ' and down again' : ''}, on `,
          { name: nameOf(graph, must(firstFound).object), piece: must(firstFound).object },
          highest.foundCount > 1 ? ` and ${highest.foundCount - 1} more` : '',
          `: it ${does.slice(0, 3).join(', ')}${does.length > 3 ? ` and ${does.length - 3} more` : ''}`,
        ].filter((run) => run !== ''),
        sure: 'The steps were walked in the tree, and what is done there is written in the code.',
        pieces: [type.piece, must(firstFound).part],
        evidence: found.slice(0, 5).map(({ range, does: what }) => ({ file, range, shows: `it ${what}` })),
        walk: [],
        places: found.length,
        repairs: [
          {
            title: 'Send a notice instead',
            words: 'Let the child send an event and the parent listen to it, or fill a slot with what it drives.',
          },
        ],
        sameBy: [file, type.name],
      };
    });
  },
};

const DOES: Partial<Record<string, string>> = {
  destroy: 'destroys it',
  switch: 'switches it',
  move: 'moves it',
  travel: 'moves it',
};
