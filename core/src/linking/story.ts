/** What happens when an event fires, to its end; and what can lead to it. Told line by line, indented. */
import { itemAt } from '../helpers/at.js';
import { titleOf } from '../model/graph.js';
import type { Gate, Operation, ScriptFacts, Value } from '../reading/facts.js';
import { isEngineEvent } from './events.js';
import { codeAt, deedsOf, functionOf, handlersOf, typeOfPiece, type Code } from './flow.js';
import type { EventEnd, EventEnds, StoryLine } from './linked.js';
import { isMissing } from './members.js';
import { hasUnknownParts } from './world/parts.js';
import type { World, WorldType } from './world/world.js';

const DEEPEST = 10;
const MOST_LINES = 300;
const DEEDS: Partial<Record<string, string>> = {
  spawn: 'spawns',
  destroy: 'destroys',
  switch: 'switches',
  move: 'moves',
  travel: 'moves',
  load: 'loads',
  attach: 'attaches',
  detach: 'detaches',
};

/** What happens when an event fires. */
export function storyForward(world: World, events: ReadonlyMap<string, EventEnds>, name: string): StoryLine[] {
  const lines: StoryLine[] = [];
  const told = new Set<string>([name]);
  const event = (at: string, depth: number): void => {
    const ends = events.get(at);
    for (const listener of ends?.listeners ?? []) {
      if (lines.length >= MOST_LINES) return;
      const codes = handlersOf(world, listener);
      const type = typeOfPiece(world, listener.piece);
      const what = listener.handler ? `${listener.handler}()` : listener.code === undefined ? '' : 'in place';
      const mark = codes.length === 0 && isWithout(world, listener) ? 'it has no such function' : '';
      lines.push({ ...lineOf(world, listener, depth), does: 'hears it', what, mark });
      for (const code of codes) deeds(code, type ?? code.type, depth + 1);
      for (const child of type && listener.handler ? childrenReplacing(world, type, listener.handler) : []) {
        const { file } = itemAt(world.facts, child.type.source);
        const { name, piece } = child.type;
        const { range } = child.fact;
        lines.push({
          ...nobody(depth),
          who: name,
          piece,
          file,
          range,
          does: 'hears it',
          what,
          mark: `in place of ${type?.name ?? ''}`,
        });
        deeds(child, child.type, depth + 1);
      }
    }
    if (ends && ends.listeners.length === 0) lines.push({ ...nobody(depth), who: 'nobody', does: 'listens' });
  };
  const deeds = (code: Code, own: WorldType, depth: number): void => {
    for (const { code: at, own: who, operation, rule, events: sent, isSure } of deedsOf(world, code, own, true)) {
      if (lines.length >= MOST_LINES) return;
      const { file } = itemAt(world.facts, at.type.source);
      const mark = isSure ? '' : conditionOf(operation.gates);
      const line = { ...nobody(depth), who: who.name, piece: who.piece, file, range: operation.range, mark } as const;
      for (const name of sent) {
        const ends = events.get(name);
        const isTold = told.has(name);
        const isDeep = depth >= DEEPEST;
        lines.push({
          ...line,
          does: 'sends',
          what: name,
          whatPiece: ends?.piece ?? -1,
          mark: isTold ? 'round in a circle' : isDeep ? 'goes on' : mark,
        });
        if (isTold || isDeep) continue;
        told.add(name);
        event(name, depth + 1);
      }
      const does = DEEDS[rule.means];
      if (does) lines.push({ ...line, does, what: wordsOf(operation, at.type.script) });
    }
  };
  event(name, 0);
  return lines;
}

/** Functions of types below one that take the place of its handler. */
function childrenReplacing({ types }: World, parent: WorldType, handler: string): Code[] {
  return types.all.flatMap((type) => {
    if (!type.ancestors.includes(parent)) return [];
    const code = functionOf(type, handler);
    return code?.type === type ? [code] : [];
  });
}

/** Whether everything on the object of a wire is known, and nothing there has its function. */
function isWithout(world: World, { piece, handler }: EventEnd): boolean {
  if (handler === '' || typeOfPiece(world, piece) || hasUnknownParts(world, piece)) return false;
  const parts = world.trees.partsOf.get(piece) ?? [];
  return parts.length > 0 && parts.every(({ type }) => type !== undefined && isMissing(world, type, handler));
}

/** What can lead to an event. */
export function storyBackward(world: World, events: ReadonlyMap<string, EventEnds>, name: string): StoryLine[] {
  const lines: StoryLine[] = [];
  const told = new Set<string>([name]);
  const back = (at: string, depth: number): void => {
    const senders = events.get(at)?.senders ?? [];
    if (senders.length === 0 || isEngineEvent(world.plan, at))
      lines.push({ ...nobody(depth), who: isEngineEvent(world.plan, at) ? 'the engine' : 'nobody', does: 'sends it' });
    for (const sender of senders) {
      if (lines.length >= MOST_LINES) return;
      const code = codeAt(world, sender);
      const name = code?.fact.name;
      lines.push({
        ...lineOf(world, sender, depth),
        does: 'sends it',
        what: name ? `in ${name}()` : '',
        mark: code?.isConditional ? conditionOf(code.gates) : '',
      });
      if (!code) continue;
      const moment = code.fact.moment;
      if (moment === 'start' || moment === 'every frame' || moment === 'leave')
        lines.push({
          ...nobody(depth + 1),
          who: 'the engine',
          does: `calls it ${moment === 'start' ? 'at the start' : moment === 'leave' ? 'when it leaves' : 'every frame'}`,
        });
      for (const cause of causesOf(events, world, code)) {
        const isTold = told.has(cause.name);
        const isDeep = depth >= DEEPEST;
        const mark = isTold ? 'round in a circle' : isDeep ? 'goes on' : '';
        lines.push({ ...nobody(depth + 1), who: cause.name, piece: cause.piece, does: 'leads to it', mark });
        if (isTold || isDeep) continue;
        told.add(cause.name);
        back(cause.name, depth + 2);
      }
    }
  };
  back(name, 0);
  return lines;
}

/** What must hold, as the code writes it: `only if this.isLevel`, `unless this.held`. */
function conditionOf(gates: readonly Gate[] = []): string {
  const words = gates.map(({ words: asks, isNegated }) => `${isNegated ? 'unless' : 'only if'} ${asks}`);
  return words.length > 0 ? words.join(', ') : 'only if something holds';
}

function nobody(depth: number): StoryLine {
  return { depth, who: '', piece: -1, does: '', what: '', whatPiece: -1, mark: '', file: '', range: null };
}

function lineOf(world: World, { piece, file, range }: EventEnd, depth: number): StoryLine {
  const { graph } = world.builder;
  const type = typeOfPiece(world, piece);
  return { ...nobody(depth), who: type?.name ?? titleOf(graph, piece), piece, file, range };
}

/** Events whose handlers run a function: it is one, or one of them calls it. */
function causesOf(events: ReadonlyMap<string, EventEnds>, world: World, { type, index, fact }: Code): EventEnds[] {
  const names = new Set([fact.name]);
  // Those written in place have no names.
  const places = new Set([index]);
  for (let before = 0; before < places.size;) {
    before = places.size;
    for (const [at, code] of type.script.functions.entries()) {
      if (code.type !== type.local || !code.calls.some((name) => name !== '' && names.has(name))) continue;
      places.add(at);
      names.add(code.name);
    }
  }
  names.delete('');
  return [...events.values()].filter(({ listeners }) =>
    listeners.some(({ piece, handler, code }) => {
      const own = typeOfPiece(world, piece);
      if (code !== undefined) return own === type && places.has(code);
      if (!names.has(handler)) return false;
      const types = own ? [own] : (world.trees.partsOf.get(piece) ?? []).flatMap((part) => part.type ?? []);
      return types.some((one) => functionOf(one, handler)?.type === type);
    }),
  );
}

/** What a call names, as far as it is written out. */
function wordsOf({ arguments: given, receiver }: Operation, script: ScriptFacts): string {
  const written = given.path ?? given.name ?? given.scene ?? given.type ?? given.object ?? receiver;
  return textOfValue(written, script);
}

function textOfValue(value: Value | undefined, script: ScriptFacts): string {
  if (!value) return '';
  if (value.is === 'text') return value.text;
  if (value.is === 'constant') return value.name;
  if (value.is === 'field') return value.name;
  if (value.is === 'self') return 'itself';
  if (value.is === 'operation') return wordsOf(itemAt(script.operations, value.operation), script);
  return 'what it found';
}
