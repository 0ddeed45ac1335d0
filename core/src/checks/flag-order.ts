import { itemAt } from '../helpers/at.js';
import { keeper } from '../helpers/once.js';
import { sentence, type Sentence } from '../model/finding.js';
import { nearest } from '../helpers/nearest.js';
import { isConstructor } from '../linking/flow.js';
import type { Linked } from '../linking/linked.js';
import type { WorldType } from '../linking/world/world.js';
import type { Operation } from '../reading/facts.js';
import type { Check, Draft } from './check.js';
import { flagsOf, isOpenTo, type Flag, type FlagPlace } from './flags.js';

/** A flag is read but never set, set but never read, set too late, or passed over. */
export const flagOrder: Check = {
  id: 'fragile/flag-order',
  title: 'A flag that guards nothing',
  severity: 'warning',
  why: 'The gate it should guard never opens, or opens before its time.',
  decides:
    'Follows fields that hold a truth value. Fires when code asks for one that nothing ever sets, when one is set and nothing ever reads it (a note), when it is asked for at the start of play alone and set only later, and when a function acts without asking for a flag of its own that the function of the same name in a brother type asks for before it does the same. Silent on flags that are exposed or saved, that the engine may read, that code names on something unknown, and on those that are never meant to change: declared on, or belonging to the type.',
  run: (linked) => [
    ...flagsOf(linked).flatMap((flag) => {
      const draft = neverSet(linked, flag) ?? neverRead(linked, flag) ?? setTooLate(flag);
      return draft ? [{ ...draft, sameBy: [flag.type.name, flag.name, draft.how], walk: [], places: 1 }] : [];
    }),
    ...passedOver(linked),
  ],
};

type Part = Pick<Draft, 'sentence' | 'sure' | 'pieces' | 'evidence' | 'repairs' | 'severity'> & { how: string };

function neverSet(linked: Linked, flag: Flag): Part | undefined {
  const { name, type, fact, reads, writes, piece } = flag;
  const asked = reads.find(({ asks }) => asks !== undefined);
  if (!asked || fact.isStatic || fact.starts === 'on' || isOpenTo(linked, flag, 'writes')) return undefined;
  // Setting it off leaves it as it was.
  if (writes.some(({ to }) => to !== 'off')) return undefined;
  const others = itemAt(type.script.types, type.local)
    .flags.map((one) => one.name)
    .filter((one) => one !== name);
  const [close] = nearest(name, others, 1);
  return {
    how: 'never set',
    sentence: [
      { name: `${type.name}.${name}`, piece },
      ' is asked for',
      ...where(asked),
      ' and nobody ever sets it',
      ...(close ? sentence`; ${close} is written almost the same` : []),
    ],
    sure: 'All code that can set it was read, and no value is saved for it.',
    pieces: [piece, type.piece],
    evidence: [shown(asked, 'where it is asked for'), ...writes.slice(0, 2).map((one) => shown(one, 'set off'))],
    repairs: [{ title: 'Set it or take it out', words: 'Set the flag where what it stands for comes true.' }],
  };
}

function neverRead(linked: Linked, flag: Flag): Part | undefined {
  const { name, type, fact, reads, writes, piece } = flag;
  if (reads.length > 0 || fact.isStatic || isOpenTo(linked, flag, 'reads')) return undefined;
  const set = writes.find(({ to, code }) => to !== 'off' && code !== undefined && !isConstructor(code.name));
  if (!set) return undefined;
  return {
    how: 'never read',
    severity: 'note',
    sentence: [{ name: `${type.name}.${name}`, piece }, ' is set', ...where(set), ' and nobody ever reads it'],
    sure: 'No script reads a member of this name on anything.',
    pieces: [piece, type.piece],
    evidence: writes.slice(0, 4).map((one) => shown(one, 'where it is set')),
    repairs: [
      { title: 'Ask for it or take it out', words: 'Ask for the flag before the code that it was meant to guard.' },
    ],
  };
}

function setTooLate({ name, type, fact, reads, writes, piece }: Flag): Part | undefined {
  if (fact.exposed || fact.isStatic || fact.starts === 'on' || reads.length === 0 || writes.length === 0)
    return undefined;
  if (!reads.every(({ code }) => code?.moment === 'start')) return undefined;
  const later = writes.filter(({ to }) => to !== 'off');
  const isLater = later.every(({ code }) => code && code.moment !== 'start' && code.moment !== 'unknown');
  if (later.length === 0 || !isLater) return undefined;
  return {
    how: 'too late',
    sentence: [
      { name: `${type.name}.${name}`, piece },
      ' is read at the start alone',
      ...where(itemAt(reads, 0)),
      ', and set only later',
      ...where(itemAt(later, 0)),
    ],
    sure: 'The moment of each function that sets or reads it is known.',
    pieces: [piece, type.piece],
    evidence: [
      shown(itemAt(reads, 0), 'where it is read'),
      ...later.slice(0, 3).map((one) => shown(one, 'where it is set')),
    ],
    repairs: [
      {
        title: 'Ask when it may have changed',
        words: 'Read the flag when it matters, or send an event where it is set.',
      },
    ],
  };
}

/** Two functions of one name in brother types do the same, and only one asks for the flag that both have. */
function passedOver({ world }: Linked): Draft[] {
  const acts = world.types.all.map((type) => ({ type, acts: actsOf(type, [type.script], () => actsIn(world, type)) }));
  const byKey = new Map(
    acts.flatMap(({ type, acts: own }) =>
      own.flatMap(({ operation, key, asks }) => asks.map((flag) => [`${key} ${flag}`, { type, operation }] as const)),
    ),
  );
  if (byKey.size === 0) return [];
  return acts.flatMap(({ type, acts: own }) =>
    own.flatMap(({ operation, key }): Draft[] => {
      for (const { name } of itemAt(type.script.types, type.local).flags) {
        const twin = byKey.get(`${key} ${name}`);
        const code = itemAt(type.script.functions, operation.function);
        if (!twin || twin.type === type || !areBrothers(twin.type, type)) continue;
        const isSet = type.script.flagUses.some(
          (use) => use.type === type.local && use.field === name && use.how === 'writes',
        );
        const isAsked = asksFor(type, operation.function, name);
        if (!isSet || isAsked) continue;
        return [
          {
            sentence: sentence`${{ name: `${type.name}.${code.name}()`, piece: type.piece }} acts without asking for ${name}; ${{ name: `${twin.type.name}.${code.name}()`, piece: twin.type.piece }} asks for it before it does the same`,
            sure: 'Both types set the flag, and both functions were read to their ends.',
            pieces: [type.piece, twin.type.piece],
            evidence: [
              { file: itemAt(world.facts, type.source).file, range: operation.range, shows: 'done without asking' },
              {
                file: itemAt(world.facts, twin.type.source).file,
                range: twin.operation.range,
                shows: `done only if ${name} allows it`,
              },
            ],
            walk: [],
            places: 1,
            repairs: [{ title: 'Ask here too', words: `Ask for ${name} before it, or keep both in one parent.` }],
            sameBy: [type.name, code.name, name],
          },
        ];
      }
      return [];
    }),
  );
}

/** Something that a function of a type does, with the flags of the type that it asks for before. */
interface Act {
  operation: Operation;
  key: string;
  asks: string[];
}

const actsOf = keeper<WorldType, Act[]>();

function actsIn(world: Linked['world'], type: WorldType): Act[] {
  return type.script.operations.flatMap((operation) => {
    if (operation.type !== type.local || operation.function < 0) return [];
    const key = actKey(world, type, operation);
    const asks = (operation.gates ?? []).flatMap(({ fields }) => fields).filter((field) => type.flags.has(field));
    return key ? [{ operation, key, asks }] : [];
  });
}

const ACTS = new Set(['send', 'spawn', 'destroy', 'switch', 'move', 'travel', 'load']);

/** What an operation does, in which function: the same for two that do the same. */
function actKey({ plan }: Linked['world'], { script }: WorldType, operation: Operation): string | undefined {
  const { means } = itemAt(plan.calls, operation.rule);
  const code = itemAt(script.functions, operation.function);
  if (!ACTS.has(means) || !code.name) return undefined;
  const written = Object.values(operation.arguments).flatMap((value) => (value.is === 'text' ? [value.text] : []));
  return [operation.rule, code.name, ...written].join(' ');
}

function asksFor(type: WorldType, index: number, flag: string): boolean {
  const code = itemAt(type.script.functions, index);
  return type.script.flagUses.some(
    (use) =>
      use.type === type.local &&
      use.field === flag &&
      use.how === 'reads' &&
      (use.function === index ||
        type.script.functions[use.function]?.calls.includes(code.name) === true ||
        code.calls.includes(type.script.functions[use.function]?.name ?? '')),
  );
}

function areBrothers(a: WorldType, b: WorldType): boolean {
  const parents = ({ script, local }: WorldType): string[] => itemAt(script.types, local).parents;
  return parents(a).some((parent) => parents(b).includes(parent));
}

/** ` in Gate.open()`; nothing for code outside of functions. */
function where({ type, code }: FlagPlace): Sentence {
  return code?.name ? [' in ', { name: `${type ? `${type.name}.` : ''}${code.name}()` }] : [];
}

function shown({ file, range }: FlagPlace, shows: string): Draft['evidence'][number] {
  return { file, range, shows };
}
