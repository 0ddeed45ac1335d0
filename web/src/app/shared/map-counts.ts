/** How large a map is, or what it was and would be. */
export interface MapCount {
  /** Undefined where nothing is known of before. */
  before?: number;
  after: number;
}

export interface MapCounts {
  pieces: MapCount;
  links: MapCount;
  /** Links that lead nowhere. */
  lost: MapCount;
}

/** `Pieces 726 (as before), links 518 (2 more), of them leading nowhere 24 (1 fewer).` */
export function mapWords({ pieces, links, lost }: MapCounts): string {
  return `Pieces ${told(pieces)}, links ${told(links)}, of them leading nowhere ${told(lost)}.`;
}

function told({ before, after }: MapCount): string {
  if (before === undefined) return String(after);
  const change = after - before;
  return `${after} (${change === 0 ? 'as before' : change > 0 ? `${change} more` : `${-change} fewer`})`;
}
