import { itemAt } from '../helpers/at.js';
import { grouped } from '../helpers/grouped.js';
import { sentence } from '../model/finding.js';
import type { PieceFact } from '../reading/facts.js';
import { placeOf, sameKey, titled, type Check } from './check.js';

/** Two input actions share a key where both can happen. */
export const keyClash: Check = {
  id: 'fragile/key-clash',
  title: 'Two actions share a key in the same context',
  severity: 'warning',
  why: 'One press does both, or whichever the engine asks first; nobody can say which.',
  decides:
    'Compares the details `key` and `context` of input actions, as the plan reads them, capitals ignored. Actions without a context count for every one of those without. Silent when the keys or the contexts differ, and where the plan reads no keys.',
  run: ({ facts, plan, world, graph }) => {
    const rules = new Set(
      Object.entries(plan.files)
        .filter(([, rule]) => Object.values(rule.pieces).some(({ kind }) => kind === 'input action'))
        .map(([name]) => name),
    );
    const actions = facts.flatMap((fact, source) =>
      !rules.has(fact.rule) || fact.script
        ? []
        : fact.pieces.flatMap((piece, at) =>
            piece.kind === 'input action' && piece.details?.['key']
              ? [{ piece, index: itemAt(itemAt(world.trees.pieceOf, source), at) }]
              : [],
          ),
    );
    const key = ({ details }: PieceFact): string =>
      `${details?.['key'] ?? ''}\n${details?.['context'] ?? ''}`.toLowerCase();
    return grouped(actions, ({ piece }) => key(piece))
      .filter((same) => same.length > 1)
      .map((same) => {
        const [{ piece, index }, ...others] = same;
        const { key: pressed = '', context = '' } = piece.details ?? {};
        return {
          sentence: [
            titled(graph, index),
            ' and ',
            ...others.flatMap((other, at) => [...(at > 0 ? [', '] : []), titled(graph, other.index)]),
            ...sentence` are both on the key ${pressed}`,
            ...(context ? sentence`, ${context}` : []),
          ],
          sure: 'Keys and contexts are written out in full.',
          pieces: same.map((one) => one.index),
          evidence: same.slice(0, 5).flatMap((one) => placeOf(graph, one.index, `the action ${one.piece.name}`)),
          walk: [],
          places: same.length,
          repairs: [
            {
              title: 'Choose another key',
              words: 'Put one of them on another key, or say that they belong to other contexts.',
            },
          ],
          sameBy: [pressed, context, ...same.map((one) => sameKey(graph, one.index))],
        };
      });
  },
};
