/** Which script takes which other one in: paths from the file, and names with dots from the project or beside it. */
import { itemAt, must } from '../helpers/at.js';
import type { Language } from '../reading/plan/plan.js';
import { LANGUAGE } from '../reading/scripts/languages.js';
import { folderOf } from '../reading/source.js';
import { filesNamed, normal } from './paths.js';
import type { Work } from './work.js';
import type { World } from './world/world.js';

export function linkImports(work: Work, source: number): void {
  const { world } = work;
  const { script, file } = itemAt(world.facts, source);
  const seen = new Set<number>();
  for (const { from, range } of script?.imports ?? []) {
    const to = importedFile(world, file, from, must(script).language);
    if (to === undefined || to === source || seen.has(to)) continue;
    seen.add(to);
    const link = {
      from: itemAt(world.files.piece, source),
      to: itemAt(world.files.piece, to),
      verb: 'imports' as const,
    };
    world.builder.addLink({ ...link, grip: 'path', label: from, file, range });
  }
}

/** The scripts that one takes in, by imports and by calls that mean it; whether all of them are the project's is known. */
export function takenIn(world: World, source: number): { files: number[]; isInside: boolean } {
  const { script, file } = itemAt(world.facts, source);
  const imported = (script?.imports ?? []).map(({ from }) => importedFile(world, file, from, must(script).language));
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
export function importedFile(world: World, file: string, from: string, language: Language): number | undefined {
  const home = folderOf(file);
  const isPath = from.startsWith('.') && language !== 'python';
  const plain = from.replace(/^\.+(?![./])/, '');
  const slashed = language === 'lua' || language === 'python' ? plain.replace(/\./g, '/') : plain;
  const folders = isPath ? [home] : [home, ''];
  for (const folder of folders) {
    for (const ending of LANGUAGE[language].importEndings) {
      const bare = isPath ? from.replace(/\.js$/, language === 'typescript' && ending ? '' : '.js') : slashed;
      const path = normal(`${folder}/${bare}${ending}`);
      const found = path === undefined ? undefined : world.files.sourceOf.get(world.files.replacedBy.get(path) ?? path);
      if (found !== undefined && itemAt(world.facts, found).script) return found;
    }
  }
  return undefined;
}
