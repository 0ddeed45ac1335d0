/** Where a text stands that code uses: at the place of its use, or where the constant, field or local that holds it is made. */
import { itemAt } from '../helpers/at.js';
import { once } from '../helpers/once.js';
import { push } from '../helpers/push.js';
import type { Linked } from '../linking/linked.js';
import type { World, WorldType } from '../linking/world/world.js';
import type { Range } from '../model/piece.js';
import type { Value } from '../reading/facts.js';
import type { Change } from './change.js';

/** The change that writes a text in the place of one that is used at a place. */
export function rewritten({ world }: Linked, file: string, range: Range, from: string, to: string): Change {
  const change: Change = { is: 'replace', file, range, from, to };
  const source = world.files.sourceOf.get(file);
  const script = source === undefined ? undefined : itemAt(world.facts, source).script;
  const operation = script?.operations.find((one) => isSame(one.range, range));
  if (source === undefined || !operation) return change;
  const own = (world.types.inFile.get(source) ?? []).find(({ local }) => local === operation.type);
  const values = Object.values(operation.arguments).flatMap((value) => (value.is === 'any' ? value.of : [value]));
  const homes = new Set(values.flatMap((value) => homesOf(world, value, from, own)));
  const [home] = homes;
  // What the file itself says somewhere else, or one other file: of several nobody knows which is meant.
  return home !== undefined && homes.size === 1 && home !== file
    ? { ...change, file: home, range: TOP, isElsewhere: true }
    : { ...change, isElsewhere: true };
}

const TOP: Range = { line: 1, column: 1, endLine: 1, endColumn: 1 };

function isSame(a: Range, b: Range): boolean {
  return a.line === b.line && a.column === b.column && a.endLine === b.endLine && a.endColumn === b.endColumn;
}

/** Files in which a constant or field that a value stands for is given the text. */
function homesOf(world: World, value: Value, text: string, own: WorldType | undefined): string[] {
  if (value.is === 'constant') return constantsOf(world).get(`${value.name}\n${text}`) ?? [];
  if (value.is !== 'field' || !own) return [];
  return [own, ...own.ancestors].flatMap(({ source, script, local }) =>
    script.fieldValues.some(
      (one) => one.type === local && one.field === value.name && one.value.is === 'text' && one.value.text === text,
    )
      ? [itemAt(world.facts, source).file]
      : [],
  );
}

/** Files by the constants that they make known, with the texts of these. */
const constantsOf = once(({ facts }: World): Map<string, string[]> => {
  const files = new Map<string, string[]>();
  for (const { file, script } of facts)
    for (const { name, text } of script?.constants ?? []) push(files, `${name}\n${text}`, file);
  return files;
});
