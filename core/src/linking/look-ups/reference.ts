/** What references that are written in files come to. */
import { entryOf } from '../../helpers/at.js';
import type { ReferenceFact } from '../../reading/facts.js';
import { findTarget } from '../targets.js';
import { contentAt, type World } from '../world/world.js';
import { NOTHING_KNOWN, start, type Outcome } from './outcome.js';
import { walkPath } from './walk-path.js';

/** What a reference written in a file comes to; `object` is where relative object paths start. */
export function referenceOutcome(
  world: World,
  reference: ReferenceFact,
  source: number,
  object: number,
  isLoose = false,
): Outcome {
  const rule = entryOf(contentAt(world, source).references, reference.rule);
  if (rule.by === 'object path') {
    const from = start('found', [object], 'fixed');
    return object < 0 ? NOTHING_KNOWN : walkPath(world, from, reference.text, rule, isLoose, new Set());
  }
  const target = findTarget(world, rule, reference, source);
  if (target.state === 'unknown') return NOTHING_KNOWN;
  if (target.state === 'lost') return { ...start('lost', [], 'lost'), loss: target.loss };
  return start('found', target.pieces, target.grip);
}
