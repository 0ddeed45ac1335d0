/** Tables in code that are documents: literals under one name or in calls of one function, in one file or many. */
import { grouped } from '../helpers/grouped.js';
import type { Language } from '../reading/plan/plan.js';
import { everyTable, type Place, type TablePlace } from '../reading/scripts/tables.js';
import type { ScriptSyntax } from '../reading/scripts/syntax.js';
import { kindsOfDocuments, type Kind } from './kinds.js';
import { addTree, join, newShape, type Shape } from './shapes.js';
import type { Texts } from './texts.js';

/** Calls that stand for the text they are given: those by which texts are commonly marked for translation. */
const THROUGH = ['_', '__', 'N_', 'tr'];
/** Tables with fewer values and things say nothing. */
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
    // What a file gives as such is a document of its own, as a data file is.
    const key = `${language}\n${place}\n${name}${isOfFile(place, name) ? `\n${file}` : ''}`;
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

  /** The kinds that hold enough to be documents. @param paths all files of the project, by position */
  all(paths: readonly string[]): Kind[] {
    const isAlone = ({ table }: Kind): boolean => table !== undefined && isOfFile(table.place, table.name);
    const found = [...this.kinds.values()];
    const apart = grouped(found.filter(isAlone), ({ table }) => `${table?.language}\n${table?.name}`);
    return [
      ...found.filter((kind) => !isAlone(kind)),
      ...apart.flatMap((same) => kindsOfDocuments(same, paths)),
    ].filter(({ shape }) => valuesIn(shape) >= FEWEST_VALUES);
  }
}

/** Whether a table is what the file as such gives. */
const isOfFile = (place: Place, name: string): boolean =>
  (place === 'returned' && name === '') || (place === 'assigned' && name === 'default');

function valuesIn(shape: Shape): number {
  const open = [shape];
  let values = 0;
  for (let at = open.pop(); at && values < FEWEST_VALUES; at = open.pop()) {
    values += at.texts.total + (at.parent ? at.objects : 0);
    open.push(...at.members.values());
    if (at.item) open.push(at.item);
  }
  return values;
}
