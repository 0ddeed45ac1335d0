import { itemAt } from '../helpers/at.js';
import { keeper } from '../helpers/once.js';
import { sentence } from '../model/finding.js';
import { deedsOf, type Code, type Deed } from '../linking/flow.js';
import type { Linked } from '../linking/linked.js';
import { isTypeRead } from '../linking/world/unread.js';
import type { WorldType } from '../linking/world/world.js';
import type { Check, Draft } from './check.js';

/** A child replaces its parent's handler and does not call through. */
export const silentOverride: Check = {
  id: 'fragile/silent-override',
  title: 'A child’s handler takes the place of its parent’s',
  severity: 'note',
  why: 'The parent’s rule is gone for this child, without a word: nothing in either file says so.',
  decides:
    'Fires where a type declares a function that the engine or an event calls, a type it descends from has one of the same name that does something, and the child’s does not call it. An empty one is worth a warning. Silent when the child calls through, when the parent’s is empty or does nothing that the map knows, and on functions that only other code calls.',
  run: (linked) => {
    const wired = wiredNames(linked.events);
    const names = [...wired].sort().join('\n');
    return linked.world.types.all.flatMap((type) =>
      // A call through may stand in what was not read.
      type.ancestors.length === 0 || !isTypeRead(linked.world, type)
        ? []
        : kept(type, [names, type.script, ...type.ancestors.map(({ script }) => script)], () =>
            draftsOf(linked, type, wired),
          ),
    );
  },
};

const kept = keeper<WorldType, Draft[]>();

function draftsOf(linked: Linked, type: WorldType, wired: ReadonlySet<string>): Draft[] {
  return overridesOf(linked, type, wired).map(({ own, parent, lost }) => {
    const { world } = linked;
    const { file } = itemAt(world.facts, type.source);
    return {
      severity: own.fact.isEmpty ? ('warning' as const) : undefined,
      sentence: [
        ...sentence`${{ name: `${type.name}.${own.fact.name}()`, piece: type.piece }}`,
        own.fact.isEmpty ? ' is empty and takes' : ' takes',
        ...sentence` the place of ${{ name: `${parent.type.name}.${own.fact.name}()`, piece: parent.type.piece }}, which ${lost.join(', ')}`,
      ],
      sure: 'Both functions were read, and the child’s does not call its parent’s.',
      pieces: [type.piece, parent.type.piece],
      evidence: [
        { file, range: own.fact.range, shows: 'what runs' },
        { file: itemAt(world.facts, parent.type.source).file, range: parent.fact.range, shows: 'what no longer runs' },
      ],
      walk: [],
      places: 1,
      repairs: [
        {
          title: 'Call through, or say so',
          words: `Call the parent’s ${own.fact.name}() first, or move what the child shall not do out of it.`,
        },
      ],
      sameBy: [type.name, own.fact.name, file],
    };
  });
}

interface Override {
  own: Code;
  parent: Code;
  /** What the parent's function does, in words. */
  lost: string[];
}

/** Handlers of a type that hide one of a parent. */
function overridesOf({ world }: Linked, type: WorldType, wired: ReadonlySet<string>): Override[] {
  return type.script.functions.flatMap((fact, index): Override[] => {
    if (fact.type !== type.local || !fact.name || fact.callsParent || isOfOneType(fact.name, type)) return [];
    const parent = parentOf(type, fact.name);
    if (!parent || parent.fact.isEmpty) return [];
    const isHandler = fact.moment !== 'unknown' || parent.fact.moment !== 'unknown' || wired.has(fact.name);
    const lost = isHandler ? doneBy(deedsOf(world, parent)) : [];
    return lost.length === 0 ? [] : [{ own: { type, index, fact }, parent, lost }];
  });
}

/** Names that a language keeps apart for each type, so that none takes the place of another. */
function isOfOneType(name: string, { script }: WorldType): boolean {
  return name.startsWith('#') || (script.language === 'python' && name.startsWith('__') && !name.endsWith('__'));
}

/** The function of a name that the nearest parent has. */
function parentOf(type: WorldType, name: string): Code | undefined {
  for (const one of type.ancestors) {
    const index = one.script.functions.findIndex((code) => code.type === one.local && code.name === name);
    if (index >= 0) return { type: one, index, fact: itemAt(one.script.functions, index) };
  }
  return undefined;
}

function wiredNames(events: Linked['events']): Set<string> {
  const names = new Set(events.flatMap(({ listeners }) => listeners.map(({ handler }) => handler)));
  names.delete('');
  return names;
}

const DOES: Partial<Record<Deed['rule']['means'], string>> = {
  spawn: 'spawns something',
  destroy: 'destroys something',
  switch: 'switches something',
  move: 'moves something',
  travel: 'moves it',
  load: 'enters a scene',
  attach: 'attaches a script',
  'let go': 'lets go of events',
};

function doneBy(deeds: Deed[]): string[] {
  const words = deeds.flatMap(({ rule, events, operation }) => {
    if (rule.means === 'send') return [`sends ${events[0] ?? 'an event'}`];
    if (rule.means === 'listen') {
      const { event } = operation.arguments;
      return [`listens to ${event?.is === 'text' ? event.text : event?.is === 'constant' ? event.name : 'an event'}`];
    }
    return DOES[rule.means] ?? [];
  });
  const distinct = [...new Set(words)];
  return distinct.length > 3 ? [...distinct.slice(0, 3), `and ${distinct.length - 3} more`] : distinct;
}
