import { SEVERITIES } from '../model/finding.js';
import type { FindingView } from '../trace/finding-view.js';

/** Families in the order in which they are told everywhere. */
const FAMILIES = ['broken', 'twin', 'fragile'];
const [LEFT, WIDTH, HEIGHT, GAP] = [70, 420, 16, 6];

/** How many findings of each family there are, as a drawing with its figures in words. */
export function barsOf(findings: readonly FindingView[]): string {
  const open = findings.filter(({ waived }) => !waived);
  if (open.length === 0) return '';
  const rows = FAMILIES.map((family) => {
    const own = open.filter(({ check }) => check.startsWith(`${family}/`));
    return {
      family,
      counts: SEVERITIES.map((severity) => own.filter((one) => one.severity === severity).length),
      all: own.length,
    };
  }).filter(({ all }) => all > 0);
  const most = Math.max(...rows.map(({ all }) => all));
  const drawn = rows.map(({ family, counts, all }, at) => {
    const y = at * (HEIGHT + GAP);
    let x = LEFT;
    const bars = counts.map((count, which) => {
      const width = (count / most) * WIDTH;
      const bar =
        count > 0
          ? `<rect class="${SEVERITIES[which] ?? ''}" x="${x.toFixed(1)}" y="${y}" width="${width.toFixed(1)}" height="${HEIGHT}"/>`
          : '';
      x += width;
      return bar;
    });
    return `<text x="${LEFT - 8}" y="${y + 12}" text-anchor="end">${family}</text>${bars.join('')}<text x="${(x + 6).toFixed(1)}" y="${y + 12}">${all}</text>`;
  });
  const told = rows
    .map(
      ({ family, counts }) => `${family}: ${counts.map((count, at) => `${count} ${SEVERITIES[at] ?? ''}s`).join(', ')}`,
    )
    .join('; ');
  const bottom = rows.length * (HEIGHT + GAP);
  const height = bottom + HEIGHT + GAP;
  const legend = SEVERITIES.map(
    (severity, at) =>
      `<rect class="${severity}" x="${LEFT + at * 90}" y="${bottom + 4}" width="10" height="10"/><text x="${LEFT + at * 90 + 16}" y="${bottom + 13}">${severity}s</text>`,
  );
  return `<svg role="img" aria-label="${told}" viewBox="0 0 ${LEFT + WIDTH + 50} ${height}" width="${LEFT + WIDTH + 50}" height="${height}">${drawn.join('')}${legend.join('')}</svg>`;
}
