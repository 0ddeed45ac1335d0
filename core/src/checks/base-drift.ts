import { formerDefaults, formerTexts, unquoted, type Former } from '../families/former.js';
import { cellAt, itemAt, knownIn, must } from '../helpers/at.js';
import { once } from '../helpers/once.js';
import { push } from '../helpers/push.js';
import type { Linked } from '../linking/linked.js';
import { partsRunning } from '../linking/world/parts.js';
import type { ValueOnPart, WorldPart, WorldType } from '../linking/world/world.js';
import { sentence, type Repair } from '../model/finding.js';
import { nameOf } from '../model/graph.js';
import { dated } from '../model/history.js';
import type { FieldFact, FileFacts } from '../reading/facts.js';
import type { Check, Draft } from './check.js';
import { ofRecords } from './record-drift.js';
import { placeKey } from './reached.js';

/** Values saved on instances that hide the base's, or merely repeat it. */
export const baseDrift: Check = {
  id: 'fragile/base-drift',
  title: 'Saved values hide what the prefab or the code says',
  severity: 'note',
  why: 'An edit of the prefab or of the code changes nothing, or misses the instances that somebody saved the old value on.',
  decides:
    'Compares what instances of a prefab save with what the prefab says. Fires once for a field of a prefab when an instance saves the very value that is in force without it, and when at least three instances, all there are, save one other value, so that the prefab’s is in force nowhere. With a version history also when an instance saves what the prefab, or the code for its field, said before it was changed; a warning when all instances but one do: that one may have been meant. Of records that are derived from others, it fires once for a record that says again what is in force without it. Silent on values that differ from instance to instance, on fields that the prefab does not save, on values that the prefab or the code never had, and on lists.',
  run: (linked) => [...ofPrefabs(linked), ...ofCode(linked), ...ofRecords(linked)],
};

function ofPrefabs(linked: Linked): Draft[] {
  const { copies, overlaid } = instancesIn(linked.world);
  const fields = new Map<string, Saved[]>();
  for (const part of overlaid) {
    for (const saved of savedOn(part)) {
      const key = `${cellAt(linked.graph.pieces.origin, part.piece)} ${saved.name}`;
      const known = fields.get(key);
      if (known) known.push(saved);
      else fields.set(key, [saved]);
    }
  }
  const isAsked = newestFirst(linked, new Set([...fields.values()].map((saved) => itemAt(saved, 0).base.source)));
  return [...fields.values()].flatMap((saved) => draftOf(linked, saved, copies, isAsked));
}

const REACHES = 'Without what is saved, the change reaches whoever saved it; if it is meant, waive this.';

/** Takes saved values out of their files; what copies of one object have is written in one place. */
function takeOut({ facts }: Linked, saved: readonly { own: ValueOnPart }[], words: string): Repair {
  const places = new Map(
    saved.map(({ own }) => {
      const { file } = itemAt(facts, own.source);
      return [placeKey(file, own.value.range), { is: 'remove' as const, file, range: own.value.range }];
    }),
  );
  return { title: places.size > 1 ? 'Take them out' : 'Take it out', words, changes: [...places.values()] };
}

interface Instances {
  /** Copies of each part of a prefab. */
  copies: Map<number, WorldPart[]>;
  /** Copies for which more than the prefab saves values. */
  overlaid: WorldPart[];
}

/** Parts and who saves values for them stay as they are as long as a world does; the values may change. */
const instancesIn = once(({ trees, builder }: Linked['world']): Instances => {
  const known: Instances = { copies: new Map(), overlaid: [] };
  for (const part of trees.partByPiece.values()) {
    const origin = cellAt(builder.graph.pieces.origin, part.piece);
    if (origin < 0) continue;
    push(known.copies, origin, part);
    if (part.values.some(({ source }) => source !== itemAt(part.values, 0).source)) known.overlaid.push(part);
  }
  return known;
});

/** Files whose earlier versions are looked into, those changed last first: more would take long and say little. */
const MOST_FILES = 100;

/** @param sources positions in the list of facts */
function newestFirst({ facts, history }: Linked, sources: Iterable<number>): Set<number> {
  const changed = [...sources].flatMap((source) => {
    const versions = history.versionsOf(itemAt(facts, source).file);
    return versions.length > 0
      ? [{ source, at: itemAt(versions, 0).commit.order, file: itemAt(facts, source).file }]
      : [];
  });
  changed.sort((a, b) => b.at - a.at || (a.file < b.file ? -1 : 1));
  return new Set(changed.slice(0, MOST_FILES).map(({ source }) => source));
}

/** A value saved on an instance, with the one that it stands in front of. */
interface Saved {
  part: WorldPart;
  name: string;
  own: ValueOnPart;
  base: ValueOnPart;
}

function savedOn(part: WorldPart): Saved[] {
  const last = new Map<string, ValueOnPart[]>();
  for (const one of part.values) last.set(one.value.name, [...(last.get(one.value.name) ?? []), one]);
  return [...last].flatMap(([name, levels]) => {
    const [own, base] = [must(levels.at(-1)), levels.at(-2)];
    const isText = base !== undefined && own.value.text !== undefined && base.value.text !== undefined;
    return isText && own.source !== base.source ? [{ part, name, own, base }] : [];
  });
}

/** A value of a prefab's part, with all that is saved in front of it. */
interface Masked {
  linked: Linked;
  saved: Saved[];
  /** The value, where it is written, and its name. */
  base: ValueOnPart;
  name: string;
  typeName: string;
  prefab: FileFacts;
  /** The part in the prefab. */
  origin: number;
}

function draftOf(
  linked: Linked,
  saved: Saved[],
  copies: ReadonlyMap<number, WorldPart[]>,
  isAsked: ReadonlySet<number>,
): Draft[] {
  const { graph, world } = linked;
  const { name, base, part } = itemAt(saved, 0);
  const origin = cellAt(graph.pieces.origin, part.piece);
  const typeName = part.type?.name || part.typeName;
  const masked = { linked, saved, base, name, typeName, prefab: itemAt(world.facts, base.source), origin };
  const repeats = saved.filter((one) => one.own.value.text === base.value.text);
  if (repeats.length > 0) return [repeated(masked, repeats)];
  const all = knownIn(copies, origin);
  const former = isAsked.has(base.source) ? formerOf(linked, base, saved) : undefined;
  if (former) {
    const saving = new Set(saved.map((one) => one.part));
    const [following, ...others] = all.filter((one) => !saving.has(one));
    const isMeantForOne = former.on.length >= 3 && others.length === 0 && former.on.length === saved.length;
    return [following && isMeantForOne ? meantForOne(masked, former, following, all.length) : asBefore(masked, former)];
  }
  const values = new Set(saved.map((one) => one.own.value.text));
  return values.size > 1 || saved.length < 3 || saved.length < all.length ? [] : [inForceNowhere(masked)];
}

function draftAbout({ prefab, typeName, name }: Masked, draft: Omit<Draft, 'walk' | 'sameBy'>): Draft {
  return { ...draft, walk: [], sameBy: [prefab.file, typeName, name] };
}

/** Where values are saved, the first few. */
function savedAt({ world }: Linked, saved: readonly { own: ValueOnPart }[], shows: string): Draft['evidence'] {
  return saved
    .slice(0, 4)
    .map(({ own }) => ({ file: itemAt(world.facts, own.source).file, range: own.value.range, shows }));
}

function textOf({ value }: ValueOnPart): string {
  return must(value.text);
}

/** Saved again, though the prefab says so anyway. */
function repeated(masked: Masked, repeats: Saved[]): Draft {
  const { linked, typeName, prefab, origin, name } = masked;
  const first = itemAt(repeats, 0);
  return draftAbout(masked, {
    sentence: [
      ...sentence`${{ name: nameOf(linked.graph, first.part.object), piece: first.part.piece }} saves ${name} = ${textOf(first.own)} for ${typeName}, which `,
      { name: prefab.name, piece: origin },
      ' says anyway',
      repeats.length > 1 ? ` (and ${repeats.length - 1} more)` : '',
    ].filter((run) => run !== ''),
    sure: 'Both values are written out and are the same.',
    pieces: [first.part.piece, origin],
    evidence: [
      ...savedAt(linked, repeats, 'saved again'),
      { file: prefab.file, range: first.base.value.range, shows: 'what the prefab says' },
    ],
    places: repeats.length,
    repairs: [
      // What it says, the prefab says as well.
      {
        ...takeOut(linked, repeats, 'Without the saved value the instance follows the prefab when that is changed.'),
        sure: true as const,
      },
    ],
  });
}

type FormerOn = Former & { on: Saved[] };

/** What an instance saves is what the prefab said before: its change does not reach it. */
function asBefore(masked: Masked, former: FormerOn): Draft {
  const { linked, typeName, prefab, origin, name, base } = masked;
  const { graph } = linked;
  const first = itemAt(former.on, 0);
  const many = former.on.length > 1;
  return draftAbout(masked, {
    sentence: [
      { name: nameOf(graph, first.part.object), piece: first.part.piece },
      ...(many ? [` and ${former.on.length - 1} more`] : []),
      many ? ' save ' : ' saves ',
      ...sentence`${name} = ${former.text} for ${typeName}, what `,
      { name: prefab.name, piece: origin },
      ` said until it was changed ${dated(former.by)}; its ${textOf(base)} of today does not reach ${many ? 'them' : 'it'}`,
    ],
    sure: IN_HISTORY,
    pieces: [first.part.piece, origin],
    evidence: formerEvidence(masked, former),
    places: former.on.length,
    repairs: [takeOut(linked, former.on, REACHES)],
  });
}

const IN_HISTORY = 'The version history has the former value, and what is saved is the same.';

function formerEvidence({ linked, prefab, base }: Masked, former: FormerOn): Draft['evidence'] {
  return [
    { file: prefab.file, range: base.value.range, shows: `was ${former.text}` },
    ...savedAt(linked, former.on, 'saved as it was before'),
  ];
}

/** All instances but one save what was before: the prefab was edited where that one was meant. */
function meantForOne(masked: Masked, former: FormerOn, following: WorldPart, count: number): Draft {
  const { linked, prefab, origin, name, base } = masked;
  const object = nameOf(linked.graph, following.object);
  return draftAbout(masked, {
    severity: 'warning',
    sentence: [
      { name: prefab.name, piece: origin },
      ...sentence` was changed ${dated(former.by)} and says ${name} = ${textOf(base)} now, but ${former.on.length} of its ${count} instances save the ${former.text} of before: only `,
      { name: object, piece: following.piece },
      ' follows it',
    ],
    sure: IN_HISTORY,
    pieces: [origin, following.piece],
    evidence: formerEvidence(masked, former),
    places: former.on.length,
    repairs: [
      {
        title: `Save it on ${object} alone`,
        words: `If the change was meant for that one: write ${former.text} back into the prefab, save ${textOf(base)} on ${object}, and take the saved ${former.text} out of the others.`,
      },
    ],
  });
}

function inForceNowhere(masked: Masked): Draft {
  const { linked, saved, prefab, origin, name, base } = masked;
  const { part, own } = itemAt(saved, 0);
  return draftAbout(masked, {
    sentence: sentence`All ${saved.length} instances of ${{ name: prefab.name, piece: origin }} save ${name} = ${textOf(own)}, so its own ${textOf(base)} is in force nowhere`,
    sure: 'All instances were unfolded, and every one saves the same value.',
    pieces: [origin, part.piece],
    evidence: [
      { file: prefab.file, range: base.value.range, shows: 'in force nowhere' },
      ...savedAt(linked, saved, 'in force'),
    ],
    places: saved.length,
    repairs: [
      { title: 'Say it in the prefab', words: 'Write the value into the prefab and take it out of the instances.' },
    ],
  });
}

/** The values of the prefab from before that instances save: the one that most of them do. */
function formerOf(linked: Linked, base: ValueOnPart, saved: readonly Saved[]): (Former & { on: Saved[] }) | undefined {
  const states = formerTexts(linked, base);
  const found = states.flatMap((former) => {
    const on = saved.filter(({ own }) => own.value.text === former.text);
    return on.length > 0 ? [{ ...former, on }] : [];
  });
  return found.sort((a, b) => b.on.length - a.on.length)[0];
}

// Code ---------------------------------------------------------------------------------------------------------------

/** Values saved for a field whose default in the code was the same and was changed. */
function ofCode(linked: Linked): Draft[] {
  const { world } = linked;
  const types = world.types.all.filter(({ script, local }) =>
    itemAt(script.types, local).fields.some((field) => field.exposed && field.default !== undefined),
  );
  const isAsked = newestFirst(linked, new Set(types.map(({ source }) => source)));
  return types.flatMap((type) => {
    const { source, script, local } = type;
    if (!isAsked.has(source)) return [];
    return itemAt(script.types, local).fields.flatMap((field): Draft[] => {
      if (!field.exposed || field.default === undefined) return [];
      const former = new Map(formerDefaults(linked, type, field).map((one) => [one.text, one]));
      if (former.size === 0) return [];
      const places = new Map<string, { part: WorldPart; own: ValueOnPart }>();
      for (const part of partsRunning(world, type)) {
        const own = part.values.filter(({ value }) => value.name === field.name).at(-1);
        // One place for all copies of a prefab's part.
        const key = own && `${own.source} ${own.pieceFact} ${own.partFact}`;
        if (
          own?.value.text !== undefined &&
          former.has(own.value.text) &&
          own.value.text !== unquoted(field.default) &&
          !places.has(must(key))
        )
          places.set(must(key), { part, own });
      }
      return places.size > 0 ? [codeDraft(linked, type, field, [...places.values()], former)] : [];
    });
  });
}

function codeDraft(
  linked: Linked,
  type: WorldType,
  field: FieldFact,
  saved: { part: WorldPart; own: ValueOnPart }[],
  former: ReadonlyMap<string, Former>,
): Draft {
  const { graph, world } = linked;
  const { part, own } = itemAt(saved, 0);
  const { text, by } = knownIn(former, must(own.value.text));
  const alike = saved.filter((one) => one.own.value.text === own.value.text);
  const many = alike.length > 1;
  return {
    sentence: [
      { name: nameOf(graph, part.object), piece: part.piece },
      ...(many ? [` and ${alike.length - 1} more`] : []),
      many ? ' save ' : ' saves ',
      ...sentence`${field.name} = ${must(own.value.text)}, what the code of ${{ name: type.name, piece: type.piece }} said until it was changed`,
      ` ${dated(by)}; its ${must(field.default)} of today does not reach ${many ? 'them' : 'it'}`,
    ],
    sure: 'The version history has the former default, and what is saved is the same.',
    pieces: [part.piece, type.piece],
    evidence: [
      { file: itemAt(world.facts, type.source).file, range: field.range, shows: `was ${text}` },
      ...savedAt(linked, alike, 'saved as it was before'),
    ],
    walk: [],
    places: alike.length,
    repairs: [takeOut(linked, alike, REACHES)],
    sameBy: [itemAt(world.facts, type.source).file, type.name, field.name],
  };
}
