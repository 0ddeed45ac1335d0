/** What structured files say: instances, attachments, references, wires, connections, labels, packages. */
import { ruleKey } from '../../reading/plan/content.js';
import { entryOf, itemAt, must } from '../../helpers/at.js';
import { kindOf } from '../../model/graph.js';
import type { FileFacts } from '../../reading/facts.js';
import { walkOf } from '../look-ups/outcome.js';
import { referenceOutcome } from '../look-ups/reference.js';
import { countShare, lose, type Work } from '../work.js';
import { placeKey } from '../world/overrides.js';
import { contentAt, topOf, type World, type WorldPart } from '../world/world.js';

/** References written in structured files. */
export function linkReferences(work: Work, source: number): void {
  const { world } = work;
  const fact = itemAt(world.facts, source);
  for (const reference of fact.references) {
    const object =
      reference.piece >= 0
        ? itemAt(itemAt(world.trees.pieceOf, source), reference.piece)
        : itemAt(world.files.piece, source);
    const part = reference.part >= 0 ? partOf(world, source, object, reference) : undefined;
    const from = part?.piece ?? object;
    const form = entryOf(contentAt(world, source).references, reference.rule);
    const { verb } = form;
    const isObject = kindOf(world.builder.graph, object) === 'object';
    const isLoose = kindOf(world.builder.graph, topOf(world, object)) !== 'scene';
    const outcome = referenceOutcome(world, reference, source, isObject ? object : -1, isLoose);
    if (outcome.state === 'lost' && reference.isName) continue;
    const found = outcome.state === 'found' ? outcome.pieces.length : 0;
    const key = ruleKey(fact, 'references', reference.rule);
    countShare(work, source, key, found, outcome.state === 'lost' ? 1 : 0);
    if (outcome.state === 'lost' && !reference.isCopy) {
      lose(
        work,
        {
          ...{ from, verb, file: fact.file, field: reference.field, range: reference.range, form, role: form.role },
          ...((reference.isJoined ?? hasHoles(world, reference.text)) && { isJoined: true }),
        },
        must(outcome.loss),
        outcome.before ? walkOf(world, outcome) : [],
      );
    }
    if (form.role) {
      const { role } = form;
      const { text, range } = reference;
      work.linked.roles.push({ role, text, range, file: fact.file, piece: outcome.pieces[0] ?? -1 });
    }
    for (const to of outcome.state === 'found' ? outcome.pieces : []) {
      world.builder.addLink({
        from,
        to,
        verb,
        grip: outcome.grip,
        label: reference.field,
        file: fact.file,
        range: reference.range,
      });
    }
  }
}

function hasHoles({ plan }: World, text: string): boolean {
  return Object.keys(plan.holes).some((mark) => text.includes(mark));
}

/** The part that a reference is a slot of: attached here, or changed by an override. */
function partOf(
  world: World,
  source: number,
  object: number,
  { piece, part }: FileFacts['references'][number],
): WorldPart | undefined {
  return (
    world.trees.partsOf.get(object)?.find((one) => one.source === source && one.partFact === part) ??
    world.prefabs.changedPart.get(placeKey(source, piece, part))
  );
}
