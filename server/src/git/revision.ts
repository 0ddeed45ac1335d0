/** A revision of a project, read from git without a check-out. */
import {
  analyse,
  factsOfName,
  GlueError,
  isMatch,
  languagesOf,
  readFile,
  readsText,
  remembered,
  ruleFor,
  viewFinding,
  type FileFacts,
  type Graph,
  type Plan,
  type Remembered,
  type RuleFor,
} from '@glue-trace/core';
import { decode } from '../files/read-text.js';
import { isNeverPart } from '../files/discover.js';
import { readIgnoreFile } from '../files/ignore-file.js';
import { prepareLanguages } from '../scan/read-one.js';
import { commitOf, contentsOf, filesOf } from './repository.js';

/** Contents that git is asked for at a time. */
const BLOBS_AT_ONCE = 500;
/** Our own file of what is no part of a project; what git ignores it does not have. */
const IGNORE_FILE = '.glueignore';

/**
 * What a revision of a project comes to by the plan that is in force today, so that only the project makes a difference.
 * @throws GlueError `revision/unknown`
 */
export async function findingsAt(
  folder: string,
  revision: string,
  plan: Plan,
): Promise<{ findings: Remembered[]; graph: Graph }> {
  const commit = commitOf(folder, revision);
  if (commit === undefined)
    throw new GlueError(
      'revision/unknown',
      `“${revision}” is no branch, tag or commit of the repository that ${folder} stands in.`,
    );
  const blobs = filesOf(folder, commit);
  if (!blobs) throw new GlueError('revision/unknown', `Git could not tell what “${revision}” holds.`);
  const paths = partOfProject(folder, blobs, plan);
  const facts: FileFacts[] = [];
  const others: string[] = [];
  const toRead: { path: string; rule: RuleFor }[] = [];
  for (const path of paths) {
    const rule = ruleFor(plan, path);
    if (!rule) others.push(path);
    else if (readsText(rule, path)) toRead.push({ path, rule });
    else facts.push(factsOfName(path, rule));
  }
  await prepareLanguages(toRead.flatMap(({ rule }) => languagesOf(plan, rule)));
  for (let at = 0; at < toRead.length; at += BLOBS_AT_ONCE) {
    const some = toRead.slice(at, at + BLOBS_AT_ONCE);
    const contents = contentsOf(folder, [...new Set(some.map(({ path }) => blobs.get(path) ?? ''))]);
    if (!contents) throw new GlueError('revision/unknown', `Git could not give the files of “${revision}”.`);
    for (const { path, rule } of some) {
      const bytes = contents.get(blobs.get(path) ?? '');
      const content = bytes && decode(bytes);
      const isGiven = rule.of === 'files' && rule.rule.as === 'glue facts';
      facts.push(
        content && 'text' in content && !isGiven ? readFile(path, content.text, rule, plan) : factsOfName(path, rule),
      );
    }
  }
  // In the order of paths, as files are found on disk.
  facts.sort((a, b) => (a.file < b.file ? -1 : 1));
  const { findings, linked } = analyse(facts, others, plan);
  const { graph } = linked;
  return { findings: findings.map((finding) => remembered(viewFinding(graph, finding))), graph };
}

/** Files that count, in order of path. */
function partOfProject(folder: string, blobs: ReadonlyMap<string, string>, plan: Plan): string[] {
  const ignoreFiles = [...blobs.keys()].filter((path) => path === IGNORE_FILE || path.endsWith(`/${IGNORE_FILE}`));
  const texts = contentsOf(
    folder,
    ignoreFiles.map((path) => blobs.get(path) ?? ''),
  );
  const rules = ignoreFiles.map((path) => ({
    base: path.slice(0, -IGNORE_FILE.length),
    ignores: readIgnoreFile(texts?.get(blobs.get(path) ?? '')?.toString('utf8') ?? ''),
  }));
  const isLeftOut = (path: string, isFolder: boolean): boolean =>
    isMatch(path, plan.ignore) ||
    (isFolder && isMatch(`${path}/`, plan.ignore)) ||
    rules.some(({ base, ignores }) => path.startsWith(base) && ignores(path.slice(base.length), isFolder));
  const known = new Map<string, boolean>();
  const isOutside = (path: string): boolean => {
    const slash = path.lastIndexOf('/');
    const name = path.slice(slash + 1);
    if (isNeverPart(name)) return true;
    if (slash < 0) return false;
    const above = path.slice(0, slash);
    let outside = known.get(above);
    if (outside === undefined) known.set(above, (outside = isOutside(above) || isLeftOut(above, true)));
    return outside;
  };
  return [...blobs.keys()].filter((path) => !isOutside(path) && !isLeftOut(path, false)).sort();
}
