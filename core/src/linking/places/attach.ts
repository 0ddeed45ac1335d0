/** Scripts that code attaches while the game runs. */
import { itemAt } from '../../helpers/at.js';
import { kindOf } from '../../model/graph.js';
import { ATTACHED } from '../../model/life.js';
import type { PartFact } from '../../reading/facts.js';
import { evaluateAt } from '../look-ups/evaluate.js';
import { typeName } from '../look-ups/texts.js';
import type { Work } from '../work.js';
import { addPart } from '../world/parts.js';
import { typeNamed } from '../world/types.js';
import { topOf, type WorldPart, type WorldType } from '../world/world.js';

/**
 * Scripts that code attaches: `this.child('Hull').attach(Leak)` runs Leak on every Hull below an object that carries
 * the code. What is attached so may attach more; three rounds are as deep as code goes.
 */
export function attachByCode(work: Work): void {
  const { world } = work;
  const attaching = new Set(
    world.types.all.filter(({ script, local }) =>
      script.operations.some((one) => one.type === local && itemAt(world.plan.calls, one.rule).means === 'attach'),
    ),
  );
  work.isAttachedByCode = attaching.size > 0;
  if (attaching.size === 0) return;
  const done = new Set<string>();
  let parts = [...world.trees.partByPiece.values()];
  for (let round = 0; round < 3 && parts.length > 0; round++)
    parts = parts.flatMap((part) => attachedBy(work, part, attaching, done));
}

/** Parts that the code of one part attaches. */
function attachedBy(work: Work, part: WorldPart, attaching: ReadonlySet<WorldType>, done: Set<string>): WorldPart[] {
  const { world } = work;
  const own = part.type;
  if (!own || ![own, ...own.ancestors].some((type) => attaching.has(type))) return [];
  const isLoose = kindOf(world.builder.graph, topOf(world, part.object)) !== 'scene';
  const evaluator = evaluateAt(world, { part, isLoose }, work.slots, work.madeAtRun);
  return [own, ...own.ancestors].flatMap((type) =>
    type.script.operations.flatMap((operation) => {
      if (operation.type !== type.local || itemAt(world.plan.calls, operation.rule).means !== 'attach') return [];
      const name = operation.arguments.type && typeName(operation.arguments.type);
      const attached = name ? typeNamed(world, name, type.source) : undefined;
      if (!attached) return [];
      const outcome = evaluator.value(type, operation.receiver);
      return (outcome.state === 'found' ? outcome.pieces : []).flatMap((piece) => {
        const object = world.trees.partByPiece.get(piece)?.object ?? piece;
        const key = `${object} ${attached.index}`;
        if (done.has(key)) return [];
        done.add(key);
        const fact: PartFact = { rule: -1, type: attached.name, values: [], range: operation.range };
        const place = { source: type.source, pieceFact: -1, partFact: -1, values: [] };
        const added = addPart(world, { object, typeName: attached.name, type: attached, fact, ...place });
        const { file } = itemAt(world.facts, type.source);
        const { moment, range } = operation;
        const from = part.piece;
        const link = {
          from,
          to: added.piece,
          verb: 'carries',
          grip: 'name',
          label: ATTACHED,
          moment,
          file,
          range,
        } as const;
        world.builder.addLink(link);
        return [added];
      });
    }),
  );
}
