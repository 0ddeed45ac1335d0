/** Members of types: what a type declares, has from its parents, and whether all of it is known. */
import { itemAt, must } from '../helpers/at.js';
import { once, oncePer } from '../helpers/once.js';
import { distance } from '../helpers/nearest.js';
import { LANGUAGE } from '../reading/scripts/languages.js';
import { isEngines } from './losses.js';
import { typeNamed } from './world/types.js';
import { isRead } from './world/unread.js';
import type { World, WorldType } from './world/world.js';

/** Functions by which a type answers to any name. */
const ANSWERS_ALL = new Set(['__getattr__', '__getattribute__', '__index']);
/** Whether the language lets code add members to an object at any time. */
export function isOpen(type: WorldType): boolean {
  return LANGUAGE[type.script.language].isOpen;
}

export interface Member {
  name: string;
  hidden: boolean;
  /** The code gives it to itself without declaring it. */
  isGiven: boolean;
}

/** Members that a type itself declares, or gives itself in its code. */
const membersOf = once(({ script, local }: WorldType): Map<string, Member> => {
  const members = new Map<string, Member>();
  for (const name of itemAt(script.types, local).others ?? [])
    members.set(name, { name, hidden: false, isGiven: false });
  for (const { name, hidden } of itemAt(script.types, local).fields)
    members.set(name, { name, hidden, isGiven: false });
  for (const { type: of, name, hidden } of script.functions)
    if (of === local) members.set(name, { name, hidden, isGiven: false });
  for (const { type: of, field } of script.fieldValues)
    if (of === local && !members.has(field)) members.set(field, { name: field, hidden: false, isGiven: true });
  return members;
});

/** The member of a type or its parents, with the type that declares it. */
export function findMember(type: WorldType, name: string): { member: Member; declaring: WorldType } | undefined {
  let given: { member: Member; declaring: WorldType } | undefined;
  for (const declaring of [type, ...type.ancestors]) {
    const member = membersOf(declaring).get(name);
    if (member && !member.isGiven) return { member, declaring };
    if (member) given ??= { member, declaring };
  }
  return given;
}

/**
 * Whether all members of a type are known: every parent is a type of the project, or one of the engine's whose
 * members the plan names.
 */
export const isWhole = oncePer((world: World, type: WorldType): boolean => {
  const { types, members } = world.plan.engine;
  return [type, ...type.ancestors].every(
    (one) =>
      isRead(world, one.source) &&
      itemAt(one.script.types, one.local).kind !== 'interface' &&
      !itemAt(one.script.types, one.local).isOpen &&
      (world.types.byName.get(one.name)?.length ?? 0) <= 1 &&
      ![...membersOf(one).keys()].some((name) => ANSWERS_ALL.has(name)) &&
      itemAt(one.script.types, one.local).parents.every(
        (written) =>
          isAnother(typeNamed(world, written, one.source), one) ||
          (members.length > 0 &&
            isEngines(
              types,
              must(
                written
                  .replace(/[<[].*$/s, '')
                  .split('.')
                  .pop(),
              ).trim(),
            )),
      ),
  );
});

/** `class Wrapper extends lib.Wrapper` descends from a type that only has the same name. */
function isAnother(parent: WorldType | undefined, type: WorldType): boolean {
  return parent !== undefined && parent !== type;
}

/**
 * Whether a call through to a parent may end beside the type's own parents: in a sister, in some type that descends from
 * both, or in a parent of that one which is not known.
 */
export function mayEndInSister(world: World, type: WorldType, name: string): boolean {
  if (!LANGUAGE[type.script.language].hasManyParents) return false;
  const own = new Set([type, ...type.ancestors]);
  return world.types.all.some(
    (mixed) =>
      mixed.ancestors.includes(type) &&
      (!isWhole(world, mixed) ||
        mixed.ancestors.some((one) => !own.has(one) && !one.ancestors.includes(type) && findMember(one, name))),
  );
}

/** Whether a type surely has no member of this name. */
export function isMissing(world: World, type: WorldType, name: string): boolean {
  const { language } = type.script;
  return (
    !findMember(type, name) &&
    isWhole(world, type) &&
    !LANGUAGE[language].membersOfEvery.test(name) &&
    !isEngines(world.plan.engine.members, name)
  );
}

/**
 * Whether an object may have a member of this name all the same. Where the language lets code add members at any time,
 * only a slip of the pen is sure: a name that stands nowhere else and differs by one letter from one that is there.
 */
export function mayBeAdded(world: World, type: WorldType, name: string): boolean {
  if (!isOpen(type)) return false;
  if (world.code.setElsewhere.has(name) || world.code.functionNames.has(name) || memberIndex(world).has(name))
    return true;
  return name.length < 4 || !memberNames(type).some((other) => distance(name, other, 1) === 1);
}

/** Names of all members. What scripts mention changes with every edit, so that the checks look at it. */
const memberIndex = once(({ types }: World) => new Set(types.all.flatMap((type) => [...membersOf(type).keys()])));

/** Whether values are saved for a type's exposed fields, and not for whatever its code takes. */
export function savesFields(type: WorldType): boolean {
  const chain = [type, ...type.ancestors];
  return (
    !isOpen(type) || chain.some((one) => itemAt(one.script.types, one.local).fields.some((field) => field.exposed))
  );
}

/** Whether a function of the type, its constructor among them, takes a value of this name. */
export function takesValue(type: WorldType, name: string): boolean {
  return [type, ...type.ancestors].some(({ script, local }) =>
    script.functions.some((code) => code.type === local && code.parameters.includes(name)),
  );
}

/** Whether a function of any type may be called as if it were the type's own (extension methods). */
export function mayBeExtension(world: World, type: WorldType, name: string): boolean {
  return LANGUAGE[type.script.language].hasExtensions && world.code.functionNames.has(name);
}

/** Names of all members of a type and its parents. */
export function memberNames(type: WorldType): string[] {
  return [...new Set([type, ...type.ancestors].flatMap((one) => [...membersOf(one).keys()]))].filter(Boolean);
}
