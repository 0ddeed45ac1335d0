import { cellAt, itemAt } from '../helpers/at.js';
import { sentence } from '../model/finding.js';
import { kindOf, nameOf, rangeOf, titleOf, type Graph } from '../model/graph.js';
import { GRIPS, VERBS, type Verb } from '../model/link.js';
import { topOf } from '../linking/world/world.js';
import { circles } from '../model/circles.js';
import type { Linked } from '../linking/linked.js';
import { sameKey, type Check, type Draft } from './check.js';

/** Containment, inheritance, prefabs or imports that run in a circle. */
export const loop: Check = {
  id: 'broken/loop',
  title: 'Something is built on itself',
  severity: 'error',
  why: 'The engine cannot build it: it stops with a fault, or leaves the circle out without a word.',
  decides:
    'Fires on types and records that descend from themselves, prefabs that hold themselves, objects that are their own holders, packages that need each other, and – as a note, since it may hold for long – scripts that take each other in. Silent when the same thing is reached by two ways that do not close.',
  run: (linked) => {
    const edges = edgesOf(linked);
    return [...KINDS.flatMap((kind, at) => fromLinks(linked, kind, itemAt(edges, at))), ...ownHolders(linked)];
  },
};

const PATH = GRIPS.indexOf('path');

interface Kind {
  verb: Verb;
  does: string;
  /** Which piece stands for the one that the link starts from. */
  isWhole: boolean;
  note?: true;
}

const KINDS: Kind[] = [
  { verb: 'extends', does: 'descends from itself', isWhole: false },
  { verb: 'made from', does: 'holds itself', isWhole: true },
  { verb: 'imports', does: 'needs itself', isWhole: false, note: true },
];

interface StepOfCircle {
  from: number;
  to: number;
  link: number;
}

/** What each kind of circle could be made of. */
function edgesOf({ graph, world }: Linked): StepOfCircle[][] {
  const kindOfVerb = VERBS.map((verb) => KINDS.findIndex((kind) => kind.verb === verb));
  const edges: StepOfCircle[][] = KINDS.map(() => []);
  const { verb, to, from, grip } = graph.links;
  for (let link = 0; link < graph.linkCount; link++) {
    const at = itemAt(kindOfVerb, cellAt(verb, link));
    if (at < 0 || cellAt(to, link) < 0) continue;
    const start = itemAt(KINDS, at).isWhole ? topOf(world, cellAt(from, link)) : cellAt(from, link);
    // Prefabs of one file that are named by identities or names stand beside each other there.
    if (itemAt(KINDS, at).isWhole && to[link] === start && grip[link] !== PATH) continue;
    itemAt(edges, at).push({ from: start, to: cellAt(to, link), link });
  }
  return edges;
}

function fromLinks(linked: Linked, { verb, does, note }: Kind, edges: StepOfCircle[]): Draft[] {
  const { graph, world } = linked;
  return circles(edges).map((circle) => {
    const isScripts = verb === 'imports' && kindOf(graph, itemAt(circle, 0).from) === 'script';
    const names = circle.map(({ from }) => (isScripts ? fileOf(graph, from) : titleOf(graph, from)));
    const isPackages =
      verb === 'imports' &&
      linked.facts[world.files.sourceOf.get(fileOf(graph, itemAt(circle, 0).from)) ?? -1]?.package;
    return {
      severity: note && !isPackages ? ('note' as const) : undefined,
      sentence: [
        { name: itemAt(names, 0), piece: itemAt(circle, 0).from },
        isScripts ? ' takes itself in' : ` ${does}`,
        ...(names.length > 1 ? sentence`, through ${names.slice(1).join(', ')}` : []),
      ],
      sure: 'Every step of the circle is written out.',
      pieces: [...new Set(circle.map(({ from }) => from))],
      evidence: circle.slice(0, 6).map(({ link }) => ({
        file: itemAt(graph.texts, cellAt(graph.links.file, link)),
        range: rangeOf(graph.links, link),
        shows: `${verb} ${nameOf(graph, cellAt(graph.links.to, link)) || 'itself'}`,
      })),
      walk: [],
      places: circle.length,
      repairs: [
        { title: 'Break the circle', words: 'Take out one of the steps, or put what both need into a third place.' },
      ],
      sameBy: circle.map(({ from }) => sameKey(graph, from)).sort(),
    };
  });
}

function fileOf(graph: Graph, piece: number): string {
  return itemAt(graph.texts, cellAt(graph.pieces.file, piece));
}

/** Objects whose holders, named by fields, lead back to themselves. */
function ownHolders({ graph, world }: Linked): Draft[] {
  return world.trees.ownHolders.map(({ piece, named, file, range }) => ({
    sentence: [
      { name: nameOf(graph, piece), piece },
      ...sentence` names ${named} as its holder, which stands below it`,
    ],
    sure: 'The holders are named in the file, and following them leads back.',
    pieces: [piece],
    evidence: [{ file, range, shows: 'the object' }],
    walk: [],
    places: 1,
    repairs: [{ title: 'Name another holder', words: 'Let one of them stand under something that is not below it.' }],
    sameBy: [sameKey(graph, piece), named],
  }));
}
