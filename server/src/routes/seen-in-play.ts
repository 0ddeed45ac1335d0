/** What play said of the findings of a scan: kept until something else is scanned, or comes in. */
import { seenInPlay, type SeenInPlay } from '@glue-trace/core';
import type { ProjectRow, ScanRow } from '../store/store.js';
import type { Context } from './context.js';

/** By fingerprint; undefined where no session is kept, or no map is at hand. */
export type Seen = (project: ProjectRow, scan: ScanRow) => ReadonlyMap<string, SeenInPlay> | undefined;

/** In milliseconds: while a game sends, what play says is worked out anew so often at most. */
const ANEW_EVERY = 3000;

/** One closure: it keeps what it worked out for a project. */
export function createSeen({ store, scans, play }: Context): Seen {
  const kept = new Map<number, { sign: string; at: number; seen: ReadonlyMap<string, SeenInPlay> }>();
  return (project, scan) => {
    const map = scans.mapOf(project.id);
    const state = play.state(project.id);
    if (map?.scanId !== scan.id || state.startsWith('0 ')) return undefined;
    const sign = `${scan.id} ${state}`;
    const known = kept.get(project.id);
    const isSoon = known?.sign.startsWith(`${scan.id} `) === true && Date.now() - known.at < ANEW_EVERY;
    if (known && (known.sign === sign || isSoon)) return known.seen;
    const { names, sessions } = play.met(project.id);
    if (sessions === 0) return undefined;
    const seen = seenInPlay(map.graph, names, sessions, store.allFindings(scan.id));
    kept.set(project.id, { sign, at: Date.now(), seen });
    return seen;
  };
}
