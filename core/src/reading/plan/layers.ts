/** A plan and those it builds on, as they are written: where in which of them something stands. */
import type { Mistake } from '../../model/errors.js';
import type { linesOf } from '../lines.js';
import { isLeaf, type TreeNode } from '../tree/node.js';

export interface Layer {
  /** The plan's name as `extends` gives it; empty for the plan itself. */
  file: string;
  root: TreeNode;
  lines: ReturnType<typeof linesOf>;
}

/**
 * A mistake at a key of the plan as a whole, placed where that is written: in the plan itself, or in the first one it
 * builds on that says it. Lists stand one behind the other.
 */
export function mistakeAt(path: readonly (string | number)[], message: string, layers: readonly Layer[]): Mistake {
  let open = layers.map((layer) => ({ layer, node: layer.root }));
  let [place] = open;
  for (const step of path) {
    const next = typeof step === 'number' ? itemOf(open, step) : open.flatMap((one) => memberOf(one, step));
    [place = place] = next;
    if (next.length === 0) break;
    open = next;
  }
  const key = path.join('.') || '(the plan)';
  if (!place) return { key, message, line: 1, column: 1 };
  const { layer, node } = place;
  const start = node.keyStart >= 0 ? node.keyStart : node.start;
  return {
    key,
    message,
    line: layer.lines.lineOf(start),
    column: layer.lines.columnOf(start),
    ...(layer.file !== '' && { file: layer.file }),
  };
}

interface Open {
  layer: Layer;
  node: TreeNode;
}

function memberOf({ layer, node }: Open, step: string): Open[] {
  return node.children.flatMap((child) => (child.key === step ? [{ layer, node: child }] : [])).slice(-1);
}

function itemOf(open: readonly Open[], step: number): Open[] {
  let at = step;
  for (const { layer, node } of open) {
    const count = isLeaf(node) ? 1 : node.children.length;
    // A single value stands for a list of one.
    const child = node.kind === 'list' ? node.children[at] : at === 0 ? node : undefined;
    if (child && (node.kind === 'list' || at === 0)) return [{ layer, node: child }];
    at -= node.kind === 'list' ? count : 1;
  }
  return [];
}
