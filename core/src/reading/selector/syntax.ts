import { itemAt } from '../../helpers/at.js';
/** The parts a JSONPath query is made of (RFC 9535, section 2). */

export interface Query {
  /** Whether the query starts at the document (`$`) or, inside a filter, at the current node (`@`). */
  from: 'document' | 'current';
  segments: Segment[];
}

export interface Segment {
  /** A descendant segment (`..`) visits the node and everything below it. */
  descendant: boolean;
  selectors: Selector[];
}

export type Selector =
  | { is: 'name'; name: string }
  | { is: 'wildcard' }
  | { is: 'index'; index: number }
  | { is: 'slice'; start?: number; end?: number; step: number }
  | { is: 'filter'; test: Test };

/** An expression that is true or false. */
export type Test =
  | { is: 'or' | 'and'; tests: Test[] }
  | { is: 'not'; test: Test }
  | { is: 'exists'; query: Query }
  | { is: 'compare'; left: Operand; operator: Comparison; right: Operand }
  | { is: 'call'; call: Call };

export type Comparison = '==' | '!=' | '<' | '<=' | '>' | '>=';

/** An expression that has one value or none. */
export type Operand =
  | { is: 'literal'; value: string | number | boolean | null }
  | { is: 'query'; query: Query }
  | { is: 'call'; call: Call };

export type FunctionName = 'length' | 'count' | 'match' | 'search' | 'value';

export interface Call {
  name: FunctionName;
  arguments: Operand[];
}

/** What each function takes and gives (RFC 9535, section 2.4). */
export const FUNCTIONS: Record<FunctionName, { takes: ('value' | 'nodes')[]; gives: 'value' | 'logical' }> = {
  length: { takes: ['value'], gives: 'value' },
  count: { takes: ['nodes'], gives: 'value' },
  match: { takes: ['value', 'value'], gives: 'logical' },
  search: { takes: ['value', 'value'], gives: 'logical' },
  value: { takes: ['nodes'], gives: 'value' },
};

/** Whether a query can give at most one node: only names and indexes, no descent. */
export function isSingular(query: Query): boolean {
  return query.segments.every(
    (segment) =>
      !segment.descendant &&
      segment.selectors.length === 1 &&
      (itemAt(segment.selectors, 0).is === 'name' || itemAt(segment.selectors, 0).is === 'index'),
  );
}
