/** Which script takes which other one in, and what it takes from it that is not there. */
import { itemAt, must } from '../helpers/at.js';
import { nearest } from '../helpers/nearest.js';
import { once, oncePer } from '../helpers/once.js';
import type { FileFacts, ScriptFacts } from '../reading/facts.js';
import type { Language } from '../reading/plan/plan.js';
import { LANGUAGE } from '../reading/scripts/languages.js';
import { isMatch } from '../reading/match.js';
import { baseName, folderOf } from '../reading/source.js';
import { emptyLoss, isEngines } from './losses.js';
import { filesNamed, findPath, normal, referencesIn } from './paths.js';
import { addLost, lose, type Work } from './work.js';
import { isRead } from './world/unread.js';
import type { World } from './world/world.js';

/** Where an import leads: to a script of the project, to something else of it, outside, or nowhere. */
export type Taken =
  | { is: 'script'; source: number; isGuess?: true }
  | { is: 'other' }
  | { is: 'outside' }
  | { is: 'lost'; otherCapitals: string };

export function linkImports(work: Work, source: number): void {
  const { world } = work;
  const fact = itemAt(world.facts, source);
  const { script, file } = fact;
  const seen = new Set<number>();
  const from = itemAt(world.files.piece, source);
  for (const taken of script?.imports ?? []) {
    const found = takenFrom(world, source, taken.from);
    const place = { from, verb: 'imports' as const, file, range: taken.range };
    if (found.is === 'lost' && !isEngines(world.plan.engine.files, taken.from))
      lose(work, { ...place, field: '' }, { ...emptyLoss('file', taken.from), otherCapitals: found.otherCapitals });
    if (found.is !== 'script') continue;
    if (found.source === source) continue;
    if (!found.isGuess) findNotGiven(work, fact, found.source, taken);
    if (seen.has(found.source)) continue;
    seen.add(found.source);
    const to = itemAt(world.files.piece, found.source);
    world.builder.addLink({ ...place, to, grip: 'path', label: taken.from });
  }
}

/** Names that are taken from a file which does not give them. */
function findNotGiven(work: Work, fact: FileFacts, source: number, taken: ScriptFacts['imports'][number]): void {
  const { world } = work;
  const { names, isWhole } = givenBy(world, source);
  if (!isWhole) return;
  const other = itemAt(world.facts, source);
  for (const { name } of taken.names) {
    if (name === '*' || names.has(name) || isModuleBeside(world, other.file, name)) continue;
    const from = must(world.files.piece[must(world.files.sourceOf.get(fact.file))]);
    const to = itemAt(world.files.piece, source);
    work.linked.faults.push({
      is: 'missing member',
      of: 'file',
      part: -1,
      foundIn: fact.file,
      file: fact.file,
      range: taken.range,
      from,
      type: to,
      typeName: other.name,
      member: name,
      how: 'reads',
      isOwn: false,
      isHidden: false,
      unlessMentioned: false,
      prefab: -1,
      members: [...names],
    });
    const loss = { ...emptyLoss('member', name), lastObject: to, among: nearest(name, [...names], 3) };
    addLost(work, { from, verb: 'imports', file: fact.file, field: '', range: taken.range }, loss);
  }
}

/** `from boats import hull` may mean a file of a folder, not a name in one. */
function isModuleBeside(world: World, file: string, name: string): boolean {
  const path = `${folderOf(file)}/${name}`.replace(/^\//, '');
  return /\/?__init__\.py$/.test(file) && (world.files.paths.has(`${path}.py`) || folders(world).has(path));
}

/** Names that a file gives, with those that it gives on from others; whether that is all. */
export const givenBy = oncePer((world: World, source: number): { names: Set<string>; isWhole: boolean } => {
  const names = new Set<string>();
  const open = new Set([source]);
  let isWhole = true;
  for (const at of open) {
    const { script } = itemAt(world.facts, at);
    if (!script || !isRead(world, at)) {
      isWhole = false;
      continue;
    }
    for (const name of script.gives.names) names.add(name);
    isWhole &&= script.gives.isWhole && (script.gives.isModule || !MODULES.has(script.language));
    const all = [...script.gives.from, ...script.imports.filter(takesAll).map(({ from }) => from)];
    for (const from of all) {
      const found = takenFrom(world, at, from);
      if (found.is === 'script') open.add(found.source);
      else isWhole = false;
    }
  }
  return { names, isWhole };
});

/** Languages in which a file that says nothing of what it gives may give it in another way. */
const MODULES = new Set<Language>(['typescript', 'javascript']);

/** `from boats import *`. */
function takesAll({ names }: ScriptFacts['imports'][number]): boolean {
  return names.some(({ name, as }) => name === '*' && as === '*');
}

/** The scripts that one takes in, by imports and by calls that mean it; whether all of them are the project's is known. */
export function takenIn(world: World, source: number): { files: number[]; isInside: boolean } {
  const { script, file } = itemAt(world.facts, source);
  const imported = (script?.imports ?? []).map(({ from }) => {
    const found = takenFrom(world, source, from);
    return found.is === 'script' ? found.source : undefined;
  });
  const called = (script?.operations ?? []).flatMap(({ rule: index, arguments: given }): (number | undefined)[] => {
    const { means, target } = itemAt(world.plan.calls, index);
    if (means !== 'take in') return [];
    const files = filesNamed(world, target, given.path ?? given.name, file);
    return files.length > 0 ? files : [undefined];
  });
  const all = [...imported, ...called];
  return { files: all.filter((one) => one !== undefined), isInside: !all.includes(undefined) };
}

/** Position in the facts of the script that an import means; undefined for modules from outside. */
export function importedFile(world: World, source: number, from: string): number | undefined {
  const found = takenFrom(world, source, from);
  return found.is === 'script' ? found.source : undefined;
}

const takenBefore = oncePer((_world: World, _source: number) => new Map<string, Taken>());

/** What an import of a script means. */
function takenFrom(world: World, source: number, from: string): Taken {
  const known = takenBefore(world, source);
  let found = known.get(from);
  if (!found) known.set(from, (found = lookFor(world, source, from)));
  return found;
}

function lookFor(world: World, source: number, from: string): Taken {
  const { script, file, rule } = itemAt(world.facts, source);
  const { language } = must(script);
  const slashed = DOTTED.has(language) && !from.includes('/') ? inSlashes(from) : from;
  const form = world.plan.scripts[script?.rule ?? rule]?.imports;
  for (const { text } of form ? referencesIn(form, slashed) : []) {
    const { path, otherCapitals } = findPath(world, must(form), text, file);
    if (path !== undefined) return ofPath(world, path);
    if (form?.pattern ?? Object.keys(form?.schemes ?? {}).some((mark) => text.startsWith(mark)))
      return { is: 'lost', otherCapitals };
  }
  // What stands behind a question mark says how it is taken in, not what.
  return byLanguage(world, file, slashed.replace(/\?.*$/, ''), language);
}

/** Languages in which dots stand between the names of folders. */
const DOTTED = new Set<Language>(['lua', 'python']);

/** `boats.hull` is `boats/hull`, `.hull` of Python `./hull`, `..hull` `../hull`. */
function inSlashes(from: string): string {
  const [dots = ''] = /^\.*/.exec(from) ?? [];
  const rest = from.slice(dots.length).replace(/\./g, '/');
  if (dots === '') return rest;
  return `${dots.length === 1 ? './' : '../'.repeat(dots.length - 1)}${rest}`;
}

function byLanguage(world: World, file: string, from: string, language: Language): Taken {
  const home = folderOf(file);
  const isRelative = from.startsWith('.');
  const { importEndings } = LANGUAGE[language];
  if (importEndings.length === 0) return { is: 'outside' };
  let otherCapitals = '';
  for (const folder of isRelative ? [home] : [home, '']) {
    for (const ending of importEndings) {
      // Code names what it becomes: `./hull.js` is written `hull.ts`.
      const bare = isRelative ? from.replace(/\.js$/, language === 'typescript' && ending ? '' : '.js') : from;
      const path = normal(`${folder}/${bare}${ending}`);
      if (path === undefined) continue;
      if (world.files.paths.has(path)) return ofPath(world, path);
      otherCapitals ||= world.files.byLower.get(path.toLowerCase())?.[0] ?? '';
    }
    const whole = normal(`${folder}/${from}`);
    if (whole === undefined && isRelative) return { is: 'other' };
    // A folder, or a file that has more endings than are written.
    if (whole !== undefined && (folders(world).has(whole) || stems(world).has(whole))) return { is: 'other' };
  }
  if (isRelative) return isIgnored(world, home, from) ? { is: 'other' } : { is: 'lost', otherCapitals };
  if (!DOTTED.has(language)) return { is: 'outside' };
  const below = endingWith(world, from, importEndings);
  // A name alone may be that of a module from outside as well.
  if (below.length === 1 && (from.includes('/') || language === 'lua')) {
    const found = ofPath(world, itemAt(below, 0));
    return found.is === 'script' ? { ...found, isGuess: true } : found;
  }
  return below.length === 0 && isOfProject(world, home, from) ? { is: 'lost', otherCapitals } : { is: 'outside' };
}

/** Scripts anywhere whose path ends as a name with dots does: what it starts from is set where nobody sees it. */
function endingWith({ files }: World, from: string, endings: readonly string[]): string[] {
  return endings
    .filter((ending) => ending !== '')
    .flatMap((ending) => {
      const path = `${from}${ending}`;
      const named = files.byLowerName.get(baseName(path).toLowerCase()) ?? [];
      return named.filter((one) => one.endsWith(`/${path}`));
    });
}

/** Whether the plan passes over what is meant: it may be there. */
function isIgnored({ plan }: World, home: string, from: string): boolean {
  const path = normal(`${home}/${from}`);
  return path === undefined || isMatch(path, plan.ignore) || isMatch(`${path}/x`, plan.ignore);
}

function ofPath(world: World, path: string): Taken {
  const source = world.files.sourceOf.get(world.files.replacedBy.get(path) ?? path);
  return source !== undefined && itemAt(world.facts, source).script ? { is: 'script', source } : { is: 'other' };
}

/** Whether a name with dots begins as a folder of scripts does: then no module from outside is meant. */
function isOfProject(world: World, home: string, from: string): boolean {
  const [first = '', ...rest] = from.split('/');
  return rest.length > 0 && [home, ''].some((folder) => folders(world).has(normal(`${folder}/${first}`) ?? ''));
}

/** All folders of the project. */
const folders = once(({ files }: World): Set<string> => {
  const found = new Set<string>();
  for (const path of files.paths)
    for (let at = folderOf(path); at !== '' && !found.has(at); at = folderOf(at)) found.add(at);
  return found;
});

/** All paths without their last ending. */
const stems = once(({ files }: World) => new Set([...files.paths].map((path) => path.replace(/\.[^./]*$/, ''))));
