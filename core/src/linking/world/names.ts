/** What things can be found by, once all are there. */
import { itemAt } from '../../helpers/at.js';
import { push } from '../../helpers/push.js';
import { kindOf, nameOf } from '../../model/graph.js';
import type { World } from './world.js';

/** Names in the trees, once all instances are unfolded. */
export function indexTrees(world: World): void {
  const { graph } = world.builder;
  for (let piece = 0; piece < graph.pieceCount; piece++) {
    const kind = kindOf(graph, piece);
    if (kind === 'object') {
      push(world.names.inTree, nameOf(graph, piece), piece);
      push(world.names.inTreeLower, nameOf(graph, piece).toLowerCase(), piece);
    } else if (kind === 'part') world.names.parts.add(nameOf(graph, piece));
  }
}

/** Which scenes are loaded together, as the plan says by identity, name or path. */
export function gatherSets(world: World): void {
  for (const names of world.plan.together) {
    const scenes = names.flatMap((name) => {
      const source = world.files.sourceOf.get(name);
      const pieces =
        source === undefined
          ? (world.names.byId.get(name) ?? world.names.byName.get(name) ?? [])
          : [itemAt(world.files.piece, source)];
      return pieces.filter((piece) => kindOf(world.builder.graph, piece) === 'scene').slice(0, 1);
    });
    for (const scene of scenes) {
      const before = world.trees.loadedWith.get(scene) ?? [scene];
      world.trees.loadedWith.set(scene, [...new Set([...before, ...scenes])]);
    }
  }
}
