/** What a script says of the types of its names, for patterns that ask for a receiver's type. */
import type { Expression, FunctionSyntax, ScriptSyntax } from './syntax.js';

export interface TypeNotes {
  /** The type of what an expression gives, as a plain name; undefined when the code does not say. */
  typeOf(expression: Expression): string | undefined;
  noteLocal(name: string, written: string, value: Expression | undefined): void;
  /** Begins a function: its parameters count; the function given back ends it. */
  enter(code: FunctionSyntax): () => void;
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
  let locals = new Map<string, string>();

  const typeOf = (expression: Expression): string | undefined => {
    switch (expression.is) {
      case 'name':
        return locals.get(expression.name) ?? globals[expression.name];
      case 'self':
        return script.types[currentType()]?.name;
      case 'member':
        return expression.of.is === 'self' ? fieldType(expression.name) : undefined;
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

  return {
    typeOf,
    noteLocal(name, written, value) {
      const type = plainType(written) ?? (value && typeOf(value));
      if (type) locals.set(name, type);
      else locals.delete(name);
    },
    enter(code) {
      const outer = locals;
      locals = new Map(outer);
      for (const { name, type } of code.parameters) {
        const plain = plainType(type);
        if (plain) locals.set(name, plain);
        else locals.delete(name);
      }
      return () => (locals = outer);
    },
  };
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
