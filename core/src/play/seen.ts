/** Whether what findings of scans speak of came up in play, and whether it failed there. */
import { cellAt } from '../helpers/at.js';
import { kindOf, nameOf, type Graph } from '../model/graph.js';
import { carriersOf, heirsOf } from '../trace/index-of.js';
import type { FindingView } from '../trace/finding-view.js';
import { pieceByKey } from '../trace/trace.js';
import { OF_EVENTS, piecesCalled, placeIn } from './checks/check.js';
import { messageOf } from './checks/failed.js';
import type { PlayEvent } from './event.js';

/** As what a name was met: an event that came, who did something, a function that handled, a failure. */
export type MetAs = 'event' | 'who' | 'handler' | 'failed';

/** What a session had of a name. Of a failure it is three lines: the place in code or nothing, who, and what was said. */
export interface MetName {
  as: MetAs;
  name: string;
  times: number;
}

/** Letters of what is said of a failure that are looked at. */
const MOST_SAID = 200;

/** The names that an event is met by. */
export function namesMet(event: PlayEvent): [MetAs, string][] {
  const { type, happening, source, subject, handler, place = '' } = event;
  if (happening === 'failed')
    return [['failed', [place, source, messageOf(event).slice(0, MOST_SAID).replace(/\s+/g, ' ')].join('\n')]];
  return [
    ...(OF_EVENTS.has(happening) ? [['event', type] as [MetAs, string]] : []),
    ['who', source],
    ...(subject === undefined || subject === source ? [] : [['who', subject] as [MetAs, string]]),
    ...(handler === undefined ? [] : [['handler', handler] as [MetAs, string]]),
  ];
}

/** What play says of a finding. */
export interface SeenInPlay {
  /** Sessions that were looked at. */
  sessions: number;
  /** How often it failed there. */
  failed: number;
  /** How often what it speaks of came up. */
  came: number;
}

type Judged = Pick<FindingView, 'fingerprint' | 'check' | 'severity' | 'sentence' | 'pieces' | 'evidence'>;

interface Failure {
  file: string;
  /** 0 where no place in code is told. */
  line: number;
  who: string;
  pieces: ReadonlySet<number>;
  said: string;
  times: number;
}

/** A finding with the pieces that do what it speaks of. */
interface Spoken {
  finding: Judged;
  near: ReadonlySet<number>;
  isBroken: boolean;
}

/**
 * What play says of the findings of a scan. A failure belongs to the findings on its line. Where none of them says that
 * something is broken, it belongs to one that does and speaks of who failed: by the names that both mention, else the
 * nearest one above its line, else the only one.
 * @param met what sessions had, by name
 * @returns by fingerprint
 */
export function seenInPlay(
  graph: Graph,
  met: readonly MetName[],
  sessions: number,
  findings: readonly Judged[],
): Map<string, SeenInPlay> {
  const { came, byType, failures } = gather(graph, met);
  const spoken = findings.map((finding): Spoken => ({
    finding,
    near: nearOf(graph, finding),
    isBroken: finding.check.startsWith('broken/'),
  }));
  const failed = new Map<string, number>();
  for (const failure of failures)
    for (const { finding } of meantBy(failure, spoken))
      failed.set(finding.fingerprint, (failed.get(finding.fingerprint) ?? 0) + failure.times);
  return new Map(
    spoken.map(({ finding: { fingerprint }, near }) => {
      let times = 0;
      for (const piece of near) {
        times += came.get(piece) ?? 0;
        if (kindOf(graph, piece) === 'type') times += byType.get(nameOf(graph, piece)) ?? 0;
      }
      return [fingerprint, { sessions, failed: failed.get(fingerprint) ?? 0, came: times }];
    }),
  );
}

/** By piece and by type how often they came up, and what failed. */
function gather(
  graph: Graph,
  met: readonly MetName[],
): { came: Map<number, number>; byType: Map<string, number>; failures: Failure[] } {
  const came = new Map<number, number>();
  const byType = new Map<string, number>();
  const failures: Failure[] = [];
  for (const { as, name, times } of met) {
    if (as === 'failed') {
      const [place = '', who = '', said = ''] = name.split('\n');
      const { file, line } = placeIn(place) ?? { file: '', line: 0 };
      failures.push({ file, line, who, pieces: new Set(piecesCalled(graph, who)), said, times });
    } else if (as === 'handler') {
      const [type = ''] = name.split(/[.:#]/);
      byType.set(type, (byType.get(type) ?? 0) + times);
    } else
      for (const piece of piecesCalled(graph, as === 'event' ? `event:${name}` : name))
        came.set(piece, (came.get(piece) ?? 0) + times);
  }
  return { came, byType, failures };
}

/** The pieces of a finding, and those that do what they say: a part's object, and what runs a script. */
function nearOf(graph: Graph, { pieces }: Judged): Set<number> {
  const own = pieces.flatMap(({ key }) => pieceByKey(graph, key) ?? []);
  const near = new Set(own);
  const withObject = (part: number): void => {
    near.add(part);
    const object = cellAt(graph.pieces.parent, part);
    if (object >= 0) near.add(object);
  };
  for (const piece of own) {
    const kind = kindOf(graph, piece);
    if (kind === 'part') withObject(piece);
    if (kind === 'type' || kind === 'script')
      for (const part of [...carriersOf(graph, piece), ...heirsOf(graph, piece)]) withObject(part);
  }
  return near;
}

/** Evidence of more lines is no place at which something failed; and a failure shows so many lines below its cause. */
const [MOST_LINES, MOST_BELOW] = [3, 6];

function meantBy({ file, line, who, pieces, said }: Failure, spoken: readonly Spoken[]): Spoken[] {
  const linesAbove = ({ finding }: Spoken): number[] =>
    finding.evidence.flatMap(({ file: own, range }) => (own === file && range.line <= line ? [line - range.line] : []));
  const onLine =
    line === 0
      ? []
      : spoken.filter(({ finding }) =>
          finding.evidence.some(({ file: own, range }) => {
            const last = Math.max(range.line, range.endLine - (range.endColumn === 1 ? 1 : 0));
            return own === file && range.line <= line && line <= last && last - range.line < MOST_LINES;
          }),
        );
  if (onLine.some(({ isBroken }) => isBroken)) return onLine;
  const able = spoken.filter(
    ({ finding, near, isBroken }) =>
      isBroken && (isAmong(pieces, near) || finding.evidence.some((one) => one.file === (line === 0 ? who : file))),
  );
  const mentions = ({ finding }: Spoken): number =>
    finding.sentence.filter((run) => typeof run !== 'string' && isMentioned(said, run.name)).length;
  const best = (all: readonly Spoken[], score: (one: Spoken) => number): Spoken[] => {
    const most = Math.max(0, ...all.map(score));
    return most > 0 ? all.filter((one) => score(one) === most) : [];
  };
  const byName = best(able, mentions);
  if (byName.length > 0) return [...onLine, ...byName];
  // The nearer, the more.
  const own = able.filter(({ near }) => isAmong(pieces, near) || who === file);
  const byLine = best(own, (one) => Math.max(0, ...linesAbove(one).map((lines) => MOST_BELOW - lines)));
  if (byLine.length > 0) return [...onLine, ...byLine];
  const errors = able.filter(({ finding }) => finding.severity === 'error');
  return [...onLine, ...(line === 0 && errors.length === 1 ? errors : [])];
}

/** Whether a text has a name as a word of its own. */
function isMentioned(text: string, name: string): boolean {
  if (name.length < 2) return false;
  for (let at = text.indexOf(name); at >= 0; at = text.indexOf(name, at + 1))
    if (!/\w/.test(text[at - 1] ?? ' ') && !/\w/.test(text[at + name.length] ?? ' ')) return true;
  return false;
}

function isAmong(some: ReadonlySet<number>, all: ReadonlySet<number>): boolean {
  for (const one of some) if (all.has(one)) return true;
  return false;
}
