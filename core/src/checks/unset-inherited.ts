import { itemAt } from '../helpers/at.js';
import { push } from '../helpers/push.js';
import { once } from '../helpers/once.js';
import { grouped } from '../helpers/grouped.js';
import { sentence } from '../model/finding.js';
import { partsRunning } from '../linking/world/parts.js';
import { isTypeRead, mayBeUnread, scripting } from '../linking/world/unread.js';
import type { World, WorldType } from '../linking/world/world.js';
import { functionOf, isConstructor } from '../linking/flow.js';
import type { Linked } from '../linking/linked.js';
import type { Check } from './check.js';
import { namesOf } from './flags.js';

/** Inherited code uses a field that this child never sets. */
export const unsetInherited: Check = {
  id: 'fragile/unset-inherited',
  title: 'Inherited code uses a field that this child never sets',
  severity: 'warning',
  why: 'The parent’s rule runs for this child too and finds nothing in the field.',
  decides:
    'Fires where a parent’s code uses a field that neither it nor anything above it gives a value, at least as many of its children set the field as do not, and this one does not: not in its code, not in a saved value, not from elsewhere. Silent when most children leave it, when the parent asks before use or names the field as a text, when the child replaces the function that uses it, when other code may set it, and when the child has children of its own that do.',
  run: (linked) => {
    const { world } = linked;
    return grouped(
      world.types.all.flatMap((type) => unsetOf(linked, type)),
      ({ field, parent }) => `${parent.index} ${field}`,
    ).flatMap((unset) => {
      const [{ type, field, parent, read, setters }] = unset;
      // Where most do without, something unseen gives it its value.
      if (unset.length > setters.length) return [];
      const brother = itemAt(setters, 0);
      const more = unset.length > 1 ? [` and ${unset.length - 1} more`] : [];
      return [
        {
          sentence: [
            { name: type.name, piece: type.piece },
            ...more,
            ...sentence` never ${more.length > 0 ? 'set' : 'sets'} ${field}, which ${{ name: parent.name, piece: parent.piece }} uses for it; ${{ name: brother.name, piece: brother.piece }} sets it`,
          ],
          sure: 'All code of the type and its parents was read, and so were the values saved on every object that runs it.',
          pieces: [type.piece, parent.piece, brother.piece],
          evidence: [
            { file: itemAt(world.facts, parent.source).file, range: read, shows: 'where it is used' },
            ...unset.slice(0, 4).map((one) => ({
              file: itemAt(world.facts, one.type.source).file,
              range: itemAt(one.type.script.types, one.type.local).range,
              shows: 'a child that never sets it',
            })),
          ],
          walk: [],
          places: unset.length,
          repairs: [{ title: 'Set it', words: `Give ${type.name} a value for ${field}, or ${parent.name} a default.` }],
          sameBy: [type.name, parent.name, field],
        },
      ];
    });
  },
};

interface Unset {
  type: WorldType;
  field: string;
  parent: WorldType;
  read: WorldType['script']['fieldReads'][number]['range'];
  /** Brothers that set it. */
  setters: WorldType[];
}

function unsetOf(linked: Linked, type: WorldType): Unset[] {
  const { world } = linked;
  if (type.ancestors.length === 0 || !isTypeRead(world, type)) return [];
  const chain = [type, ...type.ancestors];
  const children = childrenOf(world);
  return type.ancestors.flatMap((parent) =>
    parent.script.fieldReads.flatMap(({ type: local, field, function: at, range }): Unset[] => {
      if (local !== parent.local || world.code.setElsewhere.has(field) || namesOf(linked).made.has(field)) return [];
      // Code that names the field as a text asks for it, or sets it, by that name.
      if (chain.some(({ script }) => script.mentions.includes(field))) return [];
      if (chain.some((one) => sets(one, field) || declaresFunction(one, field))) return [];
      const code = parent.script.functions[at];
      if (code?.name && functionOf(type, code.name)?.type !== parent) return [];
      if ((children.get(type) ?? []).some((child) => sets(child, field))) return [];
      if (mayBeUnread(world, field, scripting)) return [];
      if (partsRunning(world, type).some((part) => part.values.some(({ value }) => value.name === field))) return [];
      const setters = (children.get(parent) ?? []).filter((one) => !chain.includes(one) && sets(one, field));
      return setters.length > 0 ? [{ type, field, parent, read: range, setters }] : [];
    }),
  );
}

/** Whether a type gives a field a value, itself. */
function sets({ script, local }: WorldType, name: string): boolean {
  return (
    script.fieldValues.some(({ type, field, value }) => type === local && field === name && value.is !== 'nothing') ||
    itemAt(script.types, local).fields.some(
      (field) => field.name === name && (field.default !== undefined || field.exposed),
    ) ||
    script.functions.some((code) => code.type === local && code.parameters.includes(name) && isConstructor(code.name))
  );
}

/** A function, an event or a type inside it is no field that must be set. */
function declaresFunction({ script, local }: WorldType, name: string): boolean {
  return (
    script.functions.some((code) => code.type === local && code.name === name) ||
    (itemAt(script.types, local).others?.includes(name) ?? false)
  );
}

/** Types that descend from each. */
const childrenOf = once(({ types }: World): Map<WorldType, WorldType[]> => {
  const index = new Map<WorldType, WorldType[]>();
  for (const type of types.all) for (const parent of type.ancestors) push(index, parent, type);
  return index;
});
