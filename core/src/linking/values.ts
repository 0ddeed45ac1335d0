/** Values in force: what the code gives a field, what each prefab and instance saves over it, and which one wins. */
import { itemAt } from '../helpers/at.js';
import { kindOf, nameOf } from '../model/graph.js';
import { recordFields, records } from './records.js';
import type { FieldValues, PartValues } from './linked.js';
import type { World, WorldPart } from './world/world.js';

/** Values on a part, or on the parts of an object. */
export function valuesOf(world: World, piece: number): PartValues[] {
  const { graph } = world.builder;
  if (kindOf(graph, piece) !== 'object' && records(world).has(piece)) return valuesOfRecord(world, piece);
  const part = world.trees.partByPiece.get(piece);
  const parts = part ? [part] : (world.trees.partsOf.get(piece) ?? []);
  return parts.map((one) => valuesOfPart(world, one)).filter(({ fields }) => fields.length > 0);
}

function valuesOfPart(world: World, part: WorldPart): PartValues {
  const fields = new Map<string, FieldValues>();
  const fieldOf = (name: string, type = '', exposed = false): FieldValues => {
    let found = fields.get(name);
    if (!found) fields.set(name, (found = { field: name, type, exposed, levels: [] }));
    return found;
  };
  for (const type of part.type ? [part.type, ...part.type.ancestors] : []) {
    const { file } = itemAt(world.facts, type.source);
    for (const field of itemAt(type.script.types, type.local).fields) {
      if (fields.has(field.name) || !(field.exposed || part.values.some(({ value }) => value.name === field.name)))
        continue;
      const { levels } = fieldOf(field.name, field.type, field.exposed);
      const by = `${type.name} in code`;
      levels.push({ by, text: field.default, empty: field.default === undefined, file, range: field.range });
    }
  }
  for (const { value, source } of part.values) {
    const { file, kind, name } = itemAt(world.facts, source);
    const { text, empty, range } = value;
    fieldOf(value.name).levels.push({ by: `${kind} ${name}`, text, empty, file, range });
  }
  return { part: part.piece, typeName: part.type?.name || part.typeName, fields: [...fields.values()] };
}

/** What a record has of its own and from its bases. */
function valuesOfRecord(world: World, piece: number): PartValues[] {
  const { graph } = world.builder;
  const fields = [...recordFields(world, piece).fields.values()].map(({ name, levels, text }): FieldValues => {
    const isPlain = levels.every(({ value }) => value.joins === 'replaces' && !value.words);
    return {
      field: name,
      type: '',
      exposed: false,
      levels: levels.map(({ piece: by, value, file }) => ({
        by: `${kindOf(graph, by)} ${nameOf(graph, by)}`,
        text: value.text,
        empty: value.empty,
        file,
        range: value.range,
        ...(value.joins !== 'replaces' && { joins: value.joins }),
      })),
      ...(!isPlain && { inForce: text ?? null }),
    };
  });
  return fields.length > 0 ? [{ part: piece, typeName: nameOf(graph, piece), fields }] : [];
}
