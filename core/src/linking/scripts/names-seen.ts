/** Which functions a file can call without a receiver. */
import { itemAt } from '../../helpers/at.js';
import { once, oncePer } from '../../helpers/once.js';
import { push } from '../../helpers/push.js';
import type { Sees } from '../../reading/plan/plan.js';
import { LANGUAGE } from '../../reading/scripts/languages.js';
import { givenBy, takenIn } from '../link-imports.js';
import { isWhole, memberNames } from '../members.js';
import { homeOf, seesHome } from '../sight.js';
import type { World } from '../world/world.js';

/**
 * Names that a file sees besides its own; undefined where not all of them are known.
 * @param type position in the script's types of the type whose code it is, or -1
 */
export function namesSeen(world: World, source: number, type: number): ReadonlySet<string> | undefined {
  const { script, rule } = itemAt(world.facts, source);
  if (!script) return undefined;
  if (script.language === 'csharp') return membersSeen(world, source, type);
  return SEEN[world.plan.scripts[script.rule ?? rule]?.sees ?? LANGUAGE[script.language].sees](world, source);
}

const SEEN: Record<Sees, (world: World, source: number) => ReadonlySet<string> | undefined> = {
  imports: (world, source) => {
    const { language } = itemAt(world.facts, source).script ?? {};
    if (language === 'lua') return includedNames(world, source);
    // What a module takes in it names, but for what is there for all.
    if (language !== 'python') return everywhere(world);
    const { names, isWhole: isKnown } = givenBy(world, source);
    return isKnown ? names : undefined;
  },
  together: (world, source) => {
    const files = togetherWith(world).get(source);
    return files && connectedNames(world, files);
  },
  package: (world, source) => namesInSight(world, homeOf(world, source)),
  project: (world) => wholeProject(world),
};

/** What the scripts define that files of a package see. */
const namesInSight = oncePer(
  (world: World, home: number): ReadonlySet<string> =>
    ofFiles(
      world,
      scripts(world).filter((at) => seesHome(world, home, homeOf(world, at))),
    ).names,
);

/** What a file and all that it takes in define for everybody. */
function includedNames(world: World, source: number): ReadonlySet<string> | undefined {
  const { names, isKnown } = ofFiles(world, [...reached(source, (at) => takenIn(world, at).files)]);
  return isKnown ? names : undefined;
}

/** Files that are connected by taking in, by each of them: one list for all. */
const togetherWith = once((world: World): Map<number, readonly number[]> => {
  const groups = new Map<number, readonly number[]>();
  for (const at of scripts(world)) {
    if (groups.has(at)) continue;
    const group = [...reached(at, (one) => neighbours(world).get(one) ?? [])];
    for (const one of group) groups.set(one, group);
  }
  return groups;
});

const connectedNames = oncePer((world: World, files: readonly number[]): ReadonlySet<string> | undefined => {
  const { names, isKnown } = ofFiles(world, files);
  return isKnown ? names : undefined;
});

/** In C#: members of the own type and its parents, and of types around it. */
function membersSeen(world: World, source: number, type: number): ReadonlySet<string> | undefined {
  const inFile = world.types.inFile.get(source) ?? [];
  const own = inFile.find(({ local }) => local === type);
  if (!own || !isWhole(world, own)) return undefined;
  // `using static` brings in what another type has.
  if (
    itemAt(world.facts, source).script?.imports.some(({ from }) => world.types.byName.has(from.split('.').at(-1) ?? ''))
  )
    return undefined;
  return new Set(inFile.flatMap(memberNames));
}

function reached(source: number, next: (at: number) => readonly number[]): Set<number> {
  const open = new Set([source]);
  for (const at of open) for (const file of next(at)) open.add(file);
  return open;
}

function ofFiles(world: World, files: readonly number[]): { names: Set<string>; isKnown: boolean } {
  const names = new Set<string>();
  let isKnown = true;
  for (const at of files) {
    const given = givenBy(world, at);
    for (const name of given.names) names.add(name);
    for (const name of itemAt(world.facts, at).script?.gives.everywhere ?? []) names.add(name);
    isKnown &&= given.isWhole && takenIn(world, at).isInside;
  }
  return { names, isKnown };
}

const scripts = once(({ facts }: World) => facts.flatMap(({ script }, at) => (script ? [at] : [])));

/** In TypeScript and JavaScript: names of files that are no modules, and those declared for all. */
const everywhere = once((world: World): Set<string> => {
  const names = new Set<string>();
  for (const at of scripts(world)) {
    const { language, gives } = itemAt(world.facts, at).script ?? {};
    if (!gives || (language !== 'typescript' && language !== 'javascript')) continue;
    for (const name of gives.isModule ? gives.everywhere : [...gives.names, ...gives.everywhere]) names.add(name);
  }
  return names;
});

/** Everything that any script defines. */
const wholeProject = once((world: World): Set<string> => {
  const { code, types } = world;
  const given = scripts(world).flatMap((at) => itemAt(world.facts, at).script?.gives.names ?? []);
  return new Set([...code.functionNames, ...types.byName.keys(), ...code.constants.keys(), ...given]);
});

/** Files that one takes in, and those that take it in. */
const neighbours = once((world: World): Map<number, number[]> => {
  const found = new Map<number, number[]>();
  for (const at of scripts(world)) {
    for (const other of takenIn(world, at).files) {
      push(found, at, other);
      push(found, other, at);
    }
  }
  return found;
});

/** Scripts that define a function of this name, by their paths. */
export function filesGiving(world: World, name: string): string[] {
  return (defining(world).get(name) ?? []).slice(0, 3);
}

const defining = once(({ facts }: World): Map<string, string[]> => {
  const found = new Map<string, string[]>();
  for (const { file, script } of facts)
    for (const name of new Set(script?.functions.flatMap((code) => (code.type < 0 && code.name ? [code.name] : []))))
      push(found, name, file);
  return found;
});
