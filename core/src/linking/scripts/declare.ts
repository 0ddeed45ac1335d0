/** What code brings into the world: pieces that it declares, and names of what it spawns. */
import type { Pattern } from '../../helpers/pattern.js';
import { itemAt } from '../../helpers/at.js';
import { push } from '../../helpers/push.js';
import { nameOf } from '../../model/graph.js';
import type { FileFacts, Operation } from '../../reading/facts.js';
import type { CallRule } from '../../reading/plan/plan.js';
import { cut } from '../../reading/source.js';
import { patternOf, textsOf } from '../look-ups/texts.js';
import { filesNamed } from '../paths.js';
import type { Work } from '../work.js';
import { rootsOf, type World } from '../world/world.js';

/** Whatever code spawns may turn up under any parent, so its name cannot be said to be missing. */
export function collectMadeAtRun(work: Work): void {
  const { world } = work;
  for (const [source, fact] of world.facts.entries()) {
    for (const operation of fact.script?.operations ?? []) {
      const rule = itemAt(world.plan.calls, operation.rule);
      if (rule.means !== 'spawn' || !operation.arguments.path) continue;
      for (const prefab of filesNamed(world, rule.target, operation.arguments.path, fact.file)) {
        if (prefab === undefined || prefab === source) continue;
        work.madeAtRun.add(itemAt(world.facts, prefab).name);
        for (const root of rootsOf(world, prefab)) work.madeAtRun.add(nameOf(world.builder.graph, root));
      }
    }
  }
}

/** Records and the like that code makes known under an identity, so that references find them. */
export function declarePieces(world: World): void {
  world.facts.forEach((fact, source) => {
    for (const { id, pattern, kind, space, range } of declarations(world, fact)) {
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
      if (space !== undefined) world.names.spaceOf.set(piece, space);
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
): Generator<{ id?: string; pattern?: Pattern; kind: CallRule['kind']; space?: string; range: Operation['range'] }> {
  for (const { rule: index, arguments: given, range } of fact.script?.operations ?? []) {
    const { means, kind, space, target, becomes } = itemAt(world.plan.calls, index);
    const written = given.id ?? given.name;
    if (means !== 'declare' || !written) continue;
    if (written.is === 'join') yield { pattern: patternOf(written.parts), kind, range };
    for (const text of textsOf(world, written)) {
      const own = cut(text, target.pattern);
      if (own) yield { id: becomes.replace('*', () => own), kind, space, range };
    }
  }
}
