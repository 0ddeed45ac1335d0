/** The scenes of a route and the ways between them as a drawing, with what was found on each in words. */
import { SEVERITIES } from '../model/finding.js';
import type { Stop, Stops } from '../route/stops.js';
import { xmlText } from './xml.js';

/** Of a box, and between boxes. */
const [WIDTH, HEIGHT, ACROSS, DOWN] = [164, 44, 56, 16];
/** Letters that fit into a box. */
const MOST_LETTERS = 22;
/** Room for the outline, and half of what lies between a way and one back. */
const [EDGE, APART] = [3, 7];

/** Empty where there is no way to draw; stops that no way leads to or from are only counted. */
export function routeDrawing(route: Stops | undefined): string {
  if (!route || route.ways.length === 0) return '';
  const { stops, ways, apart, more } = connected(route);
  const columns: number[][] = [];
  stops.forEach(({ steps }, at) => (columns[steps] ??= []).push(at));
  const rowOf = new Map<number, number>();
  for (const column of columns) {
    // Beside what leads to it.
    const wanted = (at: number): number => {
      const before = ways.flatMap(({ from, to }) => (to === at ? (rowOf.get(from) ?? []) : []));
      return before.length > 0 ? before.reduce((sum, one) => sum + one, 0) / before.length : 0;
    };
    const wishes = new Map(column.map((at) => [at, wanted(at)]));
    column.sort((a, b) => (wishes.get(a) ?? 0) - (wishes.get(b) ?? 0));
    column.forEach((at, row) => rowOf.set(at, row));
  }
  const x = (at: number): number => EDGE + (stops[at]?.steps ?? 0) * (WIDTH + ACROSS);
  const y = (at: number): number => EDGE + (rowOf.get(at) ?? 0) * (HEIGHT + DOWN);
  const width = 2 * EDGE + columns.length * (WIDTH + ACROSS);
  const height = 2 * EDGE + Math.max(...columns.map(({ length }) => length)) * (HEIGHT + DOWN) - DOWN;
  const lines = ways.map(({ from, to }) => {
    const side = Math.sign(x(to) - x(from));
    // Ways there and back do not lie on each other.
    const [fromY, toY] = [y(from) + HEIGHT / 2 - side * APART, y(to) + HEIGHT / 2 - side * APART];
    const start = side < 0 ? x(from) : x(from) + WIDTH;
    const end = side > 0 ? x(to) - 2 : x(to) + WIDTH + 2;
    const [first, second] =
      side === 0 ? [start + ACROSS - 12, end + ACROSS - 12] : [(start + end) / 2, (start + end) / 2];
    return `<path class="way${side > 0 ? '' : ' back'}" d="M${start} ${fromY} C${first} ${fromY} ${second} ${toY} ${end} ${toY}" marker-end="url(#there)"/>`;
  });
  const boxes = stops.map((stop, at) => {
    const worst = SEVERITIES.find((severity) => stop.counts[severity] > 0) ?? '';
    const letters = [...stop.title];
    const title = letters.length > MOST_LETTERS ? `${letters.slice(0, MOST_LETTERS - 1).join('')}…` : stop.title;
    return `<g><title>${xmlText(stop.key)}</title><rect class="stop ${worst}${stop.steps === 0 ? ' start' : ''}" x="${x(at)}" y="${y(at)}" width="${WIDTH}" height="${HEIGHT}" rx="4"/><text x="${x(at) + 9}" y="${y(at) + 18}" class="name">${xmlText(title)}</text><text x="${x(at) + 9}" y="${y(at) + 35}">${xmlText(found(stop))}</text></g>`;
  });
  return `<figure><svg role="img" aria-label="${xmlText(inWords({ stops, ways }))}" viewBox="0 0 ${width} ${height}" width="${width}" height="${height}"><defs><marker id="there" viewBox="0 0 8 8" refX="7" refY="4" markerWidth="7" markerHeight="7" orient="auto"><path d="M0 0 L8 4 L0 8 z"/></marker></defs>${lines.join('')}${boxes.join('')}</svg>
<figcaption>From left to right: scenes by how many loads it takes to come to them, each with all that was found on what comes along with it. What several share counts at each of them.${apart > 0 ? ` To or from ${apart} more ${apart === 1 ? 'scene' : 'scenes'} the map knows no way.` : ''}${more > 0 ? ` ${more} more scenes are not drawn.` : ''}</figcaption></figure>`;
}

/** Only the stops that a way leads to or from. */
function connected({ stops, ways, more }: Stops): Stops & { apart: number } {
  const used = new Set(ways.flatMap(({ from, to }) => [from, to]));
  const kept = stops.flatMap((_, at) => (used.has(at) ? [at] : []));
  const position = new Map(kept.map((at, now) => [at, now]));
  const moved = (at: number): number => position.get(at) ?? 0;
  return {
    stops: stops.filter((_, at) => used.has(at)),
    ways: ways.map(({ from, to }) => ({ from: moved(from), to: moved(to) })),
    apart: stops.length - kept.length,
    more,
  };
}

function found({ counts }: Stop): string {
  const told = SEVERITIES.flatMap((severity) =>
    counts[severity] > 0 ? [`${counts[severity]} ${severity}${counts[severity] === 1 ? '' : 's'}`] : [],
  );
  return told.slice(0, 2).join(', ') || 'nothing found';
}

function inWords({ stops, ways }: Pick<Stops, 'stops' | 'ways'>): string {
  const told = stops.map((stop, at) => {
    const next = ways.flatMap(({ from, to }) => (from === at ? (stops[to]?.title ?? []) : []));
    const leads = next.length > 0 ? `, leads to ${next.join(', ')}` : '';
    return `${stop.title}${stop.steps === 0 ? ' (a beginning)' : ''}: ${found(stop)}${leads}`;
  });
  return `Scenes and the ways between them. ${told.join('. ')}.`;
}
