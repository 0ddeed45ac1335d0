/**
 * Findings as one HTML page that stands alone: it asks nothing of any network, works from a mail and a disk, and prints.
 * What is shown can be narrowed by severity, check and words; printing prints what is shown.
 */
import { excerptLines } from './html-excerpt.js';
import { PAGE_SCRIPT, PAGE_STYLE } from './html-page.js';
import { barsOf } from './html-bars.js';
import { routeDrawing } from './html-route.js';
import { newness, waivedWords, type Report } from './report.js';
import { SEVERITIES } from '../model/finding.js';
import type { FindingView } from '../trace/finding-view.js';
import { xmlText } from './xml.js';

/** Of very many places the first ones are shown with their lines. */
const MOST_EXCERPTS = 6;

export function toHtml(report: Report): string {
  const { project, at, version, readiness, findings, since, chosen } = report;
  const title = xmlText(`${project}: ${readiness.verdict}`);
  const told = [
    at && `Scanned ${at}.`,
    `${readiness.pieces} pieces, ${readiness.links} links.`,
    chosen,
    since && `Since ${since.name}: ${since.appeared.size} new, ${since.gone.length} gone.`,
    readiness.waived > 0 && `${readiness.waived} waived.`,
  ].filter((words) => typeof words === 'string' && words !== '');
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<meta name="generator" content="Glue Trace ${xmlText(version)}">
<meta http-equiv="Content-Security-Policy" content="default-src 'none'; style-src 'unsafe-inline'; script-src 'unsafe-inline'">
<title>${title}</title>
<style>${PAGE_STYLE}</style>
</head>
<body>
<header>
<h1>${xmlText(project)}</h1>
<p class="verdict ${readiness.isReady ? 'ready' : 'not-ready'}">${xmlText(readiness.verdict)}.</p>
<p>${xmlText(told.join(' '))}</p>
${barsOf(findings)}
${routeDrawing(report.stops)}
</header>
${filters(report)}
<main>
${findings.length === 0 ? '<p>Nothing was found.</p>' : findings.map((one) => entry(report, one)).join('\n')}
<p id="nothing" hidden>Nothing is left by these filters.</p>
${goneSince(report)}
</main>
<script>${PAGE_SCRIPT}</script>
</body>
</html>
`;
}

function filters({ findings, since }: Report): string {
  const checks = [...new Set(findings.map(({ check }) => check))].sort();
  const count = (severity: string): number => findings.filter((one) => one.severity === severity && !one.waived).length;
  const box = (name: string, label: string, isOn = true): string =>
    `<label><input type="checkbox" name="${name}"${isOn ? ' checked' : ''}> ${xmlText(label)}</label>`;
  return `<form id="filters" hidden>
${SEVERITIES.filter((one) => count(one) > 0)
  .map((one) => box(one, `${one}s (${count(one)})`))
  .join('\n')}
${findings.some(({ waived }) => waived) ? box('waived', `waived (${findings.filter(({ waived }) => waived).length})`, false) : ''}
${since ? box('known', 'what was known before') : ''}
<label>Check <select name="check"><option value="">all</option>${checks.map((one) => `<option>${xmlText(one)}</option>`).join('')}</select></label>
<label>Words <input type="search" name="words"></label>
<output name="shown" aria-live="polite"></output>
</form>`;
}

function entry(report: Report, finding: FindingView): string {
  const { severity, check, text, sure, evidence, repairs, walk, places } = finding;
  const since = newness(report, finding);
  const marks = [
    `<span class="severity">${severity}</span>`,
    since === 'new' ? '<span class="new">new</span>' : '',
    finding.waived ? '<span class="waived">waived</span>' : '',
    `<span class="check">${xmlText(check)}</span>`,
  ].join(' ');
  const shown = evidence.map(({ file, range, shows }, at) => {
    const lines = at < MOST_EXCERPTS ? report.excerpt?.(file, range) : undefined;
    return `<li><code>${xmlText(`${file}:${range.line}`)}</code> ${xmlText(shows)}${lines ? excerptLines(lines) : ''}</li>`;
  });
  const more = places > evidence.length ? `<li>and more: ${places} places in all</li>` : '';
  return `<article class="${severity}" data-severity="${severity}" data-check="${xmlText(check)}" data-since="${since}"${finding.waived ? ' data-waived' : ''}>
<p class="marks">${marks}</p>
<h2>${xmlText(text)}</h2>
${finding.waived ? `<p>Waived: ${xmlText(waivedWords(finding))}</p>` : ''}
${finding.waiverEnded ? `<p>It was waived until ${xmlText(finding.waiverEnded.until ?? '')}: ${xmlText(finding.waiverEnded.reason)}</p>` : ''}
<ul class="evidence">${shown.join('\n')}${more}</ul>
${walk.length > 0 ? `<ol class="walk">${walk.map(({ asks, finds }) => `<li>${xmlText(asks)} → ${xmlText(finds)}</li>`).join('')}</ol>` : ''}
<p class="sure">${xmlText(sure)}</p>
${repairs.length > 0 ? `<ul class="repairs">${repairs.map(({ title, words }) => `<li><strong>${xmlText(title)}.</strong> ${xmlText(words)}</li>`).join('')}</ul>` : ''}
</article>`;
}

function goneSince({ since }: Report): string {
  if (!since || since.gone.length === 0) return '';
  const all = since.gone.map(
    ({ text, check }) => `<li>${xmlText(text)} <span class="check">${xmlText(check)}</span></li>`,
  );
  return `<section><h2>Gone since ${xmlText(since.name)}</h2><ul>${all.join('')}</ul></section>`;
}
