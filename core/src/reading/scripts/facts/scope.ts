/** Values under names, branch by branch. */
import { UNKNOWN, type Value } from '../../facts.js';

/** What local names (and fields set in the same function, as `this.name`) stand for at one point of the code. */
export type Scope = Map<string, Value>;

/** Values that a choice may have before it counts as unknown. */
const MOST_CHOICES = 8;

/** After branches: a name that differs between them may be any of what they left. */
export function merge(scope: Scope, branches: Scope[]): void {
  const names = new Set(branches.flatMap((branch) => [...branch.keys()]));
  for (const name of names) {
    const values = branches.map(
      (branch): Value =>
        branch.get(name) ?? (name.startsWith('this.') ? { is: 'field', name: name.slice(5) } : UNKNOWN),
    );
    scope.set(name, anyOf(values));
  }
}

export function joined(parts: Value[]): Value {
  // A choice within a text counts as not known: choices of choices would double with each.
  const flat = parts.flatMap((part): Value[] => {
    if (part.is === 'join') return part.parts;
    if (part.is === 'number') return [{ is: 'text', text: String(part.number) }];
    return [part.is === 'any' ? UNKNOWN : part];
  });
  const texts = flat.flatMap((part) => (part.is === 'text' ? [part.text] : []));
  if (texts.length === flat.length) return { is: 'text', text: texts.join('') };
  return texts.length > 0 ? { is: 'join', parts: flat } : UNKNOWN;
}

export function anyOf(values: Value[]): Value {
  const [first] = values;
  // Most names are the same in every branch.
  if (first && values.every((value) => value === first)) return first;
  const flat = values.flatMap((value) => (value.is === 'any' ? value.of : [value]));
  const distinct = [...new Map(flat.map((value) => [JSON.stringify(value), value])).values()];
  if (distinct.length === 1 && distinct[0]) return distinct[0];
  return distinct.length === 0 || distinct.length > MOST_CHOICES ? UNKNOWN : { is: 'any', of: distinct };
}
