/** Who last touched what was found: asked of the version history once for a scan. */
import type { TouchedBy } from '../api.js';
import type { ProjectRow, ScanRow } from '../store/store.js';
import type { Context } from './context.js';

/**
 * By positions of findings: who touched the line of its first place last; undefined where nobody knows.
 * @param isAnew what was committed since the scan counts
 */
export type Owners = (project: ProjectRow, scan: ScanRow, isAnew?: boolean) => Promise<readonly (string | undefined)[]>;

/** Findings of which it is asked, worst first. */
const MOST_ASKED = 2000;

/** One closure: it keeps the answer for the last scan of each project. */
export function createOwners({ store, scans }: Context): Owners {
  const kept = new Map<number, { scan: number; owners: Promise<readonly (string | undefined)[]> }>();
  return (project, scan, isAnew = false) => {
    const known = kept.get(project.id);
    if (known?.scan === scan.id && !isAnew) return known.owners;
    const places = store.findingPlaces(scan.id, MOST_ASKED);
    const owners = scans.ask(project, { ask: 'touched', places });
    kept.set(project.id, { scan: scan.id, owners });
    // What could not be answered is asked again.
    owners.catch(() => kept.delete(project.id));
    return owners;
  };
}

/** How much each person touched last, most first. */
export function countedOwners(owners: readonly (string | undefined)[]): TouchedBy[] {
  const counts = new Map<string, number>();
  for (const by of owners) if (by !== undefined) counts.set(by, (counts.get(by) ?? 0) + 1);
  return [...counts].map(([by, count]) => ({ by, count })).sort((a, b) => b.count - a.count);
}
