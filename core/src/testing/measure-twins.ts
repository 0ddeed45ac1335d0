/** How many of the planted copies the search finds, and how much of what it finds was planted. */
import type { FileFacts } from '../reading/facts.js';
import { COPY_KINDS, type CopyKind, type Planted } from './planted.js';
import { findTwins } from '../twins/search.js';

export interface Score {
  kind: CopyKind;
  planted: number;
  found: number;
  /** Pairs that the search says are alike in this way or a nearer one, and those of them that were planted. */
  told: number;
  right: number;
}

/** Pairs of functions that stand in one group, against the planted pairs. A pair is told as the kind its function was planted with. */
export function measureTwins(facts: readonly FileFacts[], { copies }: Planted): Score[] {
  const groups = findTwins(facts).map((group) =>
    group.copies.map(({ source, function: at }) => facts[source].script!.functions[at].name),
  );
  const together = new Set(
    groups.flatMap((names) => names.flatMap((one, at) => names.slice(at + 1).map((other) => keyOf(one, other)))),
  );
  const planted = new Map(copies.flatMap((copy) => [[copy.one, copy] as const, [copy.other, copy] as const]));
  return COPY_KINDS.map((kind) => {
    const own = copies.filter((copy) => copy.kind === kind);
    const found = own.filter(({ one, other }) => together.has(keyOf(one, other))).length;
    const told = [...together].filter((key) => key.split(' ').some((name) => planted.get(name)?.kind === kind));
    const wrong = [...together].filter((key) => key.split(' ').every((name) => !planted.has(name))).length;
    const right = told.filter((key) => {
      const [one, other] = key.split(' ');
      return planted.get(one) === planted.get(other);
    }).length;
    return { kind, planted: own.length, found, told: told.length + Math.ceil(wrong / COPY_KINDS.length), right };
  });
}

function keyOf(one: string, other: string): string {
  return one < other ? `${one} ${other}` : `${other} ${one}`;
}
