/** Where the scenes of a route and the ways between them lie on a page that nothing but this writes. */
import type { Stop } from '../route/stops.js';
import type { DrawnStops } from '../route/told.js';

/** Of a box, and between boxes, in pixels. */
const [WIDTH, HEIGHT, ACROSS, DOWN] = [164, 44, 56, 16];
/** Letters that fit into a box. */
const MOST_LETTERS = 22;
/** Room for the outline, and half of what lies between a way and one back. */
const [EDGE, APART] = [3, 7];

/** A drawing in pixels. */
export interface RouteLayout {
  width: number;
  height: number;
  boxes: { stop: Stop; x: number; y: number; width: number; height: number; title: string }[];
  /** Of each way its line, as the path data of SVG. */
  ways: string[];
}

/** From left to right scenes by the loads that it takes to come to them. */
export function routeLayout({ stops, ways }: DrawnStops): RouteLayout {
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
  const lineOf = (from: number, to: number): string => {
    const side = Math.sign(x(to) - x(from));
    // Ways there and back do not lie on each other.
    const [fromY, toY] = [y(from) + HEIGHT / 2 - side * APART, y(to) + HEIGHT / 2 - side * APART];
    const start = side < 0 ? x(from) : x(from) + WIDTH;
    const end = side > 0 ? x(to) - 2 : x(to) + WIDTH + 2;
    const [first, second] =
      side === 0 ? [start + ACROSS - 12, end + ACROSS - 12] : [(start + end) / 2, (start + end) / 2];
    return `M${start} ${fromY} C${first} ${fromY} ${second} ${toY} ${end} ${toY}`;
  };
  return {
    width: 2 * EDGE + columns.length * (WIDTH + ACROSS),
    height: 2 * EDGE + Math.max(1, ...columns.map(({ length }) => length)) * (HEIGHT + DOWN) - DOWN,
    boxes: stops.map((stop, at) => ({
      ...{ stop, x: x(at), y: y(at), width: WIDTH, height: HEIGHT },
      title: shortened(stop.title),
    })),
    ways: ways.map(({ from, to }) => lineOf(from, to)),
  };
}

function shortened(title: string): string {
  const letters = [...title];
  return letters.length > MOST_LETTERS ? `${letters.slice(0, MOST_LETTERS - 1).join('')}…` : title;
}
