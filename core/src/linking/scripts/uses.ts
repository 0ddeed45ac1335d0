/** Members, flags and functions that scripts use. */
import { itemAt, must } from '../../helpers/at.js';
import type { Moment, Side } from '../../model/link.js';
import type { Range } from '../../model/piece.js';
import type { FileFacts, FlagUse, MemberUse, ScriptFacts } from '../../reading/facts.js';
import type { MissingMember } from '../faults.js';
import { importedFile } from '../link-imports.js';
import { filesGiving, namesSeen } from './names-seen.js';
import { LANGUAGE } from '../../reading/scripts/languages.js';
import { findMember, isMissing, isOpen, mayBeAdded, mayBeExtension, memberNames } from '../members.js';
import { emptyLoss, isEngines } from '../losses.js';
import { filesNamed } from '../paths.js';
import { addLost, type Work } from '../work.js';
import { hasUnknownParts } from '../world/parts.js';
import { flagPiece, typeNamed } from '../world/types.js';
import { mayBeUnread, scripting } from '../world/unread.js';
import { rootsOf, type World, type WorldType } from '../world/world.js';
import { typePiece } from './operations.js';

/** What code does with the flags of its own types; with those of others, {@link linkUse}. */
export function linkFlags({ world }: Work, { file, script }: FileFacts, source: number): void {
  for (const use of must(script).flagUses) {
    const type = (world.types.inFile.get(source) ?? []).find(({ local }) => local === use.type);
    const to = type && flagPiece(type, use.field);
    if (to === undefined) continue;
    world.builder.addLink({
      from: must(type).piece,
      to,
      verb: use.how,
      grip: 'name',
      file,
      ...flagWords(must(script), use),
    });
  }
}

/** When a flag is set or looked at, and how: `set on in open()`, `asked in everyFrame(): this.isLevel`. */
function flagWords(
  { functions, side: around }: ScriptFacts,
  { how, asks, to, function: at, range }: FlagUse | MemberUse,
): { label: string; moment: Moment; side: Side; range: Range } {
  const code = functions[at];
  const does = how === 'writes' ? (to ? `set ${to}` : 'set') : asks === undefined ? 'read' : 'asked';
  const where = code?.name ? ` in ${code.name}()` : '';
  const words = asks === undefined ? '' : `: ${asks}`;
  return { label: does + where + words, moment: code?.moment ?? 'unknown', side: code?.side ?? around, range };
}

/** A member of another type, or one that the own type has from a parent: the link ends on the type that declares it. */
export function linkUse(work: Work, fact: FileFacts, source: number, use: MemberUse): void {
  const { world } = work;
  const { of, member, how, type, range } = use;
  const used = typeNamed(world, of, source);
  const from = typePiece(world, source, type);
  if (!used) return;
  const found = findMember(used, member);
  if (!found) return noteMissing(work, fact, source, from, used, use);
  const { declaring } = found;
  if (declaring.piece === from) return;
  const user = (world.types.inFile.get(source) ?? []).find((one) => one.piece === from);
  const isHidden = found.member.hidden && !user?.ancestors.includes(declaring);
  const flag = flagPiece(declaring, member);
  if (flag === undefined) {
    const label = isHidden ? `${member}, which is hidden` : member;
    world.builder.addLink({ from, to: declaring.piece, verb: how, grip: 'name', label, file: fact.file, range });
  } else {
    const words = flagWords(must(fact.script), use);
    world.builder.addLink({
      from,
      to: flag,
      verb: how === 'calls' ? 'reads' : how,
      grip: 'name',
      file: fact.file,
      ...words,
    });
  }
  if (isHidden) work.linked.faults.push({ ...missing(fact, from, declaring, use), isHidden: true });
}

function missing({ file }: FileFacts, from: number, type: WorldType, { member, how, range }: MemberUse): MissingMember {
  return {
    is: 'missing member',
    of: 'type',
    part: -1,
    foundIn: file,
    file,
    range,
    from,
    type: type.piece,
    typeName: type.name,
    member,
    how,
    isOwn: type.piece === from,
    isHidden: false,
    unlessMentioned: isOpen(type),
    prefab: -1,
    members: memberNames(type),
  };
}

function noteMissing(work: Work, fact: FileFacts, source: number, from: number, type: WorldType, use: MemberUse): void {
  const { world } = work;
  const { member, how, range } = use;
  if (!isMissing(world, type, member) || mayBeAdded(world, type, member)) return;
  if (how === 'calls' && mayBeExtension(world, type, member)) return;
  if (isFromOutside(world, fact, source, use.of)) return;
  work.linked.faults.push(missing(fact, from, type, use));
  if (isOpen(type)) return;
  const loss = { ...emptyLoss('member', member), lastObject: type.piece };
  addLost(work, { from, verb: how, file: fact.file, field: '', range }, loss);
}

/** Whether a file takes a type in from a module that is none of the project's. */
function isFromOutside(world: World, { script }: FileFacts, source: number, name: string): boolean {
  const taken = script?.imports.find(({ names }) => names.some(({ as }) => as === name));
  return taken !== undefined && importedFile(world, source, taken.from) === undefined;
}

/** A member of the script on what was just spawned: one of the prefab's root must have it. */
export function linkUseOfSpawned(work: Work, fact: FileFacts, source: number, use: MemberUse, spawned: number): void {
  const { world } = work;
  const { arguments: given, rule: index } = itemAt(must(fact.script).operations, spawned);
  const rule = itemAt(world.plan.calls, index);
  const from = typePiece(world, source, use.type);
  for (const prefab of filesNamed(world, rule.target, given.path, fact.file)) {
    if (prefab === undefined) continue;
    const root = itemAt(rootsOf(world, prefab), 0);
    const types = (world.trees.partsOf.get(root) ?? []).flatMap((part) => part.type ?? []);
    const found = types.map((type) => findMember(type, use.member)).find(Boolean);
    const { file, range } = { file: fact.file, range: use.range };
    if (found) {
      const to = found.declaring.piece;
      world.builder.addLink({ from, to, verb: use.how, grip: 'name', label: use.member, file, range });
    } else if (
      types.length > 0 &&
      !hasUnknownParts(world, root) &&
      types.every((type) => isMissing(world, type, use.member))
    ) {
      const fault = missing(fact, from, itemAt(types, 0), use);
      work.linked.faults.push({
        ...fault,
        prefab: itemAt(world.files.piece, prefab),
        members: types.flatMap(memberNames),
      });
      const loss = { ...emptyLoss('member', use.member), lastObject: itemAt(types, 0).piece };
      addLost(work, { from, verb: use.how, file, field: '', range }, loss);
    }
  }
}

/** Functions called by their bare names: the file sees one, the engine brings it, or nobody does. */
export function linkStrangers(work: Work, fact: FileFacts, source: number): void {
  const { world } = work;
  const { functions } = world.plan.engine;
  if (functions.length === 0) return;
  const seenBy = new Map<number, ReadonlySet<string> | undefined>();
  for (const { name, type, range } of must(fact.script).strangers) {
    if (isEngines(functions, name) || mayBeUnread(world, name, scripting)) continue;
    // In a type it may be a member that every object has, or one that the engine's types have.
    if (type >= 0 && (isEngines(world.plan.engine.members, name) || isOfEvery(fact, name))) continue;
    if (!seenBy.has(type)) seenBy.set(type, namesSeen(world, source, type));
    const names = seenBy.get(type);
    if (!names || names.has(name)) continue;
    const from = typePiece(world, source, type);
    const place = { part: -1, foundIn: fact.file, file: fact.file, range };
    const elsewhere = filesGiving(world, name);
    work.linked.faults.push({ is: 'missing call', from, name, functions: names, elsewhere, ...place });
    addLost(work, { from, verb: 'calls', file: fact.file, field: '', range }, emptyLoss('member', name));
  }
}

function isOfEvery({ script }: FileFacts, name: string): boolean {
  return script !== undefined && LANGUAGE[script.language].membersOfEvery.test(name);
}
