/**
 * The one syntax that every script language is brought into before facts are taken from it.
 * It keeps what links can rest on and forgets the rest. Offsets are 0-based UTF-16 units, ends exclusive.
 */
import { itemAt } from '../../helpers/at.js';
import type { ReadProblem } from '../tree/node.js';

export interface ScriptSyntax {
  types: TypeSyntax[];
  /** Functions outside any type. */
  functions: FunctionSyntax[];
  /** Code that runs when the file is loaded. */
  body: Statement[];
  imports: ImportSyntax[];
  problems: ReadProblem[];
  /** In the order of the text. */
  comments: CommentSyntax[];
  /** Decorators and attributes that are given something, as calls. */
  decorated: (Expression & { is: 'call' })[];
  /** Tables that were taken for the fields of a type, and so stand nowhere in the code. */
  taken: { name: string; value: Expression }[];
  /** Where the language has files say what they give; undefined where all names at their top are given. */
  gives?: GivenNames;
}

/** Names that a file gives to others. */
export interface GivenNames {
  names: string[];
  /** Names that it declares for all files, wherever they stand. */
  everywhere: string[];
  /** Files all of whose names it gives on, as written. */
  from: string[];
  /** Nothing else can be taken from it. */
  isWhole: boolean;
  /** It gives only what it says it gives. */
  isModule: boolean;
}

interface Placed {
  start: number;
  end: number;
}

export type CommentSyntax = Placed;

export interface ImportSyntax extends Placed {
  /** The file or module as written. */
  from: string;
  names: { name: string; as: string }[];
}

export interface TypeSyntax extends Placed {
  name: string;
  nameStart: number;
  nameEnd: number;
  kind: 'class' | 'interface' | 'enum';
  /** Names as written, with the module in front where there is one. */
  parents: string[];
  fields: FieldSyntax[];
  functions: FunctionSyntax[];
  decorators: string[];
  /** Names of further members: events, types inside it. */
  others?: string[];
  /** It may have members whose names are not written out. */
  isOpen?: true;
  /** It is the file itself, whose functions call each other without a receiver. */
  isFile?: true;
}

export interface FieldSyntax extends Placed {
  name: string;
  /** The declared type as written, empty if none. */
  type: string;
  value?: Expression;
  /** Whether the code says that it may be empty. */
  optional: boolean;
  isStatic: boolean;
  decorators: string[];
}

export interface FunctionSyntax extends Placed {
  /** Empty for functions without a name. */
  name: string;
  parameters: ParameterSyntax[];
  body: Statement[];
  decorators: string[];
  isStatic: boolean;
}

export interface ParameterSyntax {
  name: string;
  type: string;
  optional: boolean;
}

export type Statement = Placed &
  (
    | { is: 'expression'; value: Expression }
    | { is: 'local'; name: string; type: string; value?: Expression }
    | { is: 'return'; value?: Expression }
    | { is: 'if'; test: Expression; then: Statement[]; otherwise: Statement[] }
    /**
     * A body that may run any number of times; `over` is what a loop goes through.
     * `runsOnce`: at least once, since what is asked stands behind it. `isEndless`: only a way out ends it.
     */
    | {
        is: 'loop';
        test?: Expression;
        item?: string;
        over?: Expression;
        body: Statement[];
        runsOnce?: boolean;
        isEndless?: boolean;
      }
    /** One of several bodies, chosen by a value. `isWhole`: one of them surely runs. */
    | { is: 'choose'; value?: Expression; branches: Branch[]; isWhole: boolean }
    /** A body that a fault may interrupt, what handles faults, and what runs in any case. */
    | { is: 'try'; body: Statement[]; handlers: Branch[]; lastly: Statement[] }
    | { is: 'block'; body: Statement[] }
    | { is: 'function'; function: FunctionSyntax }
    /** Leaves this pass of a loop, the loop (or choice of bodies), or as a fault what tries or the function. */
    | { is: 'leave'; what: 'pass' | 'loop' | 'try' }
  );

/** A body among others. */
export interface Branch extends Placed {
  body: Statement[];
}

export type Expression = Placed &
  (
    | { is: 'text'; value: string }
    | { is: 'number'; value: number }
    | { is: 'boolean'; value: boolean }
    | { is: 'nothing' }
    /** `mayBeOwn`: where the language leaves out the own object, it may be a member of a parent. */
    | { is: 'name'; name: string; mayBeOwn?: true }
    | { is: 'self' }
    | { is: 'parent' }
    /** `safe`: does nothing when the receiver is empty. */
    | { is: 'member'; of: Expression; name: string; safe: boolean }
    | { is: 'item'; of: Expression; at: Expression }
    | { is: 'call'; of: Expression; arguments: Argument[]; isNew: boolean; typeArguments: string[] }
    /** Texts put together, by `+` or a template. */
    | { is: 'join'; parts: Expression[] }
    | { is: 'function'; function: FunctionSyntax }
    | { is: 'list'; items: Expression[] }
    | { is: 'table'; entries: TableEntry[] }
    /** One of several values: `a ?? b`, `a || b`, `t ? a : b`. */
    | { is: 'choice'; test?: Expression; options: Expression[] }
    | { is: 'assign'; target: Expression; value: Expression }
    /** Asks something of its operands: comparisons, `!`, `&&`. */
    | { is: 'test'; operator: string; operands: Expression[] }
    /** Anything else that holds expressions. */
    | { is: 'other'; inner: Expression[] }
  );

/** A place among the words of the code that names something. */
export interface NamePlace {
  start: number;
  end: number;
}

export interface TableEntry {
  /** Empty for one that has none, or whose name is only known at run time. */
  name: string;
  nameAt?: NamePlace;
  value: Expression;
}

export interface Argument {
  /** For arguments given by name, else empty. */
  name: string;
  nameAt?: NamePlace;
  value: Expression;
}

/** A bare name as the member of a parent that it may be. */
export function asOwnMember({ name, start, end }: Expression & { is: 'name' }): Expression & { is: 'member' } {
  return { is: 'member', of: { is: 'self', start, end }, name, safe: false, start, end };
}

/** Calls `visit` for every expression directly inside `expression`. Function bodies are not entered. */
export function eachInner(expression: Expression, visit: (inner: Expression) => void): void {
  switch (expression.is) {
    case 'member':
      return visit(expression.of);
    case 'item':
      visit(expression.of);
      return visit(expression.at);
    case 'call':
      visit(expression.of);
      return expression.arguments.forEach((argument) => visit(argument.value));
    case 'join':
      return expression.parts.forEach(visit);
    case 'list':
      return expression.items.forEach(visit);
    case 'table':
      return expression.entries.forEach((entry) => visit(entry.value));
    case 'choice':
      if (expression.test) visit(expression.test);
      return expression.options.forEach(visit);
    case 'assign':
      visit(expression.target);
      return visit(expression.value);
    case 'test':
      return expression.operands.forEach(visit);
    case 'other':
      return expression.inner.forEach(visit);
    default:
      return;
  }
}

/** A text put together from parts, as templates are; parts that are one text make a plain text. */
export function joinOf(parts: Expression[], at: { start: number; end: number }): Expression {
  if (parts.length === 0) return { is: 'text', value: '', ...at };
  const first = itemAt(parts, 0);
  return parts.length === 1 && first.is === 'text' ? { ...first, ...at } : { is: 'join', parts, ...at };
}
