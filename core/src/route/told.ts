/** The stops of a route as they are told and drawn. */
import { SEVERITIES } from '../model/finding.js';
import type { Stop, Stops } from './stops.js';

export interface DrawnStops extends Stops {
  /** Stops that no way leads to or from: they are left out where others have one. */
  apart: number;
}

/** Only the stops that a way leads to or from, where there is a way at all. */
export function stopsToDraw(route: Stops): DrawnStops {
  const { stops, ways, more } = route;
  if (ways.length === 0) return { ...route, apart: 0 };
  const used = new Set(ways.flatMap(({ from, to }) => [from, to]));
  const kept = stops.flatMap((_, at) => (used.has(at) ? [at] : []));
  const position = new Map(kept.map((at, now) => [at, now]));
  const moved = (at: number): number => position.get(at) ?? 0;
  return {
    stops: stops.filter((_, at) => used.has(at)),
    ways: ways.map((way) => ({ ...way, from: moved(way.from), to: moved(way.to) })),
    apart: stops.length - kept.length,
    more,
  };
}

/** The two gravest of what was found on a stop, in words. */
export function foundOn({ counts }: Stop): string {
  const told = SEVERITIES.flatMap((severity) =>
    counts[severity] > 0 ? [`${counts[severity]} ${severity}${counts[severity] === 1 ? '' : 's'}`] : [],
  );
  return told.slice(0, 2).join(', ') || 'nothing found';
}

/** What is drawn, in words: each stop, what is said of it, and where it leads. */
export function routeInWords({ stops, ways }: Stops, says: (stop: Stop) => string): string[] {
  return stops.map((stop, at) => {
    const next = ways.flatMap(({ from, to }) => (from === at ? [stops[to]?.title] : []));
    const leads = next.length > 0 ? `, leads to ${next.join(', ')}` : '';
    return `${stop.title}${stop.steps === 0 ? ' (a beginning)' : ''}: ${says(stop)}${leads}`;
  });
}

/** What a drawing of stops leaves out, in words; empty where nothing is. */
export function leftOutWords({ apart, more }: DrawnStops): string {
  return [
    apart > 0 && `To or from ${apart} more ${apart === 1 ? 'scene' : 'scenes'} the map knows no way.`,
    more > 0 && `${more} more ${more === 1 ? 'scene is' : 'scenes are'} not drawn.`,
  ]
    .filter(Boolean)
    .join(' ');
}
