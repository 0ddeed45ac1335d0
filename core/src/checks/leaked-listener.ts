import { cellAt, itemAt, must } from '../helpers/at.js';
import { grouped } from '../helpers/grouped.js';
import { sentence } from '../model/finding.js';
import { groupOf, nameOf, type Graph } from '../model/graph.js';
import { VERBS } from '../model/link.js';
import type { Language } from '../reading/plan/plan.js';
import { typeOfPiece } from '../linking/flow.js';
import { rootsOf, topOf, type World, type WorldType } from '../linking/world/world.js';
import type { Linked } from '../linking/linked.js';
import { typeName } from '../linking/look-ups/texts.js';
import { typeNamed } from '../linking/world/types.js';
import type { Check } from './check.js';
import { operationsThat } from './reached.js';

/** Something that comes and goes listens and never lets go. */
export const leakedListener: Check = {
  id: 'fragile/leaked-listener',
  title: 'Something that comes and goes listens and never lets go',
  severity: 'warning',
  why: 'Each one that went still hears the event: handlers run on things that are gone, and pile up.',
  decides:
    'Works where the plan says which call lets go. Fires on a script that listens, that runs on something code spawns or destroys, or that code takes off its object, and in which neither it nor its parents let go of any event. Silent on what stands in the scene from first to last, and where some function lets go.',
  run: (linked) => {
    const { plan, events, graph, world } = linked;
    if (!plan.calls.some(({ means }) => means === 'let go')) return [];
    const ends = events.flatMap((event) => event.listeners.map((listener) => ({ event, listener })));
    return grouped(ends, ({ listener }) => String(listener.piece)).flatMap((same) => {
      const [{ event, listener }] = same;
      const type = typeOfPiece(world, listener.piece);
      const goes = type && !letsGo(world, type) ? (comesAndGoes(linked, type) ?? detached(linked, type)) : undefined;
      if (!type || !goes) return [];
      return [
        {
          sentence: [
            { name: type.name, piece: type.piece },
            ...sentence` listens to ${{ name: event.name, piece: event.piece }}`,
            ...(same.length > 1 ? [` and ${same.length - 1} more`] : []),
            ...sentence` and never lets go, though it ${goes.how} by ${{ name: nameOf(graph, goes.by), piece: goes.by }}`,
          ],
          sure: 'All functions of the script and of its parents were read, and none of them lets go of anything.',
          pieces: [type.piece, goes.by],
          evidence: [
            ...same
              .slice(0, 4)
              .map((one) => ({ file: one.listener.file, range: one.listener.range, shows: 'where it listens' })),
            {
              file: goes.file,
              range: goes.range,
              shows: goes.how === 'is spawned' ? 'where it comes from' : 'where it goes',
            },
          ],
          walk: [],
          places: same.length,
          repairs: [
            {
              title: 'Let go when it leaves',
              words: `Let go of each event in the function that the engine calls when the object leaves: ${recipe(plan, type.script.language)}.`,
            },
          ],
          sameBy: [type.name, listener.file],
        },
      ];
    });
  },
};

function letsGo(world: World, type: WorldType): boolean {
  return [type, ...type.ancestors].some(({ script, local }) =>
    script.operations.some((one) => one.type === local && itemAt(world.plan.calls, one.rule).means === 'let go'),
  );
}

const SPAWNS = VERBS.indexOf('spawns');
const DESTROYS = VERBS.indexOf('destroys');

/** The link by which something that runs the type is spawned or destroyed. */
function comesAndGoes(
  { graph, world }: Linked,
  type: WorldType,
): { how: string; by: number; file: string; range: ReturnType<typeof placeOfLink>['range'] } | undefined {
  for (const part of world.trees.partByPiece.values()) {
    if (!part.type || ![part.type, ...part.type.ancestors].includes(type)) continue;
    const top = topOf(world, part.object);
    const source = world.files.sourceOf.get(itemAt(graph.texts, cellAt(graph.pieces.file, top)));
    const isRoot = source !== undefined && rootsOf(world, source).includes(part.object);
    for (const [piece, verb, how] of [
      [isRoot ? top : -1, SPAWNS, 'is spawned'],
      [part.object, DESTROYS, 'is destroyed'],
    ] as const) {
      const link = piece < 0 ? undefined : groupOf(graph.incoming, piece).find((one) => graph.links.verb[one] === verb);
      if (link !== undefined) return { how, by: cellAt(graph.links.from, link), ...placeOfLink(graph, link) };
    }
  }
  return undefined;
}

/** The code that takes the type off an object. */
function detached(linked: Linked, type: WorldType): ReturnType<typeof comesAndGoes> {
  const { world } = linked;
  for (const { type: by, operation, file } of operationsThat(world, 'detach')) {
    const name = operation.arguments.type && typeName(operation.arguments.type);
    const meant = name ? typeNamed(world, name, by.source) : undefined;
    if (meant && [meant, ...meant.ancestors].includes(type))
      return { how: 'is detached', by: by.piece, file, range: operation.range };
  }
  return undefined;
}

function placeOfLink(
  { texts, links }: Graph,
  at: number,
): { file: string; range: { line: number; column: number; endLine: number; endColumn: number } } {
  return {
    file: itemAt(texts, cellAt(links.file, at)),
    range: {
      line: cellAt(links.line, at),
      column: cellAt(links.column, at),
      endLine: cellAt(links.endLine, at),
      endColumn: cellAt(links.endColumn, at),
    },
  };
}

/** The call that lets go, as the plan writes it, and where it belongs. */
function recipe({ calls, scripts }: Linked['plan'], language: Language): string {
  const call = must(calls.find(({ means }) => means === 'let go')).call;
  const leave = Object.values(scripts).find((rule) => rule.language === language)?.moments.leave[0];
  return leave ? `\`${call}\` in \`${leave}\`` : `\`${call}\``;
}
