/** Findings as SARIF 2.1.0 (OASIS), for code review and build servers. */
import { itemAt } from '../helpers/at.js';
import { CHECKS } from '../checks/registry.js';
import type { Remembered } from '../decisions/since.js';
import type { Severity } from '../model/finding.js';
import type { Range } from '../model/piece.js';
import type { Evidence } from '../model/evidence.js';
import type { FindingView } from '../trace/finding-view.js';
import { waivedWords, type Report } from './report.js';

const LEVEL: Record<Severity, 'error' | 'warning' | 'note'> = { error: 'error', warning: 'warning', note: 'note' };

/** A repair that is sure and was tried, edit by edit. */
export interface Fix {
  title: string;
  files: { file: string; edits: { range: Range; text: string }[] }[];
}

/** @param fixes by the fingerprint of their finding */
export function toSarif(
  { findings, version, since }: Pick<Report, 'findings' | 'version' | 'since'>,
  fixes: ReadonlyMap<string, Fix> = new Map(),
): object {
  return {
    $schema: 'https://json.schemastore.org/sarif-2.1.0.json',
    version: '2.1.0',
    runs: [
      {
        tool: {
          driver: {
            name: 'Glue Trace',
            semanticVersion: version,
            rules: CHECKS.map((check) => ({
              id: check.id,
              name: pascal(check.id),
              shortDescription: { text: check.title },
              fullDescription: { text: check.why },
              help: { text: check.decides },
              defaultConfiguration: { level: LEVEL[check.severity] },
            })),
          },
        },
        columnKind: 'utf16CodeUnits',
        originalUriBaseIds: { PROJECT: { description: { text: 'The folder that was scanned' } } },
        results: [
          ...findings.map((finding) => ({
            ruleId: finding.check,
            ruleIndex: CHECKS.findIndex((check) => check.id === finding.check),
            level: LEVEL[finding.severity],
            message: { text: `${finding.text}. ${finding.sure}` },
            locations: [locationOf(itemAt(finding.evidence, 0))],
            relatedLocations: finding.evidence.slice(1).map((evidence, at) => ({
              id: at + 1,
              ...locationOf(evidence),
              message: { text: evidence.shows },
            })),
            partialFingerprints: { 'glueTrace/v1': finding.fingerprint },
            ...(since && { baselineState: since.appeared.has(finding.fingerprint) ? 'new' : 'unchanged' }),
            suppressions: suppressionsOf(finding),
            ...fixesOf(fixes.get(finding.fingerprint)),
          })),
          ...(since?.gone ?? []).map(goneResult),
        ],
      },
    ],
  };
}

/** What is accepted on purpose; an empty list says that nothing is. */
function suppressionsOf({ waived }: FindingView): object[] {
  if (!waived) return [];
  return [
    { kind: waived.isInFile ? 'inSource' : 'external', status: 'accepted', justification: waivedWords({ waived }) },
  ];
}

/** A finding of the time before that is there no more. */
function goneResult({ check, severity, text, file, line, fingerprint }: Remembered): object {
  return {
    ...(check && { ruleId: check }),
    level: LEVEL[severity],
    message: { text: text || check },
    ...(file && {
      locations: [{ physicalLocation: { artifactLocation: artifactOf(file), region: { startLine: line } } }],
    }),
    partialFingerprints: { 'glueTrace/v1': fingerprint },
    baselineState: 'absent',
  };
}

function fixesOf(fix: Fix | undefined): object {
  if (!fix) return {};
  const artifactChanges = fix.files.map(({ file, edits }) => ({
    artifactLocation: artifactOf(file),
    replacements: edits.map(({ range, text }) => ({ deletedRegion: regionOf(range), insertedContent: { text } })),
  }));
  return { fixes: [{ description: { text: fix.title }, artifactChanges }] };
}

function locationOf({ file, range }: Evidence): object {
  return { physicalLocation: { artifactLocation: artifactOf(file), region: regionOf(range) } };
}

function artifactOf(file: string): object {
  return { uri: file.split('/').map(encodeURIComponent).join('/'), uriBaseId: 'PROJECT' };
}

function regionOf({ line, column, endLine, endColumn }: Range): object {
  return { startLine: line, startColumn: column, endLine, endColumn };
}

/** `broken/missing-file` → `BrokenMissingFile`. */
function pascal(id: string): string {
  return id.replace(/(^|[/-])([a-z])/g, (_whole, _mark, letter: string) => letter.toUpperCase());
}
