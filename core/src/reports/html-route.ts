/** The scenes of a route and the ways between them as a drawing, with what was found on each in words. */
import { SEVERITIES } from '../model/finding.js';
import { itemAt } from '../helpers/at.js';
import type { Stops } from '../route/stops.js';
import { foundOn, leftOutWords, routeInWords, stopsToDraw } from '../route/told.js';
import { routeLayout } from './route-layout.js';
import { xmlText } from './xml.js';

/** Empty where there is no way to draw; stops that no way leads to or from are only counted. */
export function routeDrawing(route: Stops | undefined): string {
  if (!route || route.ways.length === 0) return '';
  const drawn = stopsToDraw(route);
  const layout = routeLayout(drawn);
  const { width, height } = layout;
  const lines = layout.ways.map(
    (line, at) => `<path class="way ${itemAt(drawn.ways, at).grip}" d="${line}" marker-end="url(#there)"/>`,
  );
  const boxes = layout.boxes.map(({ stop, x, y, width, height, title }) => {
    const worst = SEVERITIES.find((severity) => stop.counts[severity] > 0) ?? '';
    return `<g><title>${xmlText(stop.key)}</title><rect class="stop ${worst}${stop.steps === 0 ? ' start' : ''}" x="${x}" y="${y}" width="${width}" height="${height}" rx="4"/><text x="${x + 9}" y="${y + 18}" class="name">${xmlText(title)}</text><text x="${x + 9}" y="${y + 35}">${xmlText(foundOn(stop))}</text></g>`;
  });
  const words = `Scenes and the ways between them. ${routeInWords(drawn, foundOn).join('. ')}.`;
  return `<figure><svg role="img" aria-label="${xmlText(words)}" viewBox="0 0 ${width} ${height}" width="${width}" height="${height}"><defs><marker id="there" viewBox="0 0 8 8" refX="7" refY="4" markerWidth="7" markerHeight="7" orient="auto"><path d="M0 0 L8 4 L0 8 z"/></marker></defs>${lines.join('')}${boxes.join('')}</svg>
<figcaption>From left to right: scenes by how many loads it takes to come to them, each with all that was found on what comes along with it. What several share counts at each of them. A way is the more broken up, the weaker its grip. ${xmlText(leftOutWords(drawn))}</figcaption></figure>`;
}
