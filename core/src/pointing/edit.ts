/** Changes to the text of a plan that leave its comments and layout as they are. */
import { applyEdits, format, modify, parse, type JSONPath } from 'jsonc-parser';

const FORMAT = { insertSpaces: true, tabSize: 2, eol: '\n' };

/** The plan's text laid out evenly; comments stay. */
export function formatPlan(text: string): string {
  return applyEdits(text, format(text, undefined, FORMAT));
}

/** A plan with a rule that was just written. */
export interface WrittenRule {
  text: string;
  /** Its key, as `calls: stage.find($name)`; empty when nothing was written. */
  rule: string;
}

/** The text of a plan that is being changed. */
export class PlanEdit {
  constructor(public text: string) {}

  set(path: JSONPath, value: unknown): void {
    this.text = applyEdits(this.text, modify(this.text, path, value, { formattingOptions: FORMAT }));
  }

  /** Puts a value into a list, before the one at a position. */
  insert(path: JSONPath, at: number, value: unknown): void {
    const edits = modify(this.text, [...path, at], value, { formattingOptions: FORMAT, isArrayInsertion: true });
    this.text = applyEdits(this.text, edits);
  }

  read<T>(path: JSONPath): T | undefined {
    return path.reduce((at: unknown, step) => (at as never)?.[step], parse(this.text)) as T | undefined;
  }

  /** Adds to what may be one value or a list of them. */
  add(path: JSONPath, value: unknown): void {
    const known = this.read<unknown>(path);
    if (known === undefined) return this.set(path, [value]);
    const list = Array.isArray(known) ? (known as unknown[]) : [known];
    if (!list.some((one) => JSON.stringify(one) === JSON.stringify(value))) this.set(path, [...list, value]);
  }
}

/** A name that no rule has yet. */
export function freeName(rules: object | undefined, wanted: string): string {
  let name = wanted;
  for (let number = 2; rules && name in rules; number++) name = `${wanted} ${number}`;
  return name;
}
