import {
  newSince,
  onRoute,
  readinessOf,
  remembered,
  SEVERITIES,
  reachedBy,
  sinceThen,
  stopsOf,
  viewFinding,
  writeReport,
  type FindingView,
  type Report,
  type ReportFormat,
  type Severity,
} from '@glue-trace/core';
import {
  excerptsIn,
  findingsBefore,
  fixesOf,
  routeNamed,
  scanFolder,
  writeWhole,
  type ScanResult,
} from '@glue-trace/server';
import { learnedWords } from './plan-commands.js';
import { give, remark, tell } from './terminal.js';

export interface ScanFlags {
  plan?: string;
  format: ReportFormat;
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
  const { format, failOn } = flags;
  const text = writeReport(report, format, {
    ...{ withWaived: flags.waived, idle: result.idleWaivers, failOn, more: restOf(result) },
    ...(format === 'sarif' && { fixes: await fixesOf(dir, result) }),
  });
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
          known: readiness.known,
          route: route.pieces,
        })
      : readiness,
    findings: views,
    ...(route && {
      chosen: `On the route “${flags.route ?? ''}”; ${findings.length - chosen.length} more findings lie off it.`,
    }),
    ...(flags.format === 'html' && {
      stops: stopsOf(linked.graph, (route ?? reachedBy(linked.graph, { from: readiness.starts ?? [] })).starts, views, {
        isWhole: !route,
      }),
    }),
    excerpt: excerptsIn(dir),
  };
  if (flags.newSince === undefined) return report;
  const before = await findingsBefore(dir, flags.newSince, result.plan, flags.data);
  // What lies off the route is not gone.
  const { gone } = sinceThen(
    findings.map((finding) => remembered(viewFinding(linked.graph, finding))),
    before.findings,
  );
  const since = { name: before.name, appeared: newSince(views, before.findings), gone };
  return { ...report, since };
}

/** What JSON tells beside the findings. */
function restOf({ files, milliseconds, idleWaivers }: ScanResult): object {
  const unread = files.filter((file) => file.reason).map(({ path, status, reason }) => ({ path, status, reason }));
  return { milliseconds, files: files.length, unread, idleWaivers };
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
