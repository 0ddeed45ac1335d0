import { outermost } from '../linking/sight.js';
import { itemAt } from '../helpers/at.js';
import { grouped } from '../helpers/grouped.js';
import { sentence } from '../model/finding.js';
import type { Range } from '../model/piece.js';
import { isMatch } from '../reading/match.js';
import { baseName } from '../reading/source.js';
import type { Linked } from '../linking/linked.js';
import { repeatedTables } from '../twins/tables.js';
import type { Check, Draft } from './check.js';

/** So many scripts must type the same value. */
const MANY = 3;
/** Where more paths or identities than these are typed in so many scripts, it is how this team writes them. */
const HABIT = 8;
const EVENT = 'the event';
/** Numbers that mean nothing by themselves. */
const TRIVIAL = /^-?(?:0|1|2|10|100|1000|0\.0|1\.0|0\.5)$/;

/** A value is typed in several scripts, or a table in code repeats a data asset. */
export const repeatedValue: Check = {
  id: 'twin/repeated-value',
  title: 'One value is typed in several places',
  severity: 'note',
  why: 'Whoever changes it in one place gets a game that disagrees with itself.',
  decides:
    'Fires on a path or an identity that three or more scripts type in a call that uses, finds, loads or spawns it, on an event that three or more type though some script has a constant for it, on a field of one name to which three or more types give the same number, when none of them has it from a common parent, and on a table in code whose names are those of the records of a data asset, or of files of one rule that hold one record each – a warning, when a number differs from what the plan keeps of the record (details). Silent on identities that each file has for itself, on events without a constant, on labels and input actions, which are names, on paths or identities where more than eight of them are typed so often: then it is how the team writes them, on numbers such as 0, 1 and 100, on constants that scripts share, and on scripts for which copies are fine.',
  run: (linked) => [...texts(linked), ...numbers(linked), ...tables(linked)],
};

interface Typed {
  key: string;
  what: string;
  file: string;
  range: Range;
  piece: number;
}

/** Texts by what they stand for in the call: paths, identities, and events for which some script has a constant. */
function texts(linked: Linked): Draft[] {
  const { facts, plan, world } = linked;
  const constants = new Map([...world.code.constants].map(([name, text]) => [text, name]));
  const typed = facts.flatMap(({ file, script }, source): (Typed & { kind: string })[] =>
    !script || isMatch(file, plan.house.copiesFine)
      ? []
      : script.operations.flatMap(({ rule, arguments: given, range }) => {
          const { means, target } = itemAt(plan.calls, rule);
          const piece = itemAt(world.files.piece, source);
          if (means === 'send' || means === 'listen') {
            const { event } = given;
            const constant = event?.is === 'text' ? constants.get(event.text) : undefined;
            if (event?.is !== 'text' || constant === undefined) return [];
            const what = `${event.text}, for which there is ${constant}`;
            return [{ kind: EVENT, key: event.text, what, file, range, piece }];
          }
          const isId = target.by === 'id';
          // What each file calls so for itself is another thing in each.
          if (isId && (target.within === 'file' || target.space.some((space) => outermost(plan, space) === 'file')))
            return [];
          if (!NAMING.has(means) || !(isId || target.by === 'path')) return [];
          const value = isId ? Object.values(given).find(({ is }) => is === 'text') : given.path;
          if (value?.is !== 'text') return [];
          return [{ kind: isId ? 'the identity' : 'the path', key: value.text, what: value.text, file, range, piece }];
        }),
  );
  const drafts = grouped(typed, ({ kind, key }) => `${kind} ${key}`).flatMap((same) =>
    draftOf(same, same[0].kind).map((draft) => ({ draft, kind: same[0].kind })),
  );
  return grouped(drafts, ({ kind }) => kind).flatMap((same) =>
    same[0].kind !== EVENT && same.length > HABIT ? [] : same.map(({ draft }) => draft),
  );
}

const NAMING = new Set(['spawn', 'use file', 'load', 'refer', 'find']);

function numbers(linked: Linked): Draft[] {
  const { plan, world } = linked;
  const typed = world.types.all.flatMap((type): Typed[] => {
    const { file } = itemAt(world.facts, type.source);
    if (isMatch(file, plan.house.copiesFine)) return [];
    return itemAt(type.script.types, type.local).fields.flatMap(({ name, default: given, range }) => {
      if (given === undefined || !/^-?\d[\d_.]*f?$/.test(given) || TRIVIAL.test(given)) return [];
      const isParents = type.ancestors.some(({ script, local }) =>
        itemAt(script.types, local).fields.some((field) => field.name === name),
      );
      return isParents
        ? []
        : [{ key: `${name} = ${given}`, what: `${name} = ${given}`, file, range, piece: type.piece }];
    });
  });
  return grouped(typed, ({ key }) => key).flatMap((same) => draftOf(same, 'the value'));
}

function draftOf(same: Typed[], kind: string): Draft[] {
  const files = grouped(same, ({ file }) => file);
  if (files.length < MANY) return [];
  const { what } = itemAt(same, 0);
  return [
    {
      sentence: sentence`${files.length} scripts type ${kind} ${what}`,
      sure: 'It is written out in each of them, letter by letter the same.',
      pieces: [...new Set(same.map(({ piece }) => piece))],
      evidence: files.slice(0, 6).map(([{ file, range }]) => ({ file, range, shows: 'typed here' })),
      walk: [],
      places: same.length,
      repairs: [
        {
          title: 'Write it once',
          words: 'Keep it in a constant that the scripts share, in a data asset, or in a field to fill.',
        },
      ],
      sameBy: [kind, what],
    },
  ];
}

/** Tables in code whose names are the records of a data asset. */
function tables(linked: Linked): Draft[] {
  const { facts, world } = linked;
  return repeatedTables(linked).map(({ source, asset, name, table, differing }): Draft => {
    const { file } = itemAt(facts, source);
    const [first] = differing;
    return {
      severity: differing.length > 0 ? 'warning' : undefined,
      sentence: [
        ...sentence`A table in ${{ name: baseName(file), piece: itemAt(world.files.piece, source) }} repeats ${{ name, piece: itemAt(world.files.piece, asset) }}`,
        first
          ? `, and ${differing.length === 1 ? 'one number differs' : `${differing.length} numbers differ`}: ${first.key} is ${first.number} here`
          : '',
      ].filter((run) => run !== ''),
      sure: 'The names of the table are those of the records, and the numbers were compared.',
      pieces: [itemAt(world.files.piece, source), itemAt(world.files.piece, asset)],
      evidence: [
        {
          file,
          range: table.entries.find(({ key }) => key === first?.key)?.range ?? table.range,
          shows: 'the table in code',
        },
        {
          file: itemAt(facts, first?.asset ?? asset).file,
          range: first?.record.range ?? itemAt(facts, asset).range,
          shows: `what ${name} says`,
        },
      ],
      walk: [],
      places: 1,
      repairs: [
        {
          title: 'Read it from the data',
          words: `Take the numbers from ${name === itemAt(facts, asset).name ? itemAt(facts, asset).file : `the files of ${name}`}, and take the table out.`,
        },
      ],
      sameBy: [file, itemAt(facts, asset).file],
    };
  });
}
