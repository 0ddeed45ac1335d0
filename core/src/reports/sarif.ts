/** Findings as SARIF 2.1.0 (OASIS), for code review and build servers. */
import { itemAt } from '../helpers/at.js';
import { CHECKS } from '../checks/registry.js';
import { plain, type Finding, type Severity } from '../model/finding.js';
import type { Range } from '../model/piece.js';
import type { Evidence } from '../model/evidence.js';

const LEVEL: Record<Severity, 'error' | 'warning' | 'note'> = { error: 'error', warning: 'warning', note: 'note' };

/** A repair that is sure and was tried, edit by edit. */
export interface Fix {
  title: string;
  files: { file: string; edits: { range: Range; text: string }[] }[];
}

/**
 * @param version of Glue Trace
 * @param fixes by the fingerprint of their finding
 */
export function toSarif(findings: Finding[], version: string, fixes: ReadonlyMap<string, Fix> = new Map()): object {
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
        results: findings.map((finding) => ({
          ruleId: finding.check,
          ruleIndex: CHECKS.findIndex((check) => check.id === finding.check),
          level: LEVEL[finding.severity],
          message: { text: `${plain(finding.sentence)}. ${finding.sure}` },
          locations: [locationOf(itemAt(finding.evidence, 0))],
          relatedLocations: finding.evidence.slice(1).map((evidence, at) => ({
            id: at + 1,
            ...locationOf(evidence),
            message: { text: evidence.shows },
          })),
          partialFingerprints: { 'glueTrace/v1': finding.fingerprint },
          ...fixesOf(fixes.get(finding.fingerprint)),
        })),
      },
    ],
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
