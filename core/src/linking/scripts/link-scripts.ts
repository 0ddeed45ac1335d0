/** What scripts do wherever they run: types and their parents, events, spawns, files and names they mention. */
import { cellAt, entryOf, itemAt } from '../../helpers/at.js';
import type { Verb } from '../../model/link.js';
import type { FileFacts, LiteralFact, Operation } from '../../reading/facts.js';
import { MEANING } from '../../reading/plan/meanings.js';
import type { Meaning } from '../../reading/plan/meanings.js';
import type { CallRule, TargetForm } from '../../reading/plan/plan.js';
import { OWN_FUNCTION } from '../../reading/plan/schema.js';
import { nearest } from '../../helpers/nearest.js';
import { emptyLoss, isEngines } from '../losses.js';
import { mayBeUnread, scripting } from '../world/unread.js';
import { textsOf, typeName } from '../look-ups/texts.js';
import { referencesIn } from '../paths.js';
import { findLabel, findTarget } from '../targets.js';
import { callKey } from '../rule-counts.js';
import { countShare, lose, type Work } from '../work.js';
import { typeNamed } from '../world/types.js';
import type { World } from '../world/world.js';
import { askerOf, ownType, sideOf, typePiece } from './operations.js';
import { linkEvent, linkHandlersByName } from './script-events.js';
import { linkTableUse } from './table-uses.js';
import { linkFlags, linkUse, linkUseOfSpawned, linkStrangers } from './uses.js';

export function linkTypes(work: Work, source: number): void {
  const { world } = work;
  for (const type of world.types.inFile.get(source) ?? []) {
    for (const written of itemAt(type.script.types, type.local).parents) {
      const parent = typeNamed(world, written, type.source);
      if (!parent || parent === type) continue;
      const { file } = itemAt(world.facts, type.source);
      world.builder.addLink({
        from: type.piece,
        to: parent.piece,
        verb: 'extends',
        grip: 'name',
        file,
        range: itemAt(type.script.types, type.local).range,
      });
    }
  }
}

/** What scripts do wherever they run: events, spawns, files they name. */
export function linkScripts(work: Work, source: number): void {
  const { world } = work;
  const fact = itemAt(world.facts, source);
  if (!fact.script) return;
  for (const operation of fact.script.operations) {
    const rule = itemAt(world.plan.calls, operation.rule);
    const from = typePiece(world, source, operation.type);
    const isCompared = rule.means === 'label of';
    if (rule.means === 'find label' || isCompared) checkLabel(work, fact, from, operation, source, isCompared);
    if (NAMES_TYPE.has(rule.means)) checkType(work, fact, from, operation, source);
    if (rule.means === 'send' || rule.means === 'listen') linkEvent(work, fact, from, operation, rule, source);
    const verb = rule.means === 'send' ? 'uses' : MEANING[rule.means].names;
    if (verb) linkTarget(work, fact, from, operation, rule, rule.means === 'refer' ? rule.verb : verb, source);
  }
  linkHandlersByName(work, fact, source);
  for (const literal of fact.script.literals) linkLiteral(work, fact, source, literal);
  for (const use of fact.script.uses) {
    if (use.spawned === undefined) linkUse(work, fact, source, use);
    else linkUseOfSpawned(work, fact, source, use, use.spawned);
  }
  for (const use of fact.script.tableUses) linkTableUse(work, fact, source, use);
  linkFlags(work, fact, source);
  linkStrangers(work, fact, source);
}

/** A label that nothing declares and nothing carries is lost wherever the code runs. */
function checkLabel(
  work: Work,
  { file }: FileFacts,
  from: number,
  { arguments: given, range, guarded, type }: Operation,
  source: number,
  isCompared: boolean,
): void {
  const { world } = work;
  const wanted = given.label ?? given.name;
  for (const text of wanted && (isCompared || !guarded) ? textsOf(world, wanted, ownType(world, source, type)) : []) {
    const target = findLabel(world, text);
    if (target.state === 'lost') lose(work, { from, verb: 'uses', file, field: '', range }, target.loss);
  }
}

/** What asks for a part, attaches one or takes it off, by the name of its type. */
const NAMES_TYPE = new Set<Meaning>(['part', 'asks part', 'attach', 'detach', 'find type']);

/** A type that nothing knows may be the engine's; a name that differs by little from one that is there is a slip. */
function checkType(
  work: Work,
  { file, script }: FileFacts,
  from: number,
  { arguments: given, range }: Operation,
  source: number,
): void {
  const { world } = work;
  const wanted = given.type ? typeName(given.type) : '';
  const { parts, types } = world.plan.engine;
  if (wanted.length < 4 || parts.length === 0 || isEngines([...parts, ...types], wanted)) return;
  if (typeNamed(world, wanted, source) || world.names.parts.has(wanted) || world.plan.typeNames[wanted]) return;
  if (script?.imports.some(({ names }) => names.some(({ as }) => as === wanted))) return;
  if (mayBeUnread(world, wanted, scripting)) return;
  // A name in other capitals may be that of a local.
  const names = [...world.types.byName.keys(), ...world.names.parts];
  const among = nearest(wanted, names, 1).filter((name) => name.toLowerCase() !== wanted.toLowerCase());
  const form: TargetForm = { ...OWN_FUNCTION, by: 'type' };
  if (among.length > 0)
    lose(work, { from, verb: 'uses', file, field: '', range, form }, { ...emptyLoss('object', wanted), among });
}

/** A text that is a reference by itself. */
function linkLiteral(
  work: Work,
  fact: FileFacts,
  source: number,
  { rule: ruleName, text, type, range }: LiteralFact,
): void {
  const { world } = work;
  const rule = entryOf(world.plan.literals, ruleName);
  const target = findTarget(world, rule, { text, piece: -1 }, source);
  const place = { from: typePiece(world, source, type), verb: rule.verb, file: fact.file, range };
  if (target.state === 'lost') lose(work, { ...place, field: '', form: rule }, target.loss);
  const pieces =
    target.state === 'found' ? target.pieces.filter((to) => !isDeclaredAt(world, to, fact.file, range)) : [];
  for (const to of pieces)
    world.builder.addLink({ ...place, to, grip: target.state === 'found' ? target.grip : 'lost', label: text });
  countShare(work, source, `literals.${ruleName}`, pieces.length, target.state === 'lost' ? 1 : 0);
}

/** A text that stands in the very call that makes its target known is no reference to it. */
function isDeclaredAt(world: World, piece: number, file: string, { line }: Operation['range']): boolean {
  const { graph } = world.builder;
  return (
    graph.texts[cellAt(graph.pieces.file, piece)] === file &&
    cellAt(graph.pieces.line, piece) <= line &&
    cellAt(graph.pieces.endLine, piece) >= line
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
  const { path, name, scene, record, id, label, flag, action, function: called } = operation.arguments;
  const written = called ?? path ?? name ?? scene ?? record ?? id ?? label ?? flag ?? action;
  if (!written) return;
  const asker = askerOf(world, source, operation);
  const place = { from, verb, file: fact.file, range: operation.range };
  // A number can be an identity; it is no path.
  const isNumber = written.is === 'number' && rule.target.by !== 'path' && rule.target.by !== 'folder';
  const texts = isNumber ? [String(written.number)] : textsOf(world, written, asker.type);
  for (const { text, inner } of texts.flatMap((one) => referencesIn(rule.target, one))) {
    const target = findTarget(world, rule.target, { ...asker, text, inner }, source);
    const isLost = target.state === 'lost' && !operation.guarded;
    if (target.state === 'lost' && isLost) lose(work, { ...place, field: '', form: rule.target }, target.loss);
    const found = target.state === 'found' ? target.pieces.length : 0;
    countShare(work, source, callKey(rule.call), found, isLost ? 1 : 0);
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
