/** Tables in code that are documents: literals under one name or in calls of one function, in one file or many. */
import type { Language } from '../reading/plan/plan.js';
import { everyTable, type TablePlace } from '../reading/scripts/tables.js';
import type { ScriptSyntax } from '../reading/scripts/syntax.js';
import type { Kind } from './kinds.js';
import { addTree, join, newShape, type Shape } from './shapes.js';
import type { Texts } from './texts.js';

/** Calls that stand for the text they are given: those by which texts are commonly marked for translation. */
const THROUGH = ['_', '__', 'N_', 'tr'];
/** Smaller tables say nothing. */
const FEWEST_VALUES = 5;

/** Gathers the tables of scripts by where they stand. */
export class CodeTables {
  constructor(
    private readonly texts: Texts,
    readonly kinds: Map<string, Kind> = new Map(),
  ) {}

  add(script: ScriptSyntax, file: number, language: Language): void {
    for (const one of everyTable(script, THROUGH)) this.addTable(one, file, language);
  }

  private addTable({ place, name, tree }: TablePlace, file: number, language: Language): void {
    const key = `${language}\n${place}\n${name}`;
    let kind = this.kinds.get(key);
    if (!kind) {
      const called = name.slice(name.lastIndexOf('.') + 1) || 'returned';
      kind = {
        name: called,
        format: 'code',
        isToldByEnding: true,
        tag: '',
        table: { language, place, name, through: THROUGH },
        shape: newShape(),
        inside: [],
        files: [],
      };
      this.kinds.set(key, kind);
    }
    if (kind.files.at(-1) !== file) kind.files.push(file);
    addTree(kind.shape, tree, this.texts, file);
  }

  /** Adds the tables of later files. */
  join(later: CodeTables): void {
    for (const [key, kind] of later.kinds) {
      const own = this.kinds.get(key);
      if (!own) {
        this.kinds.set(key, kind);
        continue;
      }
      join(own.shape, kind.shape);
      for (const file of kind.files) own.files.push(file);
    }
  }

  /** The kinds that hold enough to be documents. */
  all(): Kind[] {
    return [...this.kinds.values()].filter(({ shape }) => valuesIn(shape) >= FEWEST_VALUES);
  }
}

function valuesIn(shape: Shape): number {
  const open = [shape];
  let values = 0;
  for (let at = open.pop(); at && values < FEWEST_VALUES; at = open.pop()) {
    values += at.texts.total;
    open.push(...at.members.values());
    if (at.item) open.push(at.item);
  }
  return values;
}
