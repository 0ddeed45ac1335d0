/** Pointing at something in a script: what stands there, and the patterns that find its like. */
import { LANGUAGE } from '../reading/scripts/languages.js';
import type { Language } from '../reading/plan/plan.js';
import {
  eachInner,
  type Argument,
  type Expression,
  type FieldSyntax,
  type FunctionSyntax,
  type ScriptSyntax,
  type Statement,
} from '../reading/scripts/syntax.js';
import { eachPart, nameOf } from '../reading/scripts/tables.js';

export type Call = Expression & { is: 'call' };

/** How the thing that a function or property belongs to can be named in a pattern. */
export interface CodeForm {
  /** The chain of names before what is given: `stage.find`, `*.find`. */
  head: string;
  /** How many calls, or reads, in this file are written so. */
  alike: number;
}

interface Placed {
  /** Offsets, 0-based UTF-16 units, the end exclusive. */
  start: number;
  end: number;
  /** As written, cut when long. */
  words: string;
}

/** What was pointed at. */
export type PointedCode = Placed &
  (
    | {
        is: 'argument';
        call: Call;
        /** Its position, from 0, or its name. */
        at: number | string;
        value: Expression;
        forms: CodeForm[];
        /** Most that calls of this name are given by position in this file. */
        most: number;
      }
    | { is: 'call'; call: Call; forms: CodeForm[]; most: number }
    | { is: 'property'; read: Expression; forms: CodeForm[] }
    | { is: 'function'; name: string }
    | { is: 'field'; field: FieldSyntax }
  );

const LONGEST_WORDS = 80;

/** What stands at an offset of a script, the innermost first, and what is around it; grammars must be ready. */
export function pointAtCode(text: string, language: Language, offset: number): PointedCode[] {
  const script = readCode(text, language);
  if (!script) return [];
  return new Pointer(text, script, offset).found();
}

function readCode(text: string, language: Language): ScriptSyntax | undefined {
  try {
    return LANGUAGE[language].read(text);
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    return undefined;
  }
}

class Pointer {
  private readonly inside: PointedCode[] = [];
  /** Names that stand for something only here: parameters, what is declared in functions, fields. */
  private readonly own = new Set<string>();
  private readonly calls: Call[] = [];
  private readonly reads: Expression[] = [];
  private readonly called = new Set<Expression>();

  constructor(
    private readonly text: string,
    script: ScriptSyntax,
    private readonly offset: number,
  ) {
    for (const type of script.types) for (const { name } of type.fields) this.own.add(name);
    this.statements(script.body);
    script.functions.forEach((one) => this.function(one));
    for (const type of script.types) {
      for (const field of type.fields) this.field(field);
      type.functions.forEach((one) => this.function(one));
    }
  }

  found(): PointedCode[] {
    // What was met later stands further in.
    return this.inside.reverse().flatMap((one): PointedCode[] => {
      if (one.is === 'function' || one.is === 'field') return [one];
      const of = one.is === 'property' ? one.read : one.call.of;
      const forms = this.formsOf(of, one.is === 'property' ? this.reads : this.calls.map((call) => call.of));
      // What is called on no name – what another call gives, say – no pattern can name.
      if (forms.length === 0) return [];
      return [one.is === 'property' ? { ...one, forms } : { ...one, forms, most: this.mostGiven(one.call) }];
    });
  }

  private holds({ start, end }: { start: number; end: number }): boolean {
    return start <= this.offset && this.offset <= end;
  }

  private note<One extends { is: PointedCode['is'] }>(at: { start: number; end: number }, one: One): void {
    const { start, end } = at;
    const whole = this.text.slice(start, end).replace(/\s+/g, ' ');
    const words = whole.length > LONGEST_WORDS ? `${whole.slice(0, LONGEST_WORDS)}…` : whole;
    this.inside.push({ start, end, words, ...one } as unknown as PointedCode);
  }

  /** The word at the offset, where it is that one. */
  private word(name: string): { start: number; end: number } | undefined {
    if (name === '') return undefined;
    for (let start = this.offset - name.length; start <= this.offset; start++)
      if (start >= 0 && this.text.startsWith(name, start)) return { start, end: start + name.length };
    return undefined;
  }

  private function(one: FunctionSyntax): void {
    for (const { name } of one.parameters) this.own.add(name);
    const first = one.body[0]?.start ?? one.end;
    const word = this.holds({ start: one.start, end: first }) ? this.word(one.name) : undefined;
    if (word) this.note(word, { is: 'function', name: one.name });
    this.statements(one.body, true);
  }

  private field(field: FieldSyntax): void {
    const end = field.value?.start ?? field.end;
    const word = this.holds({ start: field.start, end }) ? this.word(field.name) : undefined;
    if (word) this.note(word, { is: 'field', field });
    if (field.value) this.expression(field.value);
  }

  private statements(all: readonly Statement[], isInFunction = false): void {
    for (const one of all) {
      if (isInFunction && one.is === 'local') this.own.add(one.name);
      if (one.is === 'loop' && one.item) this.own.add(one.item);
      eachPart(
        one,
        (code) => this.expression(code),
        (body) => this.statements(body, isInFunction),
        (inner) => this.function(inner),
      );
    }
  }

  private expression(code: Expression): void {
    if (code.is === 'call') {
      this.calls.push(code);
      this.called.add(code.of);
      this.call(code);
    } else if (code.is === 'member' && !this.called.has(code)) {
      this.reads.push(code);
      if (this.holds(code)) this.property(code);
    }
    eachInner(code, (inner) => this.expression(inner));
    if (code.is === 'function') this.function(code.function);
  }

  /** What is given to a call is that before it is anything else. */
  private property(read: Expression): void {
    const given = this.inside.at(-1);
    const isGiven = given?.is === 'argument' && given.value === read;
    if (isGiven) this.inside.pop();
    this.note(read, { is: 'property', read });
    if (isGiven) this.inside.push(given);
  }

  private call(call: Call): void {
    if (!this.holds(call)) return;
    this.note(call, { is: 'call', call });
    let position = 0;
    for (const { name, value } of call.arguments) this.argument(call, name === '' ? position++ : name, value);
  }

  private argument(call: Call, at: number | string, value: Expression): void {
    if (!this.holds(value)) return;
    if (value.is === 'function') return;
    if (value.is === 'list') return value.items.forEach((item) => this.argument(call, at, item));
    if (value.is === 'table')
      return value.entries.forEach((entry) => this.argument(call, entry.name || at, entry.value));
    this.note(value, { is: 'argument', call, at, value });
  }

  /** The own chain of names first, where it says something elsewhere, and any receiver. */
  private formsOf(callee: Expression, all: readonly Expression[]): CodeForm[] {
    const [receiver, member] = partsOf(callee);
    if (member === undefined) return [];
    const same = all.filter((one) => partsOf(one)[1] === member);
    const withReceiver = same.filter((one) => one.is === 'member').length;
    if (callee.is === 'name') return [{ head: member, alike: same.length - withReceiver }];
    const any = { head: `*.${member}`, alike: withReceiver };
    if (receiver === undefined) return [any];
    const chain = receiver.replace(/^this\./, '');
    const alike = same.filter((one) => partsOf(one)[0]?.replace(/^this\./, '') === chain).length;
    const exact = { head: `${chain}.${member}`, alike };
    const [first = ''] = chain.split('.');
    return first === 'this' || this.own.has(first) ? [any, exact] : [exact, any];
  }

  private mostGiven(call: Call): number {
    const [, member] = partsOf(call.of);
    const given = this.calls.filter((one) => partsOf(one.of)[1] === member);
    return Math.max(...given.map((one) => byPosition(one.arguments).length));
  }
}

/** What is given by position. */
export function byPosition(list: readonly Argument[]): Argument[] {
  return list.filter(({ name }) => name === '');
}

/** The chain before a function or property, and its own name. */
function partsOf(code: Expression): [receiver: string | undefined, member: string | undefined] {
  if (code.is === 'name') return [undefined, code.name];
  return code.is === 'member' ? [nameOf(code.of), code.name] : [undefined, undefined];
}
