import { itemAt } from '../helpers/at.js';
import { sentence } from '../model/finding.js';
import type { Side } from '../model/link.js';
import type { Linked } from '../linking/linked.js';
import { findMember } from '../linking/members.js';
import { typeNamed } from '../linking/world/types.js';
import type { WorldType } from '../linking/world/world.js';
import type { MemberUse } from '../reading/facts.js';
import type { Check } from './check.js';
import { flagsOf, type FlagPlace } from './flags.js';

/** Code on one side counts on what happens on the other, with no event between. */
export const sideCrossing: Check = {
  id: 'fragile/side-crossing',
  title: 'One side counts on what happens on the other',
  severity: 'warning',
  why: 'Each side has its own copy: what one sets the other never sees, though both read well.',
  decides:
    'Works where the plan says on which side scripts run. Fires when code of one side sets a field or calls a function of a type whose code runs on the other, and when it reads a flag that the other side alone sets in play. Silent on events between the sides, on types and functions that run on both or of which no side is known, on fields that both see (`shared`), and on flags that are set on the reader’s own side too.',
  restsOn: 'scripts',
  run: (linked) => {
    const { world } = linked;
    const crossings = world.types.all.flatMap((type) => crossingsOf(linked, type));
    return crossings.map(({ type, side, target, member, how, file, range, set }) => ({
      sentence: [
        { name: type.name, piece: type.piece },
        ...sentence` runs on the ${side} and ${HOW[how]} ${{ name: `${target.name}.${member}`, piece: target.piece }}, which `,
        how === 'reads' ? `the ${other(side)} alone sets` : `runs on the ${other(side)}`,
        ', with no event between',
      ],
      sure: 'The plan says on which side each of the two runs, and the field is not one that both sides see.',
      pieces: [type.piece, target.piece],
      evidence: [
        { file, range, shows: `on the ${side}` },
        set
          ? { file: set.file, range: set.range, shows: `on the ${other(side)}` }
          : {
              file: itemAt(world.facts, target.source).file,
              range: itemAt(target.script.types, target.local).range,
              shows: `runs on the ${other(side)}`,
            },
      ],
      walk: [],
      places: 1,
      repairs: [
        {
          title: 'Send an event across',
          words: `Let the ${how === 'reads' ? other(side) : side} send an event, and do it on the other side when it comes.`,
        },
      ],
      sameBy: [type.name, target.name, member, how],
    }));
  },
};

const HOW: Record<MemberUse['how'], string> = { reads: 'reads', writes: 'sets', calls: 'calls' };

interface Crossing {
  type: WorldType;
  side: Side;
  target: WorldType;
  member: string;
  how: MemberUse['how'];
  file: string;
  range: MemberUse['range'];
  /** Where the other side sets what is read. */
  set?: FlagPlace;
}

function crossingsOf(linked: Linked, type: WorldType): Crossing[] {
  const { world } = linked;
  const { file } = itemAt(world.facts, type.source);
  return type.script.uses.flatMap((use): Crossing[] => {
    if (use.type !== type.local || !use.of) return [];
    const side = sideAt(type, use.function);
    const used = typeNamed(world, use.of, type.source);
    const found = used && findMember(used, use.member);
    if (!found || (side !== 'server' && side !== 'client')) return [];
    const { declaring } = found;
    const { member, how, range } = use;
    const crossing = { type, side, target: used, member, how, file, range };
    if (how === 'reads') {
      const set = setElsewhere(linked, declaring, member, side);
      return set ? [{ ...crossing, set }] : [];
    }
    const code = declaring.script.functions.find((one) => one.type === declaring.local && one.name === member);
    const there = code ? code.side : itemAt(declaring.script.types, declaring.local).side;
    const flag = itemAt(declaring.script.types, declaring.local).flags.find(({ name }) => name === member);
    return there === other(side) && !flag?.isShared ? [crossing] : [];
  });
}

/** Where the other side sets a flag in play, when that side alone does. */
function setElsewhere(linked: Linked, declaring: WorldType, member: string, side: Side): FlagPlace | undefined {
  const piece = declaring.flags.get(member);
  const flag = piece === undefined ? undefined : flagsOf(linked).find((one) => one.piece === piece);
  if (!flag || flag.fact.isShared || flag.writes.length === 0) return undefined;
  const sides = flag.writes.map((place) => place.code?.side ?? 'unknown');
  return sides.every((one) => one === other(side))
    ? flag.writes.find(({ to, code }) => to !== 'off' && code?.moment !== 'start')
    : undefined;
}

function sideAt({ script, local }: WorldType, at: number): Side {
  return script.functions[at]?.side ?? itemAt(script.types, local).side;
}

function other(side: Side): Side {
  return side === 'server' ? 'client' : 'server';
}
