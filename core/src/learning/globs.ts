/**
 * How kinds of files are said in a plan: by few globs that match their files and no others. Kinds that few globs cannot
 * tell apart are read by one rule.
 */
import { itemAt, must } from '../helpers/at.js';
import { baseName, folderOf } from '../reading/source.js';
import type { Kind } from './kinds.js';

/** Kinds that are read by one rule. */
export interface RuleGroup {
  kinds: Kind[];
  globs: string[];
}

/** More globs are no way to say a kind. */
const MOST_GLOBS = 8;

/**
 * Puts kinds together until each can be told by few globs. The first rule that matches a file reads it: after those that
 * are told alone come those of which some globs match files of these as well.
 */
export function ruleGroups(kinds: readonly Kind[], paths: readonly string[]): RuleGroup[] {
  let groups: RuleGroup[] = kinds.map((kind) => ({ kinds: [kind], globs: [] }));
  for (;;) {
    const counts = countGlobs(groups, paths);
    const told = new Set<number>();
    groups.forEach((group, at) => {
      const alone = globsFor(group, counts, paths, (of) => of.size === 1);
      group.globs = alone ?? [];
      if (alone) told.add(at);
    });
    const joins = new Map<number, Set<number>>();
    groups.forEach((group, at) => {
      if (told.has(at)) return;
      const beside = globsFor(group, counts, paths, (of) => [...of.keys()].every((one) => one === at || told.has(one)));
      if (beside) return void (group.globs = beside);
      const { globs, others } = shared(group, at, counts, paths);
      group.globs = globs;
      const same = [...others].filter((other) => isSameFormat(group, itemAt(groups, other)));
      if (same.length > 0) joins.set(at, new Set(same));
    });
    if (joins.size === 0)
      return [...groups.filter((_, at) => told.has(at)), ...groups.filter((_, at) => !told.has(at))];
    const root = groups.map((_, at) => at);
    const top = (at: number): number => (root[at] === at ? at : top(itemAt(root, at)));
    for (const [at, others] of joins) for (const other of others) root[top(other)] = top(at);
    const merged = new Map<number, RuleGroup>();
    groups.forEach((group, at) => {
      const known = merged.get(top(at));
      if (known) known.kinds.push(...group.kinds);
      else merged.set(top(at), { kinds: [...group.kinds], globs: [] });
    });
    groups = [...merged.values()];
  }
}

function isSameFormat(one: RuleGroup, other: RuleGroup): boolean {
  const [first, second] = [must(one.kinds[0]), must(other.kinds[0])];
  return first.format === second.format && first.isToldByEnding === second.isToldByEnding;
}

type Counts = Map<string, Map<number, number>>;

function countGlobs(groups: readonly RuleGroup[], paths: readonly string[]): Counts {
  const counts: Counts = new Map();
  groups.forEach(({ kinds }, at) => {
    for (const { files } of kinds)
      for (const file of files)
        for (const glob of globsOf(itemAt(paths, file))) {
          let of = counts.get(glob);
          if (!of) counts.set(glob, (of = new Map<number, number>()));
          of.set(at, (of.get(at) ?? 0) + 1);
        }
  });
  return counts;
}

/** Globs that match a path, the widest first. */
function globsOf(path: string): string[] {
  const base = literal(baseName(path));
  const folder = folderOf(path);
  const steps = folder ? folder.split('/').map(literal) : [];
  const endings: string[] = [];
  for (let dot = base.lastIndexOf('.'); dot > 0; dot = base.lastIndexOf('.', dot - 1)) endings.push(base.slice(dot));
  const last = endings[0] ?? '';
  const globs = endings.map((ending) => `**/*${ending}`);
  for (let depth = 1; depth <= steps.length; depth++) {
    const top = steps.slice(0, depth).join('/');
    for (const ending of endings) globs.push(`${top}/**/*${ending}`);
  }
  for (const step of steps) if (step !== steps[0]) globs.push(`**/${step}/**/*${last}`);
  const own = steps.at(-1);
  if (own !== undefined) globs.push(`**/${own}/*${last}`);
  globs.push(`**/${base}`);
  if (steps[0] !== undefined) globs.push(`${steps[0]}/**/${base}`);
  globs.push(folder ? `${steps.join('/')}/*${last}` : `*${last}`);
  // One folder is called like each thing.
  if (steps.length > 1) globs.push(`${steps.slice(0, -1).join('/')}/*/*${last}`);
  if (steps.length > 2) globs.push(`${steps.slice(0, -2).join('/')}/*/${own ?? ''}/*${last}`);
  if (steps.length > 3) globs.push(`${steps.slice(0, -3).join('/')}/*/${steps.at(-2) ?? ''}/*/*${last}`);
  const stem = base.slice(0, base.length - last.length);
  const cut = /^(.*?[_.-])(.*)$/.exec(stem);
  if (cut) globs.push(`**/${cut[1] ?? ''}*${last}`);
  const end = /^.*([_.-][^_.-]+)$/.exec(stem);
  if (end) globs.push(`**/*${end[1] ?? ''}${last}`);
  globs.push(folder ? `${steps.join('/')}/${base}` : base);
  return [...new Set(globs)];
}

function literal(text: string): string {
  return text.replace(/[*?[\]{}\\]/g, '\\$&');
}

/** The fewest globs that match all files of a group, of those that may be used; undefined when these are many. */
function globsFor(
  { kinds }: RuleGroup,
  counts: Counts,
  paths: readonly string[],
  isOwn: (groups: ReadonlyMap<number, number>) => boolean,
): string[] | undefined {
  const left = new Map(
    kinds
      .flatMap(({ files }) => files)
      .map((file) => [file, globsOf(itemAt(paths, file)).filter((glob) => isOwn(must(counts.get(glob))))]),
  );
  const globs: string[] = [];
  while (left.size > 0) {
    const own = new Map<string, number>();
    for (const candidates of left.values()) for (const glob of candidates) own.set(glob, (own.get(glob) ?? 0) + 1);
    let best = '';
    let most = 0;
    for (const [glob, count] of own)
      if (count > most || (count === most && glob.length < best.length)) [best, most] = [glob, count];
    if (most === 0 || globs.length > MOST_GLOBS) return undefined;
    globs.push(best);
    for (const [file, candidates] of left) if (candidates.includes(best)) left.delete(file);
  }
  return globs.length <= MOST_GLOBS ? globs : undefined;
}

/** The best glob of all, with the groups that it matches as well. */
function shared(
  { kinds }: RuleGroup,
  group: number,
  counts: Counts,
  paths: readonly string[],
): { globs: string[]; others: Set<number> } {
  const all = kinds.flatMap(({ files }) => files);
  const matched = new Map<string, number>();
  for (const file of all)
    for (const glob of globsOf(itemAt(paths, file))) matched.set(glob, (matched.get(glob) ?? 0) + 1);
  const rate = ([glob, count]: [string, number]): number => {
    const of = must(counts.get(glob));
    let foreign = 0;
    for (const [other, number] of of) if (other !== group) foreign += number;
    return count / all.length - foreign / (count + foreign) - 0.02 * of.size;
  };
  const [found] = [...matched].filter(([glob]) => must(counts.get(glob)).size > 1).sort((a, b) => rate(b) - rate(a));
  if (!found) return { globs: [], others: new Set() };
  return {
    globs: [found[0]],
    others: new Set([...must(counts.get(found[0])).keys()].filter((other) => other !== group)),
  };
}
