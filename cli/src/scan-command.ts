import {
  baselineText,
  CHECK_IDS,
  remembered,
  SEVERITIES,
  sinceThen,
  newSince,
  onRoute,
  readinessOf,
  toCsv,
  toHtml,
  toJunit,
  toMarkdown,
  toSarif,
  toText,
  excerptOf,
  viewFinding,
  type FindingView,
  type Report,
  type Severity,
} from '@glue-trace/core';
import {
  findingsBefore,
  fixesOf,
  routeNamed,
  scanFolder,
  textAt,
  writeWhole,
  type ScanResult,
} from '@glue-trace/server';
import { learnedWords } from './plan-commands.js';
import { give, remark, tell } from './terminal.js';

export const FORMATS = ['text', 'json', 'sarif', 'junit', 'markdown', 'csv', 'html', 'baseline'] as const;

export interface ScanFlags {
  plan?: string;
  format: (typeof FORMATS)[number];
  out?: string;
  failOn: Severity | 'never';
  /** A revision, `scan:12` or `file:baseline.json`. */
  newSince?: string;
  allowUnread?: boolean;
  /** A saved route, `start`, or where play begins. */
  route?: string;
  waived?: boolean;
  data: string;
}

/** Scans, writes the findings, and sets the exit code by the threshold. */
export async function scanCommand(dir: string, flags: ScanFlags, version: string): Promise<void> {
  const result = await scanFolder({ folder: dir, planFile: flags.plan, learns: true });
  if (result.learned) remark(learnedWords(dir, result.learned));
  const report = await reportOf(dir, result, flags, version);
  const text = await write(report, result, flags, dir);
  if (flags.out === undefined) await (flags.format === 'text' ? tell(text) : give(text));
  else writeWhole(flags.out, text);
  const { known, verdict } = report.readiness;
  process.exitCode = failing(report, flags.failOn).length > 0 ? 1 : 0;
  if (known?.isLittle !== true || flags.allowUnread) return;
  remark(
    `glue: ${verdict}. “--allow-unread” lets that pass; “house.leastRead” in the plan says how much must be read.`,
  );
  process.exitCode = 2;
}

/** The findings, measured against the time before when asked. */
async function reportOf(dir: string, result: ScanResult, flags: ScanFlags, version: string): Promise<Report> {
  const { linked, findings, readiness } = result.analysis;
  const route =
    flags.route === undefined ? undefined : routeNamed(dir, linked.graph, flags.route, readiness.starts ?? []);
  const chosen = route ? onRoute(findings, route.pieces) : findings;
  const views = chosen.map((finding) => viewFinding(linked.graph, finding));
  const report: Report = {
    project: result.plan.name,
    at: '',
    version,
    readiness: route
      ? readinessOf(linked.graph, chosen, {
          learned: result.plan.learned.rules,
          readShare: readiness.known,
          leastRead: result.plan.house.leastRead,
          route: route.pieces,
        })
      : readiness,
    findings: views,
    ...(route && {
      chosen: `On the route “${flags.route ?? ''}”; ${findings.length - chosen.length} more findings lie off it.`,
    }),
    excerpt: (file, range) => {
      const text = textAt(dir, file);
      return text === '' ? undefined : excerptOf(file, text, range);
    },
  };
  if (flags.newSince === undefined) return report;
  const before = await findingsBefore(dir, flags.newSince, result.plan, flags.data);
  const { gone } = sinceThen(views.map(remembered), before.findings);
  const since = { name: before.name, appeared: newSince(views, before.findings), gone };
  return { ...report, since };
}

async function write(report: Report, result: ScanResult, flags: ScanFlags, dir: string): Promise<string> {
  switch (flags.format) {
    case 'text':
      return toText(report, { withWaived: flags.waived, idle: result.idleWaivers });
    case 'json':
      return jsonOf(report, result);
    case 'sarif':
      return JSON.stringify(toSarif(report, await fixesOf(dir, result)), null, 2) + '\n';
    case 'junit':
      return toJunit(report, flags.failOn, CHECK_IDS);
    case 'markdown':
      return toMarkdown(report);
    case 'csv':
      return toCsv(report);
    case 'html':
      return toHtml(report);
    case 'baseline':
      return baselineText(report.findings.filter(({ waived }) => !waived).map(remembered));
  }
}

function jsonOf(
  { version, readiness, findings, since }: Report,
  { files, milliseconds, idleWaivers }: ScanResult,
): string {
  const unread = files.filter((file) => file.reason).map(({ path, status, reason }) => ({ path, status, reason }));
  const told = since ? findings.map((one) => ({ ...one, isNew: since.appeared.has(one.fingerprint) })) : findings;
  const whole = {
    version,
    milliseconds,
    files: files.length,
    unread,
    readiness,
    ...(since && { since: { name: since.name, gone: since.gone } }),
    idleWaivers,
    findings: told,
  };
  return JSON.stringify(whole, null, 2) + '\n';
}

/** Findings at the threshold or above that are not accepted, and new where that is asked. */
function failing({ findings, since }: Report, threshold: ScanFlags['failOn']): FindingView[] {
  if (threshold === 'never') return [];
  return findings.filter(
    ({ severity, waived, fingerprint }) =>
      !waived &&
      SEVERITIES.indexOf(severity) <= SEVERITIES.indexOf(threshold) &&
      (!since || since.appeared.has(fingerprint)),
  );
}
