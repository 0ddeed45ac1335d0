import { cellAt, itemAt, knownIn } from '../helpers/at.js';
import { sentence } from '../model/finding.js';
import { nameOf, rangeOf } from '../model/graph.js';
import { VERBS, type Moment } from '../model/link.js';
import { typeOfPiece } from '../linking/flow.js';
import type { Linked } from '../linking/linked.js';
import { isKept } from '../model/life.js';
import { partsRunning } from '../linking/world/parts.js';
import { topOf, type WorldType } from '../linking/world/world.js';
import type { Check, Draft } from './check.js';
import { flagsOf } from './flags.js';

/** State changed in play that a scene change resets. */
export const lostState: Check = {
  id: 'fragile/lost-state',
  title: 'What was changed in play is forgotten at a scene change',
  severity: 'warning',
  why: 'The player comes back to the scene and finds it as on the first day; whoever asks for the flag gets the old answer.',
  decides:
    'Works where the plan says what is kept over scene changes (a mark, or a call). Fires on a flag that is set in play, that a script of another type reads, and that belongs to an object of a scene which is left and entered again, when nothing keeps that object. Silent on objects that are kept, or stand below one that is, on scenes that nobody comes back to, on flags of the type itself, and on flags that only their own script reads.',
  run: (linked) => {
    if (!saysWhatIsKept(linked)) return [];
    const comeBack = scenesEnteredAgain(linked);
    if (comeBack.size === 0) return [];
    const { graph, world } = linked;
    return flagsOf(linked).flatMap((flag) => {
      const set = flag.writes.find(({ code, to }) => to !== 'off' && isInPlay(code?.moment));
      const reader = flag.reads.find(({ type }) => type && !isOfFamily(type, flag.type));
      if (!set || !reader?.type || flag.fact.isStatic) return [];
      const lost = partsRunning(world, flag.type).filter(
        (part) => comeBack.has(topOf(world, part.object)) && !isKept(graph, part.object),
      );
      if (lost.length === 0) return [];
      const { object } = itemAt(lost, 0);
      const scene = topOf(world, object);
      return [
        {
          sentence: [
            ...sentence`${{ name: `${flag.type.name}.${flag.name}`, piece: flag.piece }} on ${{ name: nameOf(graph, object), piece: object }} is set in play and read by ${{ name: reader.type.name, piece: reader.type.piece }}, but ${{ name: nameOf(graph, scene), piece: scene }} is left and entered again, and nothing keeps it`,
            lost.length > 1 ? ` (and ${lost.length - 1} more)` : '',
          ].filter((run) => run !== ''),
          sure: 'The way out of the scene and back into it is written in the scripts that run there, and the object has no mark that keeps it.',
          pieces: [flag.piece, object, scene],
          evidence: [
            { file: set.file, range: set.range, shows: 'where it is set' },
            { file: reader.file, range: reader.range, shows: 'who relies on it' },
            ...knownIn(comeBack, scene).slice(0, 2),
          ],
          walk: [],
          places: lost.length,
          repairs: [
            {
              title: 'Keep it, or write it down',
              words:
                'Mark the object as kept over scene changes, or save the flag when the scene is left and read it when it is entered.',
            },
          ],
          sameBy: [flag.type.name, flag.name],
        },
      ];
    });
  },
};

function saysWhatIsKept({ plan }: Linked): boolean {
  return (
    plan.calls.some(({ means }) => means === 'keep') ||
    Object.values(plan.files).some(({ pieces }) => Object.values(pieces).some(({ kept }) => kept !== undefined))
  );
}

function isInPlay(moment: Moment | undefined): boolean {
  return moment === 'every frame' || moment === 'on an event';
}

function isOfFamily(a: WorldType, b: WorldType): boolean {
  return a === b || a.ancestors.includes(b) || b.ancestors.includes(a);
}

const LOADS = VERBS.indexOf('loads');

type Place = Draft['evidence'][number];

/** Scenes from which play leads into another one and back, with the places that do it. */
function scenesEnteredAgain({ graph, world }: Linked): Map<number, Place[]> {
  const { links, texts } = graph;
  const leads = new Map<number, Map<number, number>>();
  for (let link = 0; link < graph.linkCount; link++) {
    if (links.verb[link] !== LOADS || cellAt(links.to, link) < 0) continue;
    const type = typeOfPiece(world, cellAt(links.from, link));
    for (const part of type ? partsRunning(world, type) : []) {
      const scene = topOf(world, part.object);
      if (scene === links.to[link]) continue;
      const from = leads.get(scene) ?? new Map<number, number>();
      leads.set(scene, from.set(cellAt(links.to, link), link));
    }
  }
  const placeOf = (link: number): Place => ({
    file: itemAt(texts, cellAt(links.file, link)),
    range: rangeOf(links, link),
    shows: 'where a scene is entered',
  });
  const again = new Map<number, Place[]>();
  for (const scene of leads.keys()) {
    const seen = new Set<number>();
    const open: { at: number; by: number[] }[] = [{ at: scene, by: [] }];
    for (let next = open.shift(); next; next = open.shift()) {
      for (const [to, link] of leads.get(next.at) ?? []) {
        const by = [...next.by, link];
        if (to === scene) again.set(scene, again.get(scene) ?? by.map(placeOf));
        else if (!seen.has(to)) {
          seen.add(to);
          open.push({ at: to, by });
        }
      }
    }
  }
  return again;
}
