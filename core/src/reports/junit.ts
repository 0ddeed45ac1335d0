/** Findings as JUnit XML, as build servers read it: a suite for each check, a case for each finding. */
import { grouped } from '../helpers/grouped.js';
import { SEVERITIES, type Severity } from '../model/finding.js';
import type { FindingView } from '../trace/finding-view.js';
import { newness, placeOf, waivedWords, type Report } from './report.js';
import { xmlAttribute, xmlText } from './xml.js';

/**
 * @param failOn the least grave severity that fails; what is measured against an earlier time fails only when it is new
 * @param checks ids of all checks that were run: those that found nothing are told as passed
 */
export function toJunit(report: Report, failOn: Severity | 'never', checks: readonly string[]): string {
  const fails = (one: FindingView): boolean =>
    failOn !== 'never' &&
    !one.waived &&
    newness(report, one) !== 'known' &&
    SEVERITIES.indexOf(one.severity) <= SEVERITIES.indexOf(failOn);
  const byCheck = new Map(grouped(report.findings, ({ check }) => check).map((all) => [all[0].check, all]));
  const suites = [...new Set([...checks, ...byCheck.keys()])].map((check) => {
    const all = byCheck.get(check) ?? [];
    const cases = all.length > 0 ? all.map((one) => caseOf(one, fails(one))) : [passed(check)];
    const failures = all.filter(fails).length;
    const skipped = all.filter(({ waived }) => waived).length;
    const counts = `tests="${cases.length}" failures="${failures}" errors="0" skipped="${skipped}"`;
    return {
      failures,
      tests: cases.length,
      text: `  <testsuite name="${xmlAttribute(check)}" ${counts}>\n${cases.join('')}  </testsuite>\n`,
    };
  });
  const sum = (what: 'failures' | 'tests'): number => suites.reduce((all, one) => all + one[what], 0);
  return [
    '<?xml version="1.0" encoding="UTF-8"?>\n',
    `<testsuites name="${xmlAttribute(report.project)}" tests="${sum('tests')}" failures="${sum('failures')}" errors="0">\n`,
    ...suites.map(({ text }) => text),
    '</testsuites>\n',
  ].join('');
}

const passed = (check: string): string => `    <testcase name="nothing found" classname="${xmlAttribute(check)}"/>\n`;

function caseOf(finding: FindingView, isFailure: boolean): string {
  const head = `    <testcase name="${xmlAttribute(`${finding.text} (${placeOf(finding)})`)}" classname="${xmlAttribute(finding.check)}"`;
  const told = xmlText(wordsOf(finding));
  if (finding.waived)
    return `${head}>\n      <skipped message="${xmlAttribute(`waived: ${waivedWords(finding)}`)}"/>\n    </testcase>\n`;
  if (isFailure)
    return `${head}>\n      <failure message="${xmlAttribute(finding.text)}" type="${finding.severity}">${told}</failure>\n    </testcase>\n`;
  return `${head}>\n      <system-out>${told}</system-out>\n    </testcase>\n`;
}

function wordsOf({ severity, sure, evidence, repairs }: FindingView): string {
  return [
    `${severity}: ${sure}`,
    ...evidence.map(({ file, range, shows }) => `${file}:${range.line}:${range.column}  ${shows}`),
    ...repairs.slice(0, 1).map(({ title, words }) => `${title}: ${words}`),
  ].join('\n');
}
