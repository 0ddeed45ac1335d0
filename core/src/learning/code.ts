/**
 * What stands in scripts, as far as it can be learned from: the calls that are made, with what they are given, and what
 * the project defines itself. What it does not define is the engine's.
 */
import { nameOf } from '../reading/scripts/tables.js';
import type { Language } from '../reading/plan/plan.js';
import type { Argument, Expression, FunctionSyntax, ScriptSyntax, Statement } from '../reading/scripts/syntax.js';
import { eachInner } from '../reading/scripts/syntax.js';
import { push } from '../helpers/push.js';
import { Bag, type Texts } from './texts.js';

/** What is given to calls of one pattern at one place. */
export interface Given {
  texts: Bag;
  /** Names that stand there: constants, types, variables. */
  names: Map<string, { count: number; file: number }>;
  functions: number;
  numbers: number;
  others: number;
  total: number;
}

/** How the result of a call is used. */
export type Use = 'alone' | 'asked' | 'kept' | 'on' | 'looped' | 'given';

/** Calls, or reads of a property, that are written alike. */
export interface CallPattern {
  /** What it is called on: a chain of names that nothing in the file declares, `*` for anything, empty for nothing. */
  receiver: string;
  member: string;
  isProperty: boolean;
  isNew: boolean;
  count: number;
  files: Set<number>;
  /** By position, or by name. */
  given: Map<string, Given>;
  /** Most that is given by position. */
  most: number;
  /** Times that it is given nothing. */
  bare: number;
  uses: Record<Use, number>;
  /** Names of the types between angle brackets. */
  typeArguments: Map<string, number>;
  /** Functions in which it stands, by name. */
  within: Map<string, number>;
  /** Times that it is made on the own object. */
  onSelf: number;
  /** Times that it follows another pattern: `*.holder` before `*.child`. */
  after: Map<string, number>;
  languages: Set<Language>;
}

export interface FunctionDefined {
  count: number;
  parameters: number;
  /** Fewest that must be given to one of them. */
  needs: number;
  types: Set<string>;
  languages: Set<Language>;
  /** Where the first of them stands. */
  file: number;
}

export interface FieldDefined {
  type: string;
  name: string;
  declared: string;
  decorators: readonly string[];
  hasValue: boolean;
  /** Written as one that may be empty. */
  isOptional: boolean;
  language: Language;
}

/** Everything that scripts say. */
export interface Code {
  patterns: Map<string, CallPattern>;
  /** Types by name, with the files they stand in. */
  types: Map<string, { file: number; parents: readonly string[]; isMain: boolean }>;
  functions: Map<string, FunctionDefined>;
  fields: FieldDefined[];
  /** Texts under a name that any script may use: `Bells.FOG`, `FOG`. */
  constants: Map<string, string>;
  /** Names of functions that are called somewhere without being told by the engine. */
  called: Set<string>;
  files: Map<number, Language>;
  /** Names of the classes in each file. */
  classes: Map<number, string[]>;
  /** What files take in, as written. */
  imports: { from: string; file: number; language: Language }[];
  /** Members that are used or set, on whatever: how often, a file where, and in which languages. */
  accessed: Map<string, { count: number; file: number; languages: Set<Language> }>;
  /** Members that are set, on whatever. */
  assigned: Set<string>;
  /** Functions that are called on the own object, with the files where. */
  calledOnSelf: Map<string, Set<number>>;
}

export function newCode(): Code {
  return {
    patterns: new Map(),
    types: new Map(),
    functions: new Map(),
    fields: [],
    constants: new Map(),
    called: new Set(),
    files: new Map(),
    classes: new Map(),
    imports: [],
    accessed: new Map(),
    assigned: new Set(),
    calledOnSelf: new Map(),
  };
}

/** Adds what stands in a script. */
/** @param isInside whether it is code in a file of another kind */
export function addScript(
  code: Code,
  script: ScriptSyntax,
  file: number,
  language: Language,
  texts: Texts,
  isInside = false,
): void {
  if (!isInside) code.files.set(file, language);
  new Gatherer(code, file, language, texts).script(script);
}

interface Scope {
  /** Names that are declared here, with the chain they stand for. */
  names: Map<string, string | undefined>;
  /** Names of functions that are written here. */
  functions: Set<string>;
  within: string;
  type: string;
}

class Gatherer {
  private readonly ownFields = new Set<string>();

  constructor(
    private readonly code: Code,
    private readonly file: number,
    private readonly language: Language,
    private readonly texts: Texts,
  ) {}

  script(script: ScriptSyntax): void {
    const { code, file, language } = this;
    for (const { from } of script.imports) code.imports.push({ from, file, language });
    for (const type of script.types) {
      if (type.kind === 'class') push(code.classes, file, type.name);
      if (!code.types.has(type.name))
        code.types.set(type.name, { file, parents: type.parents, isMain: script.types.length === 1 });
      for (const field of type.fields) {
        this.ownFields.add(field.name);
        if (field.value?.is === 'text' && (field.isStatic || type.kind === 'enum'))
          code.constants.set(`${type.name}.${field.name}`, field.value.value);
        code.fields.push({
          type: type.name,
          name: field.name,
          declared: field.type,
          decorators: field.decorators,
          hasValue: field.value !== undefined && field.value.is !== 'nothing',
          isOptional: field.optional,
          language,
        });
      }
    }
    const top: Scope = { names: new Map(), functions: new Set(), within: '', type: '' };
    // Names at the top that stand for texts are constants, others are the file's own.
    for (const statement of script.body) this.noteConstant(statement, top);
    this.statements(script.body, top);
    for (const one of script.functions) this.define(one, '', top);
    for (const type of script.types) {
      for (const field of type.fields)
        if (field.value) this.expression(field.value, { ...top, type: type.name }, 'kept');
      for (const one of type.functions) this.define(one, type.name, { ...top, type: type.name });
    }
    for (const one of script.decorated) this.expression(one, top, 'alone');
  }

  private noteConstant(statement: Statement, scope: Scope): void {
    if (statement.is === 'local') {
      const { name, value } = statement;
      if (value?.is === 'text') this.code.constants.set(name, value.value);
      else if (value?.is === 'table') this.noteTable(name, value);
      else scope.names.set(name, value && takesIn(value, scope) ? name : undefined);
    } else if (statement.is === 'expression' && statement.value.is === 'assign') {
      const { target, value } = statement.value;
      const name = nameOf(target);
      if (name && value.is === 'text') this.code.constants.set(name, value.value);
      else if (name && value.is === 'table') this.noteTable(name, value);
    }
  }

  private noteTable(name: string, { entries }: Expression & { is: 'table' }): void {
    for (const entry of entries)
      if (entry.name && entry.value.is === 'text') this.code.constants.set(`${name}.${entry.name}`, entry.value.value);
  }

  private define({ name, parameters, body }: FunctionSyntax, type: string, outer: Scope): void {
    if (name) {
      let known = this.code.functions.get(name);
      if (!known)
        this.code.functions.set(
          name,
          (known = {
            count: 0,
            parameters: 0,
            needs: Infinity,
            types: new Set(),
            languages: new Set(),
            file: this.file,
          }),
        );
      known.count++;
      known.languages.add(this.language);
      known.parameters = Math.max(known.parameters, parameters.length);
      known.needs = Math.min(known.needs, parameters.filter(({ optional }) => !optional).length);
      if (type) known.types.add(type);
    }
    const scope: Scope = {
      names: new Map(outer.names),
      functions: new Set(outer.functions),
      within: name || outer.within,
      type,
    };
    for (const parameter of parameters) scope.names.set(parameter.name, undefined);
    this.statements(body, scope);
  }

  private statements(all: readonly Statement[], scope: Scope): void {
    for (const statement of all) this.statement(statement, scope);
  }

  private statement(one: Statement, scope: Scope): void {
    switch (one.is) {
      case 'expression':
        return this.expression(one.value, scope, 'alone');
      case 'local': {
        if (one.value) this.expression(one.value, scope, 'kept');
        if (one.value?.is === 'text' || one.name === '') return;
        if (one.value?.is === 'function') scope.functions.add(one.name);
        scope.names.set(one.name, one.value && (takesIn(one.value, scope) ? one.name : this.chain(one.value, scope)));
        return;
      }
      case 'return':
        if (one.value) this.expression(one.value, scope, 'given');
        return;
      case 'if':
        this.expression(one.test, scope, 'asked');
        this.statements(one.then, scope);
        return this.statements(one.otherwise, scope);
      case 'loop':
        if (one.test) this.expression(one.test, scope, 'asked');
        if (one.over) this.expression(one.over, scope, 'looped');
        if (one.item) scope.names.set(one.item, undefined);
        return this.statements(one.body, scope);
      case 'choose':
        if (one.value) this.expression(one.value, scope, 'asked');
        return one.branches.forEach(({ body }) => this.statements(body, scope));
      case 'try':
        this.statements(one.body, scope);
        one.handlers.forEach(({ body }) => this.statements(body, scope));
        return this.statements(one.lastly, scope);
      case 'block':
        return this.statements(one.body, scope);
      case 'function':
        scope.names.set(one.function.name, undefined);
        scope.functions.add(one.function.name);
        return this.define(one.function, scope.type, scope);
      case 'leave':
        return;
    }
  }

  /** A chain of names that nothing here declares; undefined for anything else. */
  private chain(code: Expression, scope: Scope): string | undefined {
    if (code.is === 'name') {
      if (!scope.names.has(code.name)) return this.ownFields.has(code.name) && code.mayBeOwn ? undefined : code.name;
      return scope.names.get(code.name);
    }
    if (code.is !== 'member') return undefined;
    // Services are often kept in fields; what the type declares is its own.
    if (code.of.is === 'self') return this.ownFields.has(code.name) ? undefined : `this.${code.name}`;
    const before = this.chain(code.of, scope);
    return before === undefined ? undefined : `${before}.${code.name}`;
  }

  private expression(code: Expression, scope: Scope, use: Use): void {
    switch (code.is) {
      case 'call':
        return this.call(code, scope, use);
      case 'member':
        this.note(code, undefined, [], [], scope, use, false);
        return this.expression(code.of, scope, 'on');
      case 'function':
        return this.define(code.function, scope.type, scope);
      case 'assign':
        this.expression(code.value, scope, 'kept');
        if (code.target.is !== 'member') return;
        this.access(code.target.name);
        this.code.assigned.add(code.target.name);
        return this.expression(code.target.of, scope, 'on');
      case 'test':
        return code.operands.forEach((inner) => this.expression(inner, scope, 'asked'));
      case 'choice':
        if (code.test) this.expression(code.test, scope, 'asked');
        return code.options.forEach((inner) => this.expression(inner, scope, use === 'alone' ? 'alone' : 'kept'));
      default:
        return eachInner(code, (inner) => this.expression(inner, scope, 'given'));
    }
  }

  private call(code: Expression & { is: 'call' }, scope: Scope, use: Use): void {
    this.note(code.of, code, code.arguments, code.typeArguments, scope, use, code.isNew);
    if (code.of.is === 'member') this.expression(code.of.of, scope, 'on');
    else if (code.of.is !== 'name') this.expression(code.of, scope, 'on');
    for (const { value } of code.arguments) {
      if (value.is === 'table') for (const entry of value.entries) this.expression(entry.value, scope, 'given');
      else this.expression(value, scope, 'given');
    }
  }

  private note(
    callee: Expression,
    call: Expression | undefined,
    list: readonly Argument[],
    typeArguments: readonly string[],
    scope: Scope,
    use: Use,
    isNew: boolean,
  ): void {
    if (callee.is !== 'name' && callee.is !== 'member') return;
    const member = callee.name;
    const isProperty = call === undefined;
    if (callee.is === 'member') this.access(member);
    if (callee.is === 'name' && scope.names.has(member) && scope.names.get(member) === undefined) return;
    let receiver = '';
    let onSelf = false;
    let after = '';
    if (callee.is === 'member') {
      onSelf = callee.of.is === 'self';
      receiver = (callee.of.is === 'self' ? undefined : this.chain(callee.of, scope)) ?? '*';
      const inner = callee.of.is === 'call' ? callee.of.of : callee.of;
      if (receiver === '*' && inner.is === 'member') after = inner.name;
    }
    if (isProperty && receiver !== '*') return;
    if (!isProperty && onSelf) {
      this.code.called.add(member);
      const files = this.code.calledOnSelf.get(member);
      if (files) files.add(this.file);
      else this.code.calledOnSelf.set(member, new Set([this.file]));
    }
    if (!isProperty && receiver === '*') this.code.called.add(member);
    const key = `${receiver}\n${member}\n${isProperty ? 'property' : isNew ? 'new' : 'call'}`;
    let pattern = this.code.patterns.get(key);
    if (!pattern) {
      pattern = {
        receiver,
        member,
        isProperty,
        isNew,
        count: 0,
        files: new Set(),
        given: new Map(),
        most: 0,
        bare: 0,
        uses: { alone: 0, asked: 0, kept: 0, on: 0, looped: 0, given: 0 },
        typeArguments: new Map(),
        within: new Map(),
        onSelf: 0,
        after: new Map(),
        languages: new Set(),
      };
      this.code.patterns.set(key, pattern);
    }
    pattern.count++;
    pattern.files.add(this.file);
    pattern.languages.add(this.language);
    pattern.uses[use]++;
    if (onSelf) pattern.onSelf++;
    if (after) pattern.after.set(after, (pattern.after.get(after) ?? 0) + 1);
    if (scope.within) pattern.within.set(scope.within, (pattern.within.get(scope.within) ?? 0) + 1);
    for (const name of typeArguments) pattern.typeArguments.set(name, (pattern.typeArguments.get(name) ?? 0) + 1);
    let position = 0;
    for (const argument of list) {
      if (argument.name) this.give(pattern, argument.name, argument.value, scope);
      else this.give(pattern, String(position++), argument.value, scope);
    }
    pattern.most = Math.max(pattern.most, position);
    if (call !== undefined && list.length === 0) pattern.bare++;
  }

  private access(member: string): void {
    const { accessed } = this.code;
    const known = accessed.get(member);
    const languages = known?.languages ?? new Set();
    accessed.set(member, { ...counted(known, this.file), languages: languages.add(this.language) });
  }

  private give(pattern: CallPattern, at: string, value: Expression, scope: Scope): void {
    if (value.is === 'table' || value.is === 'list') {
      const items =
        value.is === 'list' ? value.items : value.entries.filter(({ name }) => !name).map((one) => one.value);
      for (const item of items) if (item.is === 'text') this.give(pattern, at, item, scope);
      if (value.is === 'table')
        for (const entry of value.entries) if (entry.name) this.give(pattern, entry.name, entry.value, scope);
      if (items.length > 0) return;
    }
    let given = pattern.given.get(at);
    if (!given)
      pattern.given.set(
        at,
        (given = { texts: new Bag(), names: new Map(), functions: 0, numbers: 0, others: 0, total: 0 }),
      );
    given.total++;
    if (value.is === 'text') given.texts.add(this.texts.number(value.value), this.file);
    else if (value.is === 'number') given.numbers++;
    else if (value.is === 'function' || (value.is === 'name' && scope.functions.has(value.name))) given.functions++;
    else if (value.is === 'member' && value.of.is === 'self') {
      given.names.set(`this.${value.name}`, counted(given.names.get(`this.${value.name}`), this.file));
    } else if (value.is === 'call' && value.of.is === 'member' && value.of.name === 'bind') given.functions++;
    else {
      const name = value.is === 'name' || value.is === 'member' ? nameOf(value) : undefined;
      if (name && !(value.is === 'name' && scope.names.has(name)))
        given.names.set(name, counted(given.names.get(name), this.file));
      else given.others++;
    }
  }
}

/** At the top of a file, what a call gives for a text alone is what the file takes in: it is known by the name it gets. */
function takesIn(value: Expression, { within, type }: Scope): boolean {
  if (within !== '' || type !== '' || value.is !== 'call' || value.of.is !== 'name') return false;
  return value.arguments.length === 1 && value.arguments[0]?.value.is === 'text';
}

function counted(known: { count: number; file: number } | undefined, file: number): { count: number; file: number } {
  return { count: (known?.count ?? 0) + 1, file };
}

/**
 * What is called on a member of the own object that no type of the file declares: a service that is known elsewhere
 * without the own object in front, or something that the engine gives every object.
 */
function settleOwn(code: Code): void {
  for (const [key, pattern] of [...code.patterns]) {
    if (!pattern.receiver.startsWith('this.')) continue;
    code.patterns.delete(key);
    const chain = pattern.receiver.slice('this.'.length);
    const rest = key.slice(pattern.receiver.length);
    const service = code.patterns.get(chain + rest);
    const into = service ?? code.patterns.get(`*${rest}`);
    const after = chain.slice(chain.lastIndexOf('.') + 1);
    if (!service) pattern.after.set(after, (pattern.after.get(after) ?? 0) + pattern.count);
    if (into) joinPatterns(into, pattern);
    else code.patterns.set(`*${rest}`, { ...pattern, receiver: '*' });
  }
}

/** Adds what later files say. */
export function joinCode(into: Code, later: Code): void {
  for (const [key, pattern] of later.patterns) {
    const own = into.patterns.get(key);
    if (own) joinPatterns(own, pattern);
    else into.patterns.set(key, pattern);
  }
  for (const [name, type] of later.types) if (!into.types.has(name)) into.types.set(name, type);
  for (const [name, one] of later.functions) {
    const own = into.functions.get(name);
    if (!own) {
      into.functions.set(name, one);
      continue;
    }
    own.count += one.count;
    own.parameters = Math.max(own.parameters, one.parameters);
    own.needs = Math.min(own.needs, one.needs);
    for (const type of one.types) own.types.add(type);
    for (const language of one.languages) own.languages.add(language);
  }
  // One after the other: there may be more than a call can be given.
  for (const field of later.fields) into.fields.push(field);
  for (const one of later.imports) into.imports.push(one);
  for (const [name, text] of later.constants) into.constants.set(name, text);
  for (const name of later.called) into.called.add(name);
  for (const name of later.assigned) into.assigned.add(name);
  for (const [file, language] of later.files) into.files.set(file, language);
  for (const [file, names] of later.classes) into.classes.set(file, names);
  for (const [member, { count, file, languages }] of later.accessed) {
    const known = into.accessed.get(member);
    into.accessed.set(member, {
      count: (known?.count ?? 0) + count,
      file,
      languages: new Set([...(known?.languages ?? []), ...languages]),
    });
  }
  for (const [name, files] of later.calledOnSelf) {
    const own = into.calledOnSelf.get(name);
    if (!own) into.calledOnSelf.set(name, files);
    else for (const file of files) own.add(file);
  }
}

/** Adds all of a pattern to another. */
export function joinPatterns(into: CallPattern, other: CallPattern): void {
  into.count += other.count;
  into.onSelf += other.onSelf;
  into.most = Math.max(into.most, other.most);
  into.bare += other.bare;
  for (const file of other.files) into.files.add(file);
  for (const language of other.languages) into.languages.add(language);
  for (const use of Object.keys(other.uses) as Use[]) into.uses[use] += other.uses[use];
  for (const counts of ['typeArguments', 'within', 'after'] as const)
    for (const [name, count] of other[counts]) into[counts].set(name, (into[counts].get(name) ?? 0) + count);
  for (const [at, given] of other.given) {
    const own = into.given.get(at);
    if (!own) {
      into.given.set(at, given);
      continue;
    }
    own.texts.addAll(given.texts);
    for (const [name, { count, file }] of given.names)
      own.names.set(name, { count: (own.names.get(name)?.count ?? 0) + count, file });
    own.functions += given.functions;
    own.numbers += given.numbers;
    own.others += given.others;
    own.total += given.total;
  }
}

/** Once all scripts are read: names that stand for texts are those texts, names of own functions are functions. */
export function settle(code: Code, texts: Texts): void {
  settleOwn(code);
  for (const { given } of code.patterns.values())
    for (const one of given.values())
      for (const [name, { count, file }] of one.names) {
        const plain = name.replace(/^this\./, '');
        const text = code.constants.get(plain);
        if (text !== undefined) one.texts.add(texts.number(text), file, count);
        else if (code.functions.has(plain) && (name !== plain || !code.types.has(plain))) one.functions += count;
        else continue;
        one.names.delete(name);
      }
}
