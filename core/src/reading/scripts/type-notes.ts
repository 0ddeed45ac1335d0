/** What a script says of the types of its names, for patterns that ask for a receiver's type. */
import type { Expression, FunctionSyntax, ScriptSyntax } from './syntax.js';

export interface TypeNotes {
  /** The type of what an expression gives, as a plain name; undefined when the code does not say. */
  typeOf(expression: Expression): string | undefined;
  noteLocal(name: string, written: string, value: Expression | undefined): void;
  /** A name that stands for one of what a list holds. */
  noteElement(name: string, list: Expression): void;
  /** The first parameter of a function written in place stands for one of what a list holds. */
  noteGoneThrough(code: FunctionSyntax, list: Expression): void;
  /** Begins a function: its parameters count; the function given back ends it. */
  enter(code: FunctionSyntax): () => void;
}

/** What is known of a local name: its type, and how that is written. */
interface Local {
  type: string | undefined;
  written: string;
}

/**
 * @param globals types of names that stand for the same object everywhere
 * @param currentType position of the type whose code is being read, or -1
 */
export function createTypeNotes(
  script: ScriptSyntax,
  globals: Record<string, string>,
  currentType: () => number,
): TypeNotes {
  let locals = new Map<string, Local>();
  const goneThrough = new Map<FunctionSyntax, string>();

  const typeOf = (expression: Expression): string | undefined => {
    switch (expression.is) {
      case 'name':
        return locals.get(expression.name)?.type ?? globals[expression.name];
      case 'self':
        return script.types[currentType()]?.name;
      case 'member':
        return expression.of.is === 'self' ? fieldType(expression.name) : undefined;
      case 'item':
        return elementOf(expression.of);
      case 'call':
        return expression.isNew && expression.of.is === 'name' ? expression.of.name : undefined;
      default:
        return undefined;
    }
  };

  const fieldType = (name: string): string | undefined => {
    const field = script.types[currentType()]?.fields.find((one) => one.name === name);
    return field && (plainType(field.type) ?? (field.value && typeOf(field.value)));
  };

  /** The type of what a list holds, as far as its own type says it. */
  const elementOf = (list: Expression): string | undefined => {
    if (list.is === 'name') return elementType(locals.get(list.name)?.written ?? '');
    if (list.is !== 'member' || list.of.is !== 'self') return undefined;
    return elementType(script.types[currentType()]?.fields.find(({ name }) => name === list.name)?.type ?? '');
  };

  const set = (name: string, type: string | undefined, written = ''): void => {
    if (type || written) locals.set(name, { type, written });
    else locals.delete(name);
  };

  return {
    typeOf,
    noteLocal: (name, written, value) => set(name, plainType(written) ?? (value && typeOf(value)), written),
    noteElement: (name, list) => set(name, elementOf(list)),
    noteGoneThrough(code, list) {
      const type = elementOf(list);
      if (type) goneThrough.set(code, type);
    },
    enter(code) {
      const outer = locals;
      locals = new Map(outer);
      for (const { name, type } of code.parameters) set(name, plainType(type), type);
      const [first] = code.parameters;
      const element = goneThrough.get(code);
      if (first && !first.type && element) set(first.name, element);
      return () => (locals = outer);
    },
  };
}

/** `Boat[]`, `List<Boat>` and `list[Boat]` hold a `Boat` each. */
function elementType(written: string): string | undefined {
  const bare = written
    .trim()
    .replace(/\?$/, '')
    .replace(/^readonly\s+/, '');
  const held =
    /^(.+)\[\]$/.exec(bare)?.[1] ??
    /^(?:[A-Za-z_]\w*\.)*(?:\w*(?:Array|List|Set|Queue|Stack|Collection|Enumerable|Sequence|Iterable)|list|set)[<[](.+)[>\]]$/.exec(
      bare,
    )?.[1];
  return held === undefined || held.includes(',') ? undefined : plainType(held);
}

/** Types that say nothing of what is there. */
const ANYTHING = new Set(['any', 'unknown', 'object', 'dynamic', 'var']);

/** `Rope<Hemp>?` and `deck.Rope` are both a `Rope`; what is no single name says nothing, and a list is none of what it holds. */
function plainType(written: string): string | undefined {
  const name = /^(?:[A-Za-z_]\w*\.)*([A-Za-z_]\w*)(?:<.*>|\[.+\])?(?:\s*\|\s*(?:null|undefined|None))?\??$/.exec(
    written.trim(),
  )?.[1];
  return name !== undefined && ANYTHING.has(name) ? undefined : name;
}
