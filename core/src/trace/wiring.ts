/** The ledgers of events and of flags: who gives, and who takes; and what comes, goes and is switched in play. */
import { cellAt, itemAt, knownIn } from '../helpers/at.js';
import { once } from '../helpers/once.js';
import { folded, wordsIn } from '../helpers/folded.js';
import { FLAGS, groupOf, keyOf, kindOf, linkAt, nameOf, titleOf, type Graph } from '../model/graph.js';
import { MOMENTS, VERBS, type Link, type Moment, type Scope, type Side } from '../model/link.js';
import { ATTACHED, isKept } from '../model/life.js';
import { PIECE_KINDS, type PieceKind } from '../model/piece.js';
import { folderOf } from '../reading/source.js';
import { carriersOf, heirsOf, placeOf } from './index-of.js';
import { linesOf, pieceName, type Losses, type PieceName, type TraceGroup } from './trace.js';

/** `engine`: one of its ends is the engine's. */
export type WireState = 'joined' | 'unheard' | 'never sent' | 'engine';
export const WIRE_STATES: readonly WireState[] = ['joined', 'unheard', 'never sent', 'engine'];

/** One end of an event, or one place that sets or reads a flag. */
export interface WireEnd {
  piece: PieceName;
  /** Objects of scenes that run the code; 0 for wires that files save. */
  objects: number;
  /** It lies off the route that was asked for. */
  isOff?: true;
  link: Pick<Link, 'label' | 'grip' | 'moment' | 'scope' | 'side' | 'file' | 'range'>;
}

export interface WireRow {
  /** The event or the flag. */
  what: PieceName;
  /** Of a flag: `unheard` is set and never read, `never sent` read and never set. */
  state: WireState;
  /** Folder of the first sender, or of the first listener. */
  area: string;
  /** Who sends or sets, and who listens or reads; at most {@link MOST_ENDS} of each. */
  senders: WireEnd[];
  senderCount: number;
  listeners: WireEnd[];
  listenerCount: number;
  /** All its ends lie off the route that was asked for. */
  isOff?: true;
}

/** What the ledger is narrowed to; what is left out counts as any. */
export interface WiringFilter {
  of?: Subject;
  state?: WireState;
  moment?: Moment;
  side?: Side;
  scope?: Scope;
  /** Any part of the event’s name or of a piece at its ends. */
  text?: string;
}

/** What a ledger is about. */
export type Subject = 'events' | 'flags';
export const SUBJECTS: readonly Subject[] = ['events', 'flags'];

export interface Wiring {
  rows: WireRow[];
  total: number;
  /** Of those, how many lie off the route that was asked for. */
  off?: number;
  /** How many places send, or set, at each moment, over all events or flags. */
  sends: Record<Moment, number>;
}

const MOST_ENDS = 12;
/** The kinds of piece that a ledger lists, and the verbs of those who give and of those who take. */
const LEDGERS: Record<Subject, { kinds: number[]; gives: number; takes: number }> = {
  events: { kinds: [kindAt('event')], gives: VERBS.indexOf('sends'), takes: VERBS.indexOf('listens to') },
  flags: { kinds: [kindAt('flag'), kindAt('variable')], gives: VERBS.indexOf('writes'), takes: VERBS.indexOf('reads') },
};

const VARIABLE = PIECE_KINDS.indexOf('variable');

function kindAt(kind: PieceKind): number {
  return PIECE_KINDS.indexOf(kind);
}

interface Ends {
  piece: number;
  senders: number[];
  listeners: number[];
  area: string;
  state: WireState;
}

/** All events, or all flags, with the links at their ends, by area and name. */
const endsOf: Record<Subject, (graph: Graph) => Ends[]> = {
  events: once((graph: Graph) => gatherEnds(graph, 'events')),
  flags: once((graph: Graph) => gatherEnds(graph, 'flags')),
};

function gatherEnds(graph: Graph, subject: Subject): Ends[] {
  const { links, pieces, texts } = graph;
  const { kinds, gives, takes } = LEDGERS[subject];
  const ends: Ends[] = [];
  for (let piece = 0; piece < graph.pieceCount; piece++) {
    // A type can be an event; nothing but a flag is a flag.
    const isOfKind = kinds.includes(cellAt(pieces.kind, piece));
    if (!isOfKind && subject === 'flags') continue;
    const senders: number[] = [];
    const listeners: number[] = [];
    for (const link of groupOf(graph.incoming, piece)) {
      if (cellAt(links.verb, link) === gives) senders.push(link);
      else if (cellAt(links.verb, link) === takes) listeners.push(link);
    }
    // A variable that nothing sets or reads is a slot of its graph, no flag.
    const isVariable = cellAt(pieces.kind, piece) === VARIABLE;
    if (senders.length + listeners.length === 0 && (!isOfKind || isVariable)) continue;
    // In the order of their places: which file was linked last must not show.
    for (const links of [senders, listeners]) links.sort((a, b) => comparePlaces(graph, a, b));
    const [first] = [...senders, ...listeners];
    const isEngines = (cellAt(pieces.flags, piece) & FLAGS.engines) !== 0;
    const state: WireState = isEngines
      ? 'engine'
      : senders.length === 0
        ? 'never sent'
        : listeners.length === 0
          ? 'unheard'
          : 'joined';
    ends.push({
      piece,
      senders,
      listeners,
      state,
      area: first === undefined ? '' : folderOf(itemAt(texts, cellAt(links.file, first))),
    });
  }
  const name = ({ piece }: Ends): string => nameOf(graph, piece);
  return ends.sort((a, b) => (a.area < b.area ? -1 : a.area > b.area ? 1 : name(a) < name(b) ? -1 : 1));
}

function comparePlaces({ links, texts }: Graph, a: number, b: number): number {
  const [one = '', other = ''] = [itemAt(texts, cellAt(links.file, a)), itemAt(texts, cellAt(links.file, b))];
  return one < other
    ? -1
    : one > other
      ? 1
      : cellAt(links.line, a) - cellAt(links.line, b) || cellAt(links.column, a) - cellAt(links.column, b);
}

/** @param route 1 for each piece on the route that the ledger speaks for; what lies off it is marked */
export function wiring(graph: Graph, filter: WiringFilter, offset: number, limit: number, route?: Uint8Array): Wiring {
  const all = endsOf[filter.of ?? 'events'](graph);
  const rows = all.filter((ends) => isWanted(graph, ends, filter));
  const isOff = (link: number): boolean => route !== undefined && route[cellAt(graph.links.from, link)] !== 1;
  const areOff = ({ senders, listeners }: Pick<Ends, 'senders' | 'listeners'>): boolean =>
    route !== undefined && [...senders, ...listeners].every(isOff);
  const end = (link: number): WireEnd => ({ ...endOf(graph, link), ...(isOff(link) && { isOff: true }) });
  const sends = Object.fromEntries(MOMENTS.map((moment) => [moment, 0])) as Record<Moment, number>;
  for (const { senders } of all) for (const link of senders) sends[itemAt(MOMENTS, cellAt(graph.links.moment, link))]++;
  return {
    rows: rows.slice(offset, offset + limit).map(({ piece, senders, listeners, state, area }): WireRow => ({
      what: pieceName(graph, piece),
      state,
      area,
      senders: senders.slice(0, MOST_ENDS).map(end),
      senderCount: senders.length,
      listeners: listeners.slice(0, MOST_ENDS).map(end),
      listenerCount: listeners.length,
      ...(areOff({ senders, listeners }) && { isOff: true }),
    })),
    total: rows.length,
    ...(route && { off: rows.filter(areOff).length }),
    sends,
  };
}

function endOf(graph: Graph, index: number): WireEnd {
  const { from, label, grip, moment, scope, side, file, range } = linkAt(graph, index);
  return {
    piece: pieceName(graph, placeOf(graph, from)),
    objects: new Set(
      [...carriersOf(graph, from), ...heirsOf(graph, from)]
        .map((part) => placeOf(graph, part))
        .filter((object) => isInScene(graph, object)),
    ).size,
    link: { label, grip, moment, scope, side, file, range },
  };
}

function isWanted(graph: Graph, { piece, senders, listeners, state }: Ends, filter: WiringFilter): boolean {
  if (filter.state && filter.state !== state) return false;
  const links = [...senders, ...listeners].map((link) => linkAt(graph, link));
  if (filter.moment && !links.some(({ moment }) => moment === filter.moment)) return false;
  if (filter.side && !links.some(({ side }) => side === filter.side)) return false;
  if (filter.scope && !links.some(({ scope }) => scope === filter.scope)) return false;
  if (!filter.text) return true;
  const words = folded([titleOf(graph, piece), ...links.map(({ from }) => nameOf(graph, from))].join('\n'));
  return wordsIn(filter.text).every((word) => words.includes(word));
}

const LIFE = ['spawns', 'carries', 'destroys', 'switches', 'moves', 'loads'] as const;
const MOST_LINES = 200;

/** A flag that is set in play, with the objects on which a scene change sets it back. */
export interface Reset {
  flag: PieceName;
  /** At most {@link MOST_ENDS}. */
  objects: PieceName[];
  objectCount: number;
}

export interface LifeCycle {
  groups: TraceGroup[];
  resets: Reset[];
}

/** Who brings what into play, takes it out, switches and moves it, and enters which scene; what a scene change resets. */
export function lifeCycle(graph: Graph, losses: Losses): LifeCycle {
  const byVerb = new Map<number, number[]>(LIFE.map((verb) => [VERBS.indexOf(verb), []]));
  const { verb: verbs, label } = graph.links;
  const carries = VERBS.indexOf('carries');
  for (let link = 0; link < graph.linkCount; link++) {
    if (cellAt(verbs, link) === carries && itemAt(graph.texts, cellAt(label, link)) !== ATTACHED) continue;
    byVerb.get(cellAt(verbs, link))?.push(link);
  }
  const groups = LIFE.flatMap((verb) => {
    const links = knownIn(byVerb, VERBS.indexOf(verb));
    if (links.length === 0) return [];
    const lines = linesOf(graph, losses, links.slice(0, 20_000), 'outgoing');
    return [{ verb, count: lines.length, lines: lines.slice(0, MOST_LINES) }];
  });
  return { groups, resets: resetsOf(graph) };
}

/** Flags that are set in play on objects of scenes that nothing keeps. */
function resetsOf(graph: Graph): Reset[] {
  const inPlay = new Set([MOMENTS.indexOf('every frame'), MOMENTS.indexOf('on an event')]);
  const { gives } = LEDGERS.flags;
  return endsOf.flags(graph).flatMap(({ piece, senders }) => {
    if (
      !senders.some((link) => cellAt(graph.links.verb, link) === gives && inPlay.has(cellAt(graph.links.moment, link)))
    )
      return [];
    const type = cellAt(graph.pieces.parent, piece);
    const objects = (type < 0 ? [] : carriersOf(graph, type))
      .map((part) => cellAt(graph.pieces.parent, part))
      .filter((object) => object >= 0 && isInScene(graph, object) && !isKept(graph, object))
      .sort((a, b) => (keyOf(graph, a) < keyOf(graph, b) ? -1 : 1));
    if (objects.length === 0) return [];
    const names = objects.slice(0, MOST_ENDS).map((object) => pieceName(graph, object));
    return [{ flag: pieceName(graph, piece), objects: names, objectCount: objects.length }];
  });
}

function isInScene(graph: Graph, object: number): boolean {
  let at = object;
  while (cellAt(graph.pieces.parent, at) >= 0) at = cellAt(graph.pieces.parent, at);
  return kindOf(graph, at) === 'scene';
}
