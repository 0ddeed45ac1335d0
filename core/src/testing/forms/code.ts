/** Small programs, written once and put into each of the five languages. */
import type { Language } from '../../reading/plan/plan.js';

export type Expression =
  | { is: 'text'; text: string }
  | { is: 'number'; number: number }
  | { is: 'name'; name: string }
  | { is: 'self' }
  | { is: 'truth'; of: boolean }
  | { is: 'member'; of: Expression; name: string }
  | { is: 'call'; on?: Expression; name: string; given: Expression[] }
  | { is: 'not'; of: Expression }
  | { is: 'same'; left: Expression; right: Expression }
  | { is: 'function'; takes: string[]; does: Statement[] }
  | { is: 'bound'; name: string }
  /** The function of this name of the parent type. */
  | { is: 'parent call'; parent: string; name: string }
  | { is: 'list'; of: Expression[] };

export type Statement =
  | { is: 'let'; name: string; be: Expression }
  | { is: 'set'; what: Expression; be: Expression }
  | { is: 'do'; what: Expression }
  | { is: 'if'; when: Expression; then: Statement[] }
  | { is: 'each'; name: string; of: Expression; does: Statement[] }
  | { is: 'unpack'; name: string; from: Expression }
  | { is: 'leave' }
  | { is: 'give'; what: Expression };

export interface Function {
  name: string;
  takes: string[];
  does: Statement[];
}

export interface Type {
  name: string;
  /** `Behaviour`, the engine's, unless given. */
  parent?: string;
  fields: { name: string; be?: Expression; slot?: boolean }[];
  functions: Function[];
}

export interface Module {
  /** Texts with names: alone, and as members of one table or enum called Names. */
  constants?: Record<string, string>;
  names?: Record<string, string>;
  types: Type[];
}

// Words for writing programs ----------------------------------------------------------------------------------------

export const text = (of: string): Expression => ({ is: 'text', text: of });
export const number = (of: number): Expression => ({ is: 'number', number: of });
export const name = (of: string): Expression => ({ is: 'name', name: of });
export const self: Expression = { is: 'self' };
export const truth: Expression = { is: 'truth', of: true };
export const untruth: Expression = { is: 'truth', of: false };
export const member = (of: Expression, called: string): Expression => ({ is: 'member', of, name: called });
export const own = (called: string): Expression => member(self, called);
/** A call on something. */
export const ask = (on: Expression, called: string, ...given: Expression[]): Expression => ({
  is: 'call',
  on,
  name: called,
  given,
});
/** A call of a plain function. */
export const call = (called: string, ...given: Expression[]): Expression => ({ is: 'call', name: called, given });
export const fn = (takes: string[], ...does: Statement[]): Expression => ({ is: 'function', takes, does });
export const bound = (called: string): Expression => ({ is: 'bound', name: called });
export const parentCall = (parent: string, called: string): Expression => ({ is: 'parent call', parent, name: called });
export const list = (...of: Expression[]): Expression => ({ is: 'list', of });
export const not = (of: Expression): Expression => ({ is: 'not', of });
export const same = (left: Expression, right: Expression): Expression => ({ is: 'same', left, right });

export const keep = (called: string, be: Expression): Statement => ({ is: 'let', name: called, be });
export const set = (what: Expression, be: Expression): Statement => ({ is: 'set', what, be });
export const run = (what: Expression): Statement => ({ is: 'do', what });
export const when = (asks: Expression, ...then: Statement[]): Statement => ({ is: 'if', when: asks, then });
export const each = (called: string, of: Expression, ...does: Statement[]): Statement => ({
  is: 'each',
  name: called,
  of,
  does,
});
export const unpack = (called: string, from: Expression): Statement => ({ is: 'unpack', name: called, from });
export const leave: Statement = { is: 'leave' };
export const give = (what: Expression): Statement => ({ is: 'give', what });

// Languages ---------------------------------------------------------------------------------------------------------

export const ENDINGS: Record<Language, string> = {
  typescript: 'ts',
  javascript: 'js',
  lua: 'lua',
  csharp: 'cs',
  python: 'py',
};

/** Whether a language writes something of its own there, such as taking members out of a value. */
export const CAN = {
  unpack: ['typescript', 'javascript'] as Language[],
  bind: ['typescript', 'javascript'] as Language[],
};

/** A file of the language. Names of functions and fields stay as they are in all of them. */
export function written(language: Language, module: Module, services: ReadonlySet<string> = SINGLE): string {
  return new Writer(language, services).module(module);
}

class Writer {
  /** Functions that Python must name before it can hand them on. */
  private before: string[] = [];
  private functions = 0;
  private constants = new Set<string>();

  constructor(
    private readonly language: Language,
    private readonly services: ReadonlySet<string>,
  ) {}

  module({ constants = {}, names = {}, types }: Module): string {
    const { language } = this;
    const texts = Object.entries(constants);
    this.constants = new Set(Object.keys(constants));
    const table = Object.entries(names);
    const lines: string[] = [];
    if (language === 'csharp') {
      if (texts.length + table.length > 0) {
        lines.push('public static class Names {');
        for (const [key, value] of [...texts, ...table]) lines.push(`  public const string ${key} = "${value}";`);
        lines.push('}');
      }
    } else {
      const word = { typescript: 'const ', javascript: 'const ', lua: 'local ', python: '' }[language];
      for (const [key, value] of texts) lines.push(`${word}${key} = '${value}'`);
      if (table.length > 0) {
        if (language === 'typescript')
          lines.push(`enum Names { ${table.map(([k, v]) => `${k} = '${v}'`).join(', ')} }`);
        else if (language === 'javascript')
          lines.push(`const Names = { ${table.map(([k, v]) => `${k}: '${v}'`).join(', ')} };`);
        else if (language === 'lua')
          lines.push(`local Names = { ${table.map(([k, v]) => `${k} = '${v}'`).join(', ')} }`);
        else lines.push('class Names:', ...table.map(([k, v]) => `    ${k} = '${v}'`));
      }
    }
    return [...lines, ...types.flatMap((type) => this.type(type)), ''].join('\n');
  }

  private type({ name: called, parent = 'Behaviour', fields, functions }: Type): string[] {
    switch (this.language) {
      case 'typescript':
        return [
          `export class ${called} extends ${parent} {`,
          ...fields.map((field) => `  ${field.slot ? '@slot() ' : ''}${field.name}${this.first(field.be)};`),
          ...functions.flatMap((one) => this.method(`  ${one.name}(${one.takes.join(', ')}) {`, one, '  }')),
          '}',
        ];
      case 'javascript':
        return [
          `export class ${called} extends ${parent} {`,
          ...fields.map((field) => `  ${field.slot ? '@slot() ' : ''}${field.name}${this.first(field.be)};`),
          ...functions.flatMap((one) => this.method(`  ${one.name}(${one.takes.join(', ')}) {`, one, '  }')),
          '}',
        ];
      case 'csharp':
        return [
          `public class ${called} : ${parent} {`,
          ...fields.map(
            (field) => `  ${field.slot ? '[Slot] public' : ''} dynamic ${field.name}${this.first(field.be)};`,
          ),
          ...functions.flatMap((one) =>
            this.method(
              `  public void ${one.name}(${one.takes.map((it) => `dynamic ${it}`).join(', ')}) {`,
              one,
              '  }',
            ),
          ),
          '}',
        ];
      case 'lua':
        return [
          `${called} = ${parent}:extend()`,
          ...fields.map((field) => `${called}.${field.name} = ${field.be ? this.expression(field.be) : 'nil'}`),
          ...functions.flatMap((one) =>
            this.method(`function ${called}:${one.name}(${one.takes.join(', ')})`, one, 'end'),
          ),
        ];
      case 'python':
        return [
          `class ${called}(${parent}):`,
          ...fields.map(
            (field) =>
              `    ${field.name}${field.slot ? ': Slot' : ''} = ${field.be ? this.expression(field.be) : 'None'}`,
          ),
          ...functions.flatMap((one) =>
            this.method(`    def ${one.name}(${['self', ...one.takes].join(', ')}):`, one, ''),
          ),
        ];
    }
  }

  private first(be: Expression | undefined): string {
    return be ? ` = ${this.expression(be)}` : '';
  }

  private method(head: string, { does }: Function, end: string): string[] {
    const indent = this.language === 'python' ? '        ' : this.language === 'lua' ? '  ' : '    ';
    return [head, ...this.block(does, indent), ...(end ? [end] : [])];
  }

  private block(does: Statement[], indent: string): string[] {
    const lines = does.flatMap((one) => {
      const outer = this.before;
      this.before = [];
      const own = this.statement(one, indent);
      const all = [...this.before.map((line) => indent + line), ...own];
      this.before = outer;
      return all;
    });
    return lines.length > 0 || this.language !== 'python' ? lines : [`${indent}pass`];
  }

  private statement(one: Statement, indent: string): string[] {
    const { language } = this;
    const inner = indent + (language === 'python' ? '    ' : '  ');
    const end = language === 'lua' || language === 'python' ? '' : ';';
    const local = { typescript: 'const ', javascript: 'const ', lua: 'local ', csharp: 'var ', python: '' }[language];
    const e = (of: Expression): string => this.expression(of);
    const round = (head: string, body: Statement[]): string[] => {
      if (language === 'python') return [`${indent}${head}:`, ...this.block(body, inner)];
      if (language !== 'lua') return [`${indent}${head} {`, ...this.block(body, inner), `${indent}}`];
      return [`${indent}${head}`, ...this.block(body, inner), `${indent}end`];
    };
    switch (one.is) {
      case 'let':
        return [`${indent}${local}${one.name} = ${e(one.be)}${end}`];
      case 'unpack':
        return CAN.unpack.includes(language)
          ? [`${indent}const { ${one.name} } = ${e(one.from)};`]
          : [`${indent}${local}${one.name} = ${e(member(one.from, one.name))}${end}`];
      case 'set':
        return [`${indent}${e(one.what)} = ${e(one.be)}${end}`];
      case 'do':
        return [`${indent}${e(one.what)}${end}`];
      case 'leave':
        return [`${indent}return${end}`];
      case 'give':
        return [`${indent}return ${e(one.what)}${end}`];
      case 'if':
        return round(
          language === 'lua'
            ? `if ${e(one.when)} then`
            : language === 'python'
              ? `if ${e(one.when)}`
              : `if (${e(one.when)})`,
          one.then,
        );
      case 'each': {
        const of = e(one.of);
        if (language === 'lua') return round(`for _, ${one.name} in ipairs(${of}) do`, one.does);
        if (language === 'python') return round(`for ${one.name} in ${of}`, one.does);
        return round(
          language === 'csharp' ? `foreach (var ${one.name} in ${of})` : `for (const ${one.name} of ${of})`,
          one.does,
        );
      }
    }
  }

  private expression(one: Expression): string {
    const { language } = this;
    const e = (of: Expression): string => this.expression(of);
    switch (one.is) {
      case 'text':
        return `"${one.text}"`;
      case 'number':
        return String(one.number);
      case 'name':
        return language === 'csharp' && this.constants.has(one.name) ? `Names.${one.name}` : one.name;
      case 'self':
        return language === 'lua' || language === 'python' ? 'self' : 'this';
      case 'truth':
        return language === 'python' ? (one.of ? 'True' : 'False') : String(one.of);
      case 'member':
        return `${e(one.of)}.${one.name}`;
      case 'call': {
        const given = `(${one.given.map(e).join(', ')})`;
        if (!one.on) return one.name + given;
        const isPlain = one.on.is === 'name' && /^[a-z]+$/.test(one.on.name) && this.services.has(one.on.name);
        return `${e(one.on)}${language === 'lua' && !isPlain ? ':' : '.'}${one.name}${given}`;
      }
      case 'not':
        return language === 'lua' || language === 'python' ? `not ${e(one.of)}` : `!${e(one.of)}`;
      case 'same':
        return `${e(one.left)} ${language === 'typescript' || language === 'javascript' ? '===' : '=='} ${e(one.right)}`;
      case 'bound':
        if (CAN.bind.includes(language)) return `this.${one.name}.bind(this)`;
        return e(own(one.name));
      case 'parent call':
        if (language === 'lua') return `${one.parent}.${one.name}(self)`;
        return `${language === 'csharp' ? 'base' : language === 'python' ? 'super()' : 'super'}.${one.name}()`;
      case 'list': {
        const of = one.of.map(e).join(', ');
        return language === 'lua' ? `{ ${of} }` : language === 'csharp' ? `new[] { ${of} }` : `[${of}]`;
      }
      case 'function':
        return this.inPlace(one.takes, one.does);
    }
  }

  private inPlace(takes: string[], does: Statement[]): string {
    const { language } = this;
    const given = takes.join(', ');
    if (language === 'python') {
      const called = `local${this.functions++}`;
      const body = this.block(does, '    ');
      this.before.push(`def ${called}(${given}):`, ...body);
      return called;
    }
    const body = this.block(does, '      ').join('\n');
    if (language === 'lua') return `function(${given})\n${body}\n    end`;
    return `(${given}) => {\n${body}\n    }`;
  }
}

/** What stands by itself in the made-up engine: its functions are called with a dot in every language. */
const SINGLE = new Set(['stage', 'bells', 'desk']);
