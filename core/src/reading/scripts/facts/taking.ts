/** What the passes over one script share: the code, where in it they are, and what was noted so far. */
import type { Moment, Side } from '../../../model/link.js';
import type { Range } from '../../../model/piece.js';
import {
  UNKNOWN,
  type FlagUse,
  type Gate,
  type MemberUse,
  type Operation,
  type ScriptFacts,
  type Touch,
  type Value,
} from '../../facts.js';
import type { Meaning } from '../../plan/meanings.js';
import type { Lines } from '../../lines.js';
import type { Plan, ScriptRule } from '../../plan/plan.js';
import { callTableOf, type CallTable } from '../call-table.js';
import type { Expression, FunctionSyntax, ScriptSyntax, Statement } from '../syntax.js';
import { createTypeNotes, type TypeNotes } from '../type-notes.js';
import { createFlow, type Flow } from './flow.js';
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
  /** Operations farther down that the code asks for before use. */
  askedAhead: Set<number>;
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
  /** What functions written in place are given, where the call that takes them says it: elements of a list. */
  givenInPlace: Map<FunctionSyntax, Value>;
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
  /** What flows between functions: as the walk before found it, and as this one finds it. */
  readonly known: Flow;
  readonly flow: Flow;
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
  known: Flow,
  passes: Pick<Taking, 'evaluate' | 'addFunction'>,
): Taking {
  const taking: Taking = {
    script,
    text,
    plan,
    rule,
    lines,
    table: callTableOf(plan),
    known,
    flow: createFlow(),
    types: createTypeNotes(script, plan.globals, () => taking.here.type),
    facts: {
      language: rule.language,
      types: [],
      functions: [],
      operations: [],
      handed: [],
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
      askedAhead: new Set(),
      keptIn: [],
      mentions: new Set(),
      memberWrites: new Set(),
      memberReads: new Set(),
      tableKeys: new Set(),
      tableUses: new Set(),
      spared: new Set(),
      handlers: new Set(),
      givenInPlace: new Map(),
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
export function operationIn({ facts, known }: Taking, value: Value): Operation | undefined {
  if (value.is !== 'operation') return undefined;
  // What stands farther down is known from the walk before.
  return facts.operations[value.operation] ?? known.operations[value.operation];
}

/** One of what a value stands for when the code goes through it: of a list, or of all that a look-up finds. */
export function oneOf(taking: Taking, value: Value): Value {
  if (value.is === 'any') return value.each ? value : UNKNOWN;
  const operation = operationIn(taking, value);
  const means = operation && taking.plan.calls[operation.rule]?.means;
  return means && FINDS_MANY.has(means) ? value : UNKNOWN;
}

const FINDS_MANY = new Set<Meaning>(['find', 'find label', 'find type']);

/** Names a thing that the code found or holds, for keys. */
export function thingKey(value: Value): string | undefined {
  if (value.is === 'operation') return `operation ${value.operation}`;
  return value.is === 'field' ? `field ${value.name}` : undefined;
}
