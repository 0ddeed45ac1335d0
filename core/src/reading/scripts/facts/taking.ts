/** What the passes over one script share: the code, where in it they are, and what was noted so far. */
import type { Moment, Side } from '../../../model/link.js';
import type { Range } from '../../../model/piece.js';
import type { FlagUse, Gate, MemberUse, Operation, ScriptFacts, Touch, Value } from '../../facts.js';
import type { Lines } from '../../lines.js';
import type { Plan, ScriptRule } from '../../plan/plan.js';
import { callTableOf, type CallTable } from '../call-table.js';
import type { Expression, FunctionSyntax, ScriptSyntax, Statement } from '../syntax.js';
import { createTypeNotes, type TypeNotes } from '../type-notes.js';
import type { Scope } from './scope.js';

/** A condition that the code hangs on here, and until where it does. */
export interface OpenGate {
  gate: Gate;
  /** `inside` the branch that asks; or it came of a way out, and holds as far as that leads past the code. */
  until: 'inside' | 'pass' | 'loop' | 'try' | 'function';
}

/** Where in the code a pass is. Whoever changes a part puts it back when done. */
export interface Here {
  /** Position in the facts' `types` and `functions`, or -1. */
  type: number;
  function: number;
  moment: Moment;
  side: Side;
  /** The statements of the function around. */
  body: readonly Statement[];
  gates: OpenGate[];
  /** The condition that is being read, as written. */
  asking: string | undefined;
  /** The call that a statement consists of: it is made for what it does. */
  bareStatement: Expression | undefined;
}

/** What is gathered while the code is walked, and put in order afterwards. Keys are made where the notes are. */
export interface Notes {
  uses: Map<string, MemberUse>;
  fieldReads: Map<string, ScriptFacts['fieldReads'][number]>;
  touches: Map<string, Touch>;
  flags: Map<string, FlagUse>;
  /** Fields of the own types that are set to a truth value, by `type/field`. */
  setToTruth: Map<string, Range>;
  /** What each function asks for before use: `function thing`. */
  askedIn: Set<string>;
  /** Fields of a type (`type/field`) that some code asks for before use. */
  askedFields: Set<string>;
  /** Operations kept in a field, by `type/field`. */
  keptIn: { field: string; operation: number }[];
  mentions: Set<string>;
  memberWrites: Set<string>;
  memberReads: Set<string>;
  tableKeys: Set<string>;
  /** Members of tables that are used, once for each type; those for which the code has something else at hand. */
  tableUses: Set<string>;
  spared: Set<Expression>;
  /** Names of functions that are handed on to be called by an event. */
  handlers: Set<string>;
  /** What the entries of tables stand for. */
  entryValues: Map<Expression, Value>;
  /** Functions called without a receiver, by name. */
  bareCalls: Map<string, ScriptFacts['strangers'][number]>;
  /** Every name that the file itself gives a meaning. */
  ownNames: Set<string>;
}

export interface Taking {
  readonly script: ScriptSyntax;
  readonly text: string;
  readonly plan: Plan;
  readonly rule: ScriptRule;
  readonly lines: Lines;
  readonly table: CallTable;
  readonly types: TypeNotes;
  /** Filled by the passes; complete when all have run. */
  readonly facts: ScriptFacts;
  readonly notes: Notes;
  here: Here;
  /** The two passes that call each other, function within expression within function. */
  readonly evaluate: (taking: Taking, expression: Expression, scope: Scope) => Value;
  readonly addFunction: (taking: Taking, code: FunctionSyntax, scope: Scope, moment: Moment) => void;
}

export function createTaking(
  script: ScriptSyntax,
  text: string,
  plan: Plan,
  rule: ScriptRule,
  lines: Lines,
  passes: Pick<Taking, 'evaluate' | 'addFunction'>,
): Taking {
  const taking: Taking = {
    script,
    text,
    plan,
    rule,
    lines,
    table: callTableOf(plan),
    types: createTypeNotes(script, plan.globals, () => taking.here.type),
    facts: {
      language: rule.language,
      types: [],
      functions: [],
      operations: [],
      fieldValues: [],
      memberWrites: [],
      memberReads: [],
      tableKeys: [],
      tables: [],
      namedTables: [],
      tableUses: [],
      fieldReads: [],
      flagUses: [],
      touches: [],
      side: rule.side,
      constants: [],
      mentions: [],
      literals: [],
      uses: [],
      strangers: [],
      gives: script.gives ?? { names: [], everywhere: [], from: [], isWhole: true, isModule: false },
      imports: script.imports.map(({ from, names, start, end }) => ({ from, names, range: lines.range(start, end) })),
    },
    notes: {
      uses: new Map(),
      fieldReads: new Map(),
      touches: new Map(),
      flags: new Map(),
      setToTruth: new Map(),
      askedIn: new Set(),
      askedFields: new Set(),
      keptIn: [],
      mentions: new Set(),
      memberWrites: new Set(),
      memberReads: new Set(),
      tableKeys: new Set(),
      tableUses: new Set(),
      spared: new Set(),
      handlers: new Set(),
      entryValues: new Map(),
      bareCalls: new Map(),
      ownNames: new Set(),
    },
    here: {
      type: -1,
      function: -1,
      moment: 'unknown',
      side: rule.side,
      body: [],
      gates: [],
      asking: undefined,
      bareStatement: undefined,
    },
    ...passes,
  };
  return taking;
}

/** Type, function and range of what is noted here. */
export function placed(
  { here, lines }: Taking,
  { start, end }: { start: number; end: number },
): { type: number; function: number; range: Range } {
  return { type: here.type, function: here.function, range: lines.range(start, end) };
}

/** The operation that a value stands for. */
export function operationIn({ facts }: Taking, value: Value): Operation | undefined {
  return value.is === 'operation' ? facts.operations[value.operation] : undefined;
}

/** Names a thing that the code found or holds, for keys. */
export function thingKey(value: Value): string | undefined {
  if (value.is === 'operation') return `operation ${value.operation}`;
  return value.is === 'field' ? `field ${value.name}` : undefined;
}
