/** Flags: variables that one function sets and another asks before it acts. Gathered from facts for the checks. */
import { itemAt } from '../helpers/at.js';
import { keeper, once } from '../helpers/once.js';
import type { FlagFact, FlagUse, FunctionFact, ScriptFacts } from '../reading/facts.js';
import type { Linked } from '../linking/linked.js';
import { isOpen, isWhole } from '../linking/members.js';
import { isEngines } from '../linking/losses.js';
import { flagPiece, typeNamed } from '../linking/world/types.js';
import { partsRunning } from '../linking/world/parts.js';
import { mayBeUnread, scripting } from '../linking/world/unread.js';
import type { World, WorldType } from '../linking/world/world.js';

/** One place that sets or looks at a flag. */
export interface FlagPlace {
  /** The type whose code it is; undefined for code outside of types. */
  type: WorldType | undefined;
  code: FunctionFact | undefined;
  how: FlagUse['how'];
  asks?: string;
  to?: 'on' | 'off';
  file: string;
  range: FlagUse['range'];
}

export interface Flag {
  piece: number;
  name: string;
  /** The type that declares it. */
  type: WorldType;
  fact: FlagFact;
  writes: FlagPlace[];
  reads: FlagPlace[];
}

/** All flags with the places that set and read them. */
export const flagsOf = once(gather);

function gather({ world }: Linked): Flag[] {
  const flags = new Map<number, Flag>();
  for (const type of world.types.all) {
    for (const fact of itemAt(type.script.types, type.local).flags) {
      const piece = type.flags.get(fact.name);
      if (piece !== undefined) flags.set(piece, { piece, name: fact.name, type, fact, writes: [], reads: [] });
    }
  }
  world.facts.forEach(({ script }, source) => {
    if (!script) return;
    for (const { piece, place } of notedIn(script, [world], () => notesIn(world, script, source))) {
      const flag = flags.get(piece);
      if (flag) (place.how === 'writes' ? flag.writes : flag.reads).push(place);
    }
  });
  return [...flags.values()];
}

interface Note {
  piece: number;
  place: FlagPlace;
}

const notedIn = keeper<ScriptFacts, Note[]>();

/** What a script does with flags, of its own types and of others that it names. */
function notesIn(world: World, script: ScriptFacts, source: number): Note[] {
  const { file } = itemAt(world.facts, source);
  const types = world.types.inFile.get(source) ?? [];
  const ofLocal = (local: number): WorldType | undefined => types.find((type) => type.local === local);
  const noteOf = (piece: number | undefined, place: FlagPlace): Note[] =>
    piece === undefined ? [] : [{ piece, place }];
  return [
    ...script.flagUses.flatMap(({ type: local, field, function: at, how, asks, to, range }) => {
      const type = ofLocal(local);
      return noteOf(type && flagPiece(type, field), { type, code: script.functions[at], how, asks, to, file, range });
    }),
    ...script.uses.flatMap(({ of, member, how, asks, to, type: local, function: at, range }) => {
      const used = of ? typeNamed(world, of, source) : undefined;
      const does = how === 'writes' ? how : 'reads';
      const place = { type: ofLocal(local), code: script.functions[at], how: does, asks, to, file, range } as const;
      return noteOf(used && flagPiece(used, member), place);
    }),
  ];
}

/**
 * Whether something that the map cannot follow may set or read a flag: a saved value, code that names the member of
 * something unknown, a parent that is not known, or the engine.
 */
export function isOpenTo(linked: Linked, { type, name, fact }: Flag, what: 'writes' | 'reads'): boolean {
  const { world } = linked;
  if (fact.exposed || isEngines(world.plan.engine.members, name) || !isWhole(world, type)) return true;
  if (mayBeUnread(world, name, scripting)) return true;
  const { read, made } = namesOf(linked);
  if (isOpen(type) && isAnothersToo(linked, type, name, what)) return true;
  if (what === 'reads') return read.has(name);
  return (
    made.has(name) ||
    world.code.setElsewhere.has(name) ||
    partsRunning(world, type).some((part) => part.values.some((one) => one.value.name === name))
  );
}

/** Where types are put together from tables, a function of another one may run on this one's objects. */
function isAnothersToo({ world }: Linked, type: WorldType, name: string, how: FlagUse['how']): boolean {
  return world.types.all.some(
    (one) =>
      one !== type &&
      !one.ancestors.includes(type) &&
      one.script.flagUses.some((use) => use.type === one.local && use.field === name && use.how === how),
  );
}

/** Names of members that code reads on something unknown or mentions as a text, and of those that tables hold. */
export const namesOf = once(({ facts }: Linked): { read: ReadonlySet<string>; made: ReadonlySet<string> } => {
  const scripts = facts.flatMap(({ script }) => script ?? []);
  return {
    read: new Set(scripts.flatMap(({ memberReads, mentions }) => [...memberReads, ...mentions])),
    made: new Set(scripts.flatMap(({ tableKeys }) => tableKeys)),
  };
});
