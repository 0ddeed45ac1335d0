/** What scripts do wherever they run: types and their parents, events, spawns, files and names they mention. */
import { nameOf } from '../model/graph.js';
import type { Moment, Side, Verb } from '../model/link.js';
import type { Range } from '../model/piece.js';
import type {
  FileFacts,
  FlagUse,
  FunctionFact,
  LiteralFact,
  MemberUse,
  Operation,
  ScriptFacts,
  Value,
} from '../reading/facts.js';
import type { MissingMember } from './faults.js';
import { MEANING } from '../reading/plan/meanings.js';
import type { CallRule } from '../reading/plan/plan.js';
import { cut } from '../reading/source.js';
import { hasUnknownParts } from './look-ups/parts-of.js';
import { patternOf, textsOf } from './look-ups/texts.js';
import { eventNamed } from './events.js';
import { importedFile } from './link-imports.js';
import { findMember, isMissing, isOpen, mayBeAdded, mayBeExtension, memberNames } from './members.js';
import { emptyLoss, findLabel, findPath, findTarget, isEngines } from './targets.js';
import { addLost, countShare, lose, type Work } from './work.js';
import { flagPiece, typeNamed } from './world/types.js';
import { push } from '../helpers/push.js';
import { rootsOf, type World, type WorldType } from './world/world.js';

/** Whatever code spawns may turn up under any parent, so its name cannot be said to be missing. */
export function collectMadeAtRun(work: Work): void {
  const { world } = work;
  for (const [source, fact] of world.facts.entries()) {
    for (const operation of fact.script?.operations ?? []) {
      const rule = world.plan.calls[operation.rule];
      if (rule.means !== 'spawn' || !operation.arguments.path) continue;
      for (const text of textsOf(world, operation.arguments.path)) {
        const path = findPath(world, rule.target, text, fact.file).path;
        const prefab = path === undefined ? undefined : world.files.sourceOf.get(path);
        if (prefab === undefined || prefab === source) continue;
        work.madeAtRun.add(world.facts[prefab].name);
        for (const root of rootsOf(world, prefab)) work.madeAtRun.add(nameOf(world.builder.graph, root));
      }
    }
  }
}

export function linkTypes(work: Work, source: number): void {
  const { world } = work;
  for (const type of world.types.inFile.get(source) ?? []) {
    for (const written of type.script.types[type.local].parents) {
      const parent = typeNamed(world, written, type.source);
      if (!parent || parent === type) continue;
      const { file } = world.facts[type.source];
      world.builder.addLink({
        from: type.piece,
        to: parent.piece,
        verb: 'extends',
        grip: 'name',
        file,
        range: type.script.types[type.local].range,
      });
    }
  }
}

/** Records and the like that code makes known under an identity, so that references find them. */
export function declarePieces(world: World): void {
  world.facts.forEach((fact, source) => {
    for (const { id, pattern, kind, range } of declarations(world, fact)) {
      if (pattern) world.names.madeIds.push(pattern);
      if (!id) continue;
      const piece = world.builder.addPiece({
        kind,
        name: id,
        id,
        parent: world.files.piece[source],
        file: fact.file,
        range,
      });
      push(world.names.declared, source, piece);
      push(world.names.byId, id, piece);
      push(world.names.byName, id, piece);
    }
  });
}

/** What a script makes known: identities, and patterns of those that are made at run time. */
export function* declarations(
  world: World,
  fact: FileFacts,
): Generator<{ id?: string; pattern?: RegExp; kind: CallRule['kind']; range: Operation['range'] }> {
  for (const { rule: index, arguments: given, range } of fact.script?.operations ?? []) {
    const { means, kind, target, becomes } = world.plan.calls[index];
    const written = given.id ?? given.name;
    if (means !== 'declare' || !written) continue;
    if (written.is === 'join') yield { pattern: patternOf(written.parts), kind, range };
    for (const text of textsOf(world, written)) {
      const own = cut(text, target.pattern);
      if (own) yield { id: becomes.replace('*', () => own), kind, range };
    }
  }
}

/** What scripts do wherever they run: events, spawns, files they name. */
export function linkScripts(work: Work, source: number): void {
  const { world } = work;
  const fact = world.facts[source];
  if (!fact.script) return;
  for (const operation of fact.script.operations) {
    const rule = world.plan.calls[operation.rule];
    const from = typePiece(world, source, operation.type);
    if (rule.means === 'find label') checkLabel(work, fact, from, operation);
    if (rule.means === 'send' || rule.means === 'listen') linkEvent(work, fact, from, operation, rule, source);
    const verb = MEANING[rule.means].names;
    if (verb) linkTarget(work, fact, from, operation, rule, rule.means === 'refer' ? rule.verb : verb, source);
  }
  for (const literal of fact.script.literals) linkLiteral(work, fact, source, literal);
  for (const use of fact.script.uses) {
    if (use.spawned === undefined) linkUse(work, fact, source, use);
    else linkUseOfSpawned(work, fact, source, use, use.spawned);
  }
  linkFlags(work, fact, source);
  linkStrangers(work, fact, source);
}

/** What code does with the flags of its own types; with those of others, {@link linkUse}. */
function linkFlags({ world }: Work, { file, script }: FileFacts, source: number): void {
  for (const use of script!.flagUses) {
    const type = (world.types.inFile.get(source) ?? []).find(({ local }) => local === use.type);
    const to = type && flagPiece(type, use.field);
    if (to === undefined) continue;
    world.builder.addLink({ from: type!.piece, to, verb: use.how, grip: 'name', file, ...flagWords(script!, use) });
  }
}

/** When a flag is set or looked at, and how: `set on in open()`, `asked in everyFrame(): this.isLevel`. */
function flagWords(
  { functions, side: around }: ScriptFacts,
  { how, asks, to, function: at, range }: FlagUse | MemberUse,
): { label: string; moment: Moment; side: Side; range: Range } {
  const code = functions[at] as FunctionFact | undefined;
  const does = how === 'writes' ? (to ? `set ${to}` : 'set') : asks === undefined ? 'read' : 'asked';
  const where = code?.name ? ` in ${code.name}()` : '';
  const words = asks === undefined ? '' : `: ${asks}`;
  return { label: does + where + words, moment: code?.moment ?? 'unknown', side: code?.side ?? around, range };
}

/** A member of another type, or one that the own type has from a parent: the link ends on the type that declares it. */
function linkUse(work: Work, fact: FileFacts, source: number, use: MemberUse): void {
  const { world } = work;
  const { of, member, how, type, range } = use;
  const used = typeNamed(world, of, source);
  const from = typePiece(world, source, type);
  if (!used) return;
  const found = findMember(used, member);
  if (!found) return noteMissing(work, fact, from, used, use);
  const { declaring } = found;
  if (declaring.piece === from) return;
  const user = (world.types.inFile.get(source) ?? []).find((one) => one.piece === from);
  const isHidden = found.member.hidden && !user?.ancestors.includes(declaring);
  const flag = flagPiece(declaring, member);
  if (flag === undefined) {
    const label = isHidden ? `${member}, which is hidden` : member;
    world.builder.addLink({ from, to: declaring.piece, verb: how, grip: 'name', label, file: fact.file, range });
  } else {
    const words = flagWords(fact.script!, use);
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

function noteMissing(work: Work, fact: FileFacts, from: number, type: WorldType, use: MemberUse): void {
  const { world } = work;
  const { member, how, range } = use;
  if (!isMissing(world, type, member) || mayBeAdded(world, type, member)) return;
  if (how === 'calls' && mayBeExtension(world, type, member)) return;
  if (isFromOutside(world, fact, use.of)) return;
  work.linked.faults.push(missing(fact, from, type, use));
  if (isOpen(type)) return;
  const loss = { ...emptyLoss('member', member), lastObject: type.piece };
  addLost(work, { from, verb: how, file: fact.file, field: '', range }, loss);
}

/** Whether a file takes a type in from a module that is none of the project's. */
function isFromOutside(world: World, { script, file }: FileFacts, name: string): boolean {
  const taken = script?.imports.find(({ names }) => names.some(({ as }) => as === name));
  return taken !== undefined && importedFile(world, file, taken.from, script!.language) === undefined;
}

/** A member of the script on what was just spawned: one of the prefab's root must have it. */
function linkUseOfSpawned(work: Work, fact: FileFacts, source: number, use: MemberUse, spawned: number): void {
  const { world } = work;
  const { arguments: given, rule: index } = fact.script!.operations[spawned];
  const rule = world.plan.calls[index];
  const from = typePiece(world, source, use.type);
  for (const text of given.path ? textsOf(world, given.path) : []) {
    const path = findPath(world, rule.target, text, fact.file).path;
    const prefab = path === undefined ? undefined : world.files.sourceOf.get(path);
    if (prefab === undefined) continue;
    const [root] = rootsOf(world, prefab);
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
      const fault = missing(fact, from, types[0], use);
      work.linked.faults.push({ ...fault, prefab: world.files.piece[prefab], members: types.flatMap(memberNames) });
      const loss = { ...emptyLoss('member', use.member), lastObject: types[0].piece };
      addLost(work, { from, verb: use.how, file, field: '', range }, loss);
    }
  }
}

/** Functions called by their bare names: some script defines them, the engine brings them, or nobody does. */
function linkStrangers(work: Work, fact: FileFacts, source: number): void {
  const { world } = work;
  const { functions } = world.plan.engine;
  for (const { name, type, range } of fact.script!.strangers) {
    if (world.code.functionNames.has(name) || world.types.byName.has(name) || world.code.constants.has(name)) continue;
    if (functions.length === 0 || isEngines(functions, name)) continue;
    const from = typePiece(world, source, type);
    const place = { part: -1, foundIn: fact.file, file: fact.file, range };
    work.linked.faults.push({ is: 'missing call', from, name, functions: [...world.code.functionNames], ...place });
    addLost(work, { from, verb: 'calls', file: fact.file, field: '', range }, emptyLoss('member', name));
  }
}

/** A label that nothing declares and nothing carries is lost wherever the code runs. */
function checkLabel(
  work: Work,
  { file }: FileFacts,
  from: number,
  { arguments: given, range, guarded }: Operation,
): void {
  const { world } = work;
  const wanted = given.label ?? given.name;
  for (const text of wanted && !guarded ? textsOf(world, wanted) : []) {
    const target = findLabel(world, text);
    if (target.state === 'lost') lose(work, { from, verb: 'uses', file, field: '', range }, target.loss);
  }
}

/** A text that is a reference by itself. */
function linkLiteral(
  work: Work,
  fact: FileFacts,
  source: number,
  { rule: ruleName, text, type, range }: LiteralFact,
): void {
  const { world } = work;
  const rule = world.plan.literals[ruleName];
  const target = findTarget(world, rule, { text, piece: -1 }, source);
  const place = { from: typePiece(world, source, type), verb: rule.verb, file: fact.file, range };
  if (target.state === 'lost') lose(work, { ...place, field: '', form: rule }, target.loss);
  const pieces =
    target.state === 'found' ? target.pieces.filter((to) => !isDeclaredAt(world, to, fact.file, range)) : [];
  for (const to of pieces)
    world.builder.addLink({ ...place, to, grip: target.state === 'found' ? target.grip : 'lost', label: text });
  countShare(work, source, `literals.${ruleName}`, pieces.length, target.state === 'lost' ? 1 : 0);
}

function linkEvent(
  work: Work,
  fact: FileFacts,
  from: number,
  operation: Operation,
  rule: CallRule,
  source: number,
): void {
  const { world } = work;
  const isSend = rule.means === 'send';
  const names = operation.arguments.event ? eventNames(world, operation.arguments.event, source) : [];
  if (names.length === 0) return noteUnknownEvent(work, operation, isSend);
  if (rule.under && !names.some((name) => isUnder(world, name, source, rule.under!))) return;
  const handler = operation.arguments.handler;
  const handlerName = handler?.is === 'function' ? handler.name : '';
  for (const name of names) {
    const ends = eventNamed(work, name);
    (isSend ? ends.senders : ends.listeners).push({
      file: fact.file,
      range: operation.range,
      piece: from,
      handler: handlerName,
      moment: operation.moment,
      ...(isSend && rule.pattern.more && { payload: operation.payload }),
    });
    world.builder.addLink({
      from,
      to: ends.piece,
      verb: isSend ? 'sends' : 'listens to',
      grip: 'name',
      scope: rule.scope,
      moment: operation.moment,
      side: sideOf(rule, operation),
      label: isSend ? sentWords(rule, operation) : handlerName ? `→ ${handlerName}()` : '',
      file: fact.file,
      range: operation.range,
    });
  }
}

/** The side that the call itself tells, or that of the code around it. */
export function sideOf(rule: CallRule, { side }: Operation): Side {
  return rule.side === 'unknown' ? side : rule.side;
}

function sentWords({ pattern }: CallRule, { payload }: Operation): string {
  if (!pattern.more || payload === 0) return '';
  return `with ${payload} ${payload === 1 ? 'value' : 'values'}`;
}

/** Names an event argument can stand for. A name that is no text of ours may be a type that is the event. */
export function eventNames(world: World, value: Value, source: number): string[] {
  const texts = textsOf(world, value);
  if (texts.length > 0) return texts;
  if (value.is === 'any') return value.of.flatMap((one) => eventNames(world, one, source));
  if (value.is === 'constant') {
    const last = value.name.split('.').pop()!;
    if (typeNamed(world, last, source)) return [last];
    if (value.name.includes('.')) return [value.name];
  }
  return [];
}

function isUnder(world: World, name: string, source: number, parent: string): boolean {
  const type = typeNamed(world, name, source);
  return (
    type !== undefined &&
    (type.name === parent ||
      type.ancestors.some((ancestor) => ancestor.name === parent) ||
      type.script.types[type.local].parents.includes(parent))
  );
}

function noteUnknownEvent(work: Work, operation: Operation, isSend: boolean): void {
  const { event } = operation.arguments;
  if (event?.is === 'join') (isSend ? work.builtSends : work.builtListeners).push(patternOf(event.parts));
  else if (isSend) work.linked.unknownSends = true;
  else work.linked.unknownListeners = true;
}

/** Event names made at run time that fit a known event count as an end of it. */
export function markBuiltEvents(work: Work): void {
  for (const ends of work.events.values()) {
    if (
      work.builtSends.some((pattern) => pattern.test(ends.name)) ||
      work.builtListeners.some((pattern) => pattern.test(ends.name))
    ) {
      work.linked.mentions.add(ends.name);
      work.linked.unknownSends = true;
      work.linked.unknownListeners = true;
    }
  }
}

/** The type whose code it is, or the script for code outside of types. */
function typePiece(world: World, source: number, local: number): number {
  return (
    (world.types.inFile.get(source) ?? []).find((type) => type.local === local)?.piece ?? world.files.piece[source]
  );
}

/** A text that stands in the very call that makes its target known is no reference to it. */
function isDeclaredAt(world: World, piece: number, file: string, { line }: Operation['range']): boolean {
  const { graph } = world.builder;
  return (
    graph.texts[graph.pieces.file[piece]] === file &&
    graph.pieces.line[piece] <= line &&
    graph.pieces.endLine[piece] >= line
  );
}

function linkTarget(
  work: Work,
  fact: FileFacts,
  from: number,
  operation: Operation,
  rule: CallRule,
  verb: Verb,
  source: number,
): void {
  const { world } = work;
  const { path, name, scene, record, id, label, flag, action } = operation.arguments;
  const written = path ?? name ?? scene ?? record ?? id ?? label ?? flag ?? action;
  if (!written) return;
  const place = { from, verb, file: fact.file, range: operation.range };
  for (const text of textsOf(world, written)) {
    const target = findTarget(world, rule.target, { text, piece: -1 }, source);
    if (target.state === 'lost' && !operation.guarded)
      lose(work, { ...place, field: '', form: rule.target }, target.loss);
    if (target.state !== 'found') continue;
    for (const to of target.pieces) {
      world.builder.addLink({
        ...place,
        to,
        grip: target.grip,
        scope: rule.scope,
        moment: operation.moment,
        side: sideOf(rule, operation),
        label: text,
      });
    }
  }
}
