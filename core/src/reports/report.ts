/** What a report is written from: findings that stand without their map, the verdict, and what they are measured against. */
import { itemAt } from '../helpers/at.js';
import type { Excerpt } from '../model/evidence.js';
import type { Range } from '../model/piece.js';
import type { Remembered } from '../decisions/since.js';
import type { Readiness } from '../readiness/readiness.js';
import type { Stops } from '../route/stops.js';
import type { FindingView } from '../trace/finding-view.js';

export interface Report {
  /** Name of the project. */
  project: string;
  /** Day and time of the scan, as people read it; empty where it is not to be told. */
  at: string;
  /** Version of Glue Trace. */
  version: string;
  readiness: Readiness;
  findings: readonly FindingView[];
  /** What the findings are measured against; nothing is new without. */
  since?: ReportSince;
  /** What was chosen of all findings, in words. */
  chosen?: string;
  /** The scenes of the route, or of the whole, and the ways between them. */
  stops?: Stops;
  /** The lines around a place, where they can be had. */
  excerpt?: (file: string, range: Range) => Excerpt | undefined;
}

export interface ReportSince {
  /** What it is: `main`, `scan 12`, `baseline.json`. */
  name: string;
  /** Fingerprints of those that came since. */
  appeared: ReadonlySet<string>;
  gone: readonly Remembered[];
}

/** Where a finding stands first, as `scenes/weir.json:12:3`. */
export function placeOf({ evidence }: FindingView): string {
  const { file, range } = itemAt(evidence, 0);
  return `${file}:${range.line}:${range.column}`;
}

/** `new`, `known`, or nothing where nothing is measured. */
export function newness({ since }: Pick<Report, 'since'>, { fingerprint }: FindingView): string {
  return since ? (since.appeared.has(fingerprint) ? 'new' : 'known') : '';
}

/** Why a finding is waived, with who said so and until when. */
export function waivedWords({ waived }: Pick<FindingView, 'waived'>): string {
  if (!waived) return '';
  const by = waived.by ? `, by ${waived.by}` : '';
  return `${waived.reason}${by}${waived.until ? `, until ${waived.until}` : ''}`;
}
