import { SEVERITIES, toSarif, toText, viewFinding, type Severity } from '@glue-trace/core';
import { fixesOf, scanFolder, writeWhole, type ScanResult } from '@glue-trace/server';
import { learnedWords } from './plan-commands.js';
import { give, remark, tell } from './terminal.js';

export interface ScanFlags {
  plan?: string;
  format: 'text' | 'json' | 'sarif';
  out?: string;
  failOn: Severity | 'never';
}

/** Scans, writes the findings, and sets the exit code by the threshold. */
export async function scanCommand(dir: string, flags: ScanFlags, version: string): Promise<void> {
  const result = await scanFolder({ folder: dir, planFile: flags.plan, learns: true });
  if (result.learned) remark(learnedWords(dir, result.learned));
  const report = await write(result, flags.format, version, dir);
  if (flags.out === undefined) await (flags.format === 'text' ? tell(report) : give(report));
  else writeWhole(flags.out, report);
  process.exitCode = isAtOrAbove(result, flags.failOn) ? 1 : 0;
}

async function write(result: ScanResult, format: ScanFlags['format'], version: string, dir: string): Promise<string> {
  const { analysis, files, milliseconds } = result;
  const { findings, readiness, linked } = analysis;
  if (format === 'text') return toText(findings, readiness);
  if (format === 'sarif') return JSON.stringify(toSarif(findings, version, await fixesOf(dir, result)), null, 2) + '\n';
  const views = findings.map((finding) => viewFinding(linked.graph, finding));
  const unread = files.filter((file) => file.reason).map(({ path, status, reason }) => ({ path, status, reason }));
  return (
    JSON.stringify({ version, milliseconds, files: files.length, unread, readiness, findings: views }, null, 2) + '\n'
  );
}

function isAtOrAbove({ analysis }: ScanResult, threshold: ScanFlags['failOn']): boolean {
  if (threshold === 'never') return false;
  return analysis.findings.some((finding) => SEVERITIES.indexOf(finding.severity) <= SEVERITIES.indexOf(threshold));
}
