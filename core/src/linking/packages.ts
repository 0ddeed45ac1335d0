/** Packages of a project: which there are, in which order they load, and what a later one replaces of an earlier one. */
import { knownIn } from '../helpers/at.js';
import semver from 'semver';
import type { FileFacts } from '../reading/facts.js';
import type { Plan } from '../reading/plan/plan.js';
import { folderOf } from '../reading/source.js';

export interface Package {
  id: string;
  version: string;
  /** Folder of its manifest, empty for the project's root. */
  folder: string;
  manifest: string;
  /** Ids of packages that must be loaded before. */
  needs: string[];
}

/** Packages in load order: first those the plan names, then the others by id, each after those it needs. */
function packagesOf(facts: FileFacts[], plan: Plan): Package[] {
  const all = facts.flatMap(({ package: told, id, name, file }): Package[] =>
    told
      ? [
          {
            id: id || name,
            version: told.version,
            folder: folderOf(file),
            manifest: file,
            needs: told.needs.map((need) => need.text),
          },
        ]
      : [],
  );
  const byId = new Map(all.map((one) => [one.id, one]));
  const place = (id: string): number => {
    const at = plan.packages.order.indexOf(id);
    return at < 0 ? plan.packages.order.length : at;
  };
  all.sort((a, b) => place(a.id) - place(b.id) || (a.id < b.id ? -1 : 1));
  const ordered: Package[] = [];
  const seen = new Set<string>();
  const add = (one: Package): void => {
    if (seen.has(one.id)) return;
    seen.add(one.id);
    for (const need of one.needs) {
      const needed = byId.get(need);
      if (needed) add(needed);
    }
    ordered.push(one);
  };
  all.forEach(add);
  return ordered;
}

/**
 * Whether a version is one of those asked for, as semantic versioning reads them; what cannot be read as versions
 * fits only when it is the same text.
 */
export function satisfies(version: string, wanted: string): boolean {
  if (wanted === '' || wanted === version) return true;
  const range = semver.validRange(wanted);
  const plain = semver.coerce(version);
  // A bare number asks for at least that one.
  const least = /^\d+(\.\d+)*$/.test(wanted.trim()) ? `>=${wanted.trim()}` : range;
  if (!least || !plain) return version === '' || !range;
  return semver.satisfies(plain, least, { includePrerelease: true });
}

/** The package that a file belongs to: the one whose folder lies deepest around it. */
export function packageOf(packages: Package[], path: string): Package | undefined {
  let found: Package | undefined;
  for (const one of packages) {
    const isInside = one.folder === '' || path.startsWith(`${one.folder}/`);
    if (isInside && (!found || one.folder.length > found.folder.length)) found = one;
  }
  return found;
}

/** The files that count, once later packages have replaced what they bring anew. */
export function overlay(
  facts: FileFacts[],
  plan: Plan,
): { facts: FileFacts[]; packages: Package[]; replacedBy: Map<string, string> } {
  const packages = packagesOf(facts, plan);
  const replacedBy = new Map<string, string>();
  if (!plan.packages.overlay || packages.length < 2) return { facts, packages, replacedBy };
  const last = new Map<string, { order: number; file: string }>();
  for (const { file } of facts) {
    const home = packageOf(packages, file);
    if (!home || home.manifest === file) continue;
    const inside = home.folder ? file.slice(home.folder.length + 1) : file;
    const order = packages.indexOf(home);
    const before = last.get(inside);
    if (before && before.order > order) replacedBy.set(file, before.file);
    else {
      if (before) replacedBy.set(before.file, file);
      last.set(inside, { order, file });
    }
  }
  // What was replaced twice stands for the last of all.
  for (const [path, by] of replacedBy) {
    let final = by;
    while (replacedBy.has(final)) final = knownIn(replacedBy, final);
    replacedBy.set(path, final);
  }
  return { facts: facts.filter(({ file }) => !replacedBy.has(file)), packages, replacedBy };
}
