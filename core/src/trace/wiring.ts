/** The ledger of events: who sends each, and who listens; and what comes, goes and is switched in play. */
import { FLAGS, groupOf, linkAt, nameOf, type Graph } from '../model/graph.js';
import { MOMENTS, VERBS, type Link, type Moment, type Scope, type Side } from '../model/link.js';
import { PIECE_KINDS } from '../model/piece.js';
import { folderOf } from '../reading/source.js';
import { carriersOf, perGraph, placeOf } from './index-of.js';
import { linesOf, pieceName, type Losses, type PieceName, type TraceGroup } from './trace.js';

/** `engine`: one of its ends is the engine's. */
export type WireState = 'joined' | 'unheard' | 'never sent' | 'engine';
export const WIRE_STATES: readonly WireState[] = ['joined', 'unheard', 'never sent', 'engine'];

/** One end of an event. */
export interface WireEnd {
  piece: PieceName;
  /** Objects that run the code; 0 for wires that files save. */
  objects: number;
  link: Pick<Link, 'label' | 'grip' | 'moment' | 'scope' | 'side' | 'file' | 'range'>;
}

export interface WireRow {
  event: PieceName;
  state: WireState;
  /** Folder of the first sender, or of the first listener. */
  area: string;
  /** At most {@link MOST_ENDS} of each. */
  senders: WireEnd[];
  senderCount: number;
  listeners: WireEnd[];
  listenerCount: number;
}

/** What the ledger is narrowed to; what is left out counts as any. */
export interface WiringFilter {
  state?: WireState;
  moment?: Moment;
  side?: Side;
  scope?: Scope;
  /** Any part of the event’s name or of a piece at its ends. */
  text?: string;
}

export interface Wiring {
  rows: WireRow[];
  total: number;
  /** How many places in the code send at each moment, over all events. */
  sends: Record<Moment, number>;
}

const MOST_ENDS = 12;
const SENDS = VERBS.indexOf('sends');
const LISTENS = VERBS.indexOf('listens to');
const EVENT = PIECE_KINDS.indexOf('event');

interface Ends {
  event: number;
  senders: number[];
  listeners: number[];
  area: string;
  state: WireState;
}

/** All events with the links at their ends, by area and name. */
const endsOf = perGraph((graph): Ends[] => {
  const { links, pieces, texts } = graph;
  const ends: Ends[] = [];
  for (let piece = 0; piece < graph.pieceCount; piece++) {
    const senders: number[] = [];
    const listeners: number[] = [];
    for (const link of groupOf(graph.incoming, piece)) {
      if (links.verb[link] === SENDS) senders.push(link);
      else if (links.verb[link] === LISTENS) listeners.push(link);
    }
    if (senders.length + listeners.length === 0 && pieces.kind[piece] !== EVENT) continue;
    // In the order of their places: which file was linked last must not show.
    for (const links of [senders, listeners]) links.sort((a, b) => comparePlaces(graph, a, b));
    const [first] = [...senders, ...listeners];
    const isEngines = (pieces.flags[piece] & FLAGS.engines) !== 0;
    const state: WireState = isEngines
      ? 'engine'
      : senders.length === 0
        ? 'never sent'
        : listeners.length === 0
          ? 'unheard'
          : 'joined';
    ends.push({
      event: piece,
      senders,
      listeners,
      state,
      area: first === undefined ? '' : folderOf(texts[links.file[first]]),
    });
  }
  const name = ({ event }: Ends): string => nameOf(graph, event);
  return ends.sort((a, b) => (a.area < b.area ? -1 : a.area > b.area ? 1 : name(a) < name(b) ? -1 : 1));
});

function comparePlaces({ links, texts }: Graph, a: number, b: number): number {
  const [one, other] = [texts[links.file[a]], texts[links.file[b]]];
  return one < other ? -1 : one > other ? 1 : links.line[a] - links.line[b] || links.column[a] - links.column[b];
}

export function wiring(graph: Graph, filter: WiringFilter, offset: number, limit: number): Wiring {
  const rows = endsOf(graph).filter((ends) => isWanted(graph, ends, filter));
  const sends = Object.fromEntries(MOMENTS.map((moment) => [moment, 0])) as Record<Moment, number>;
  for (const { senders } of endsOf(graph)) for (const link of senders) sends[MOMENTS[graph.links.moment[link]]]++;
  return {
    rows: rows.slice(offset, offset + limit).map(({ event, senders, listeners, state, area }) => ({
      event: pieceName(graph, event),
      state,
      area,
      senders: senders.slice(0, MOST_ENDS).map((link) => endOf(graph, link)),
      senderCount: senders.length,
      listeners: listeners.slice(0, MOST_ENDS).map((link) => endOf(graph, link)),
      listenerCount: listeners.length,
    })),
    total: rows.length,
    sends,
  };
}

function endOf(graph: Graph, index: number): WireEnd {
  const { from, label, grip, moment, scope, side, file, range } = linkAt(graph, index);
  return {
    piece: pieceName(graph, placeOf(graph, from)),
    objects: carriersOf(graph, from).length,
    link: { label, grip, moment, scope, side, file, range },
  };
}

function isWanted(graph: Graph, { event, senders, listeners, state }: Ends, filter: WiringFilter): boolean {
  if (filter.state && filter.state !== state) return false;
  const links = [...senders, ...listeners].map((link) => linkAt(graph, link));
  if (filter.moment && !links.some(({ moment }) => moment === filter.moment)) return false;
  if (filter.side && !links.some(({ side }) => side === filter.side)) return false;
  if (filter.scope && !links.some(({ scope }) => scope === filter.scope)) return false;
  if (!filter.text) return true;
  const words = [nameOf(graph, event), ...links.map(({ from }) => nameOf(graph, from))].join('\n').toLowerCase();
  return filter.text
    .toLowerCase()
    .split(/\s+/)
    .filter(Boolean)
    .every((word) => words.includes(word));
}

const LIFE = ['spawns', 'destroys', 'switches', 'moves', 'loads'] as const;
const MOST_LINES = 200;

/** Who brings what into play, takes it out, switches and moves it, and enters which scene. */
export function lifeCycle(graph: Graph, losses: Losses): TraceGroup[] {
  const byVerb = new Map<number, number[]>(LIFE.map((verb) => [VERBS.indexOf(verb), []]));
  for (let link = 0; link < graph.linkCount; link++) byVerb.get(graph.links.verb[link])?.push(link);
  return LIFE.flatMap((verb) => {
    const links = byVerb.get(VERBS.indexOf(verb))!;
    if (links.length === 0) return [];
    const lines = linesOf(graph, losses, links.slice(0, 20_000), 'outgoing');
    return [{ verb, count: lines.length, lines: lines.slice(0, MOST_LINES) }];
  });
}
