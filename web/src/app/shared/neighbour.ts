/** The row that is `by` rows from the one at a position, at most the first or last; from none (-1) it is the first. */
export function neighbour<Row>(rows: readonly Row[], at: number, by: number): Row | undefined {
  return rows[at < 0 ? 0 : Math.min(Math.max(at + by, 0), rows.length - 1)];
}

/** Brings what a selector finds into sight, when it has been drawn. */
export function bringIntoSight(selector: string): void {
  queueMicrotask(() => document.querySelector(selector)?.scrollIntoView({ block: 'nearest' }));
}
