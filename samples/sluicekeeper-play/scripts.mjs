/** The sample's own scripts as they run here: TypeScript without its types, each file as a module. */
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { SourceMap } from 'node:module';
import { dirname, join } from 'node:path';
import { Script } from 'node:vm';
import ts from 'typescript';

export function loadScripts(folder, modules) {
  const maps = new Map();
  const loaded = new Map();
  const problems = [];
  const load = (file) => {
    const known = loaded.get(file);
    if (known) return known.exports;
    const module = { exports: {} };
    loaded.set(file, module);
    const { outputText, sourceMapText } = withoutTypes(file, readFileSync(join(folder, file), 'utf8'));
    maps.set(file, new SourceMap(JSON.parse(sourceMapText)));
    const require = (name) => modules[name] ?? load(join(dirname(file), `${name}.ts`));
    const run = new Script(`(function (module, exports, require) {${outputText}\n})`, { filename: file });
    run.runInThisContext()(module, module.exports, require);
    return module.exports;
  };
  const types = new Map();
  const slots = new Map();
  const asked = new Map();
  for (const path of readdirSync(join(folder, 'scripts'), { recursive: true }).sort()) {
    const file = join('scripts', path);
    if (!file.endsWith('.ts')) continue;
    try {
      saidIn(file, readFileSync(join(folder, file), 'utf8'), slots, asked);
      for (const [name, value] of Object.entries(load(file)))
        if (typeof value === 'function' && !types.has(name)) types.set(name, Object.assign(value, { file }));
    } catch (error) {
      problems.push({ file, error });
    }
  }
  return {
    types,
    problems,
    /** Slots of a type and of those it descends from: what each takes, and whether it may stay empty. */
    slotsOf(type) {
      const all = new Map();
      for (let at = type; at?.name; at = Object.getPrototypeOf(at))
        for (const [name, slot] of slots.get(at.name) ?? []) if (!all.has(name)) all.set(name, slot);
      return all;
    },
    /** Functions that a player may have called: those that take nothing, or a number. */
    askedOf(type) {
      const all = new Set();
      for (let at = type; at?.name; at = Object.getPrototypeOf(at))
        for (const name of asked.get(at.name) ?? []) all.add(name);
      return [...all];
    },
    /** The type that a file gives; undefined where there is no such file. */
    typeIn: (file) =>
      existsSync(join(folder, file)) ? [...types.values()].find((type) => type.file === file) : undefined,
    /** Where in the sample an error came up. */
    placeOf(error) {
      for (const [, file, line, column] of String(error.stack).matchAll(/(scripts\/[\w./-]+\.ts):(\d+):(\d+)/g)) {
        const map = maps.get(file);
        // What wraps the module stands in front of its first line.
        const entry = map?.findEntry(Number(line) - 1, Number(column) - 1);
        if (entry?.originalLine !== undefined) return { file, line: entry.originalLine + 1 };
      }
      return undefined;
    },
  };
}

/** A script as it runs; the same text comes again and again where many sessions are played. */
function withoutTypes(file, text) {
  const key = `${file}\n${text}`;
  if (!known.has(key))
    known.set(
      key,
      ts.transpileModule(text, {
        fileName: file,
        compilerOptions: {
          module: ts.ModuleKind.CommonJS,
          target: ts.ScriptTarget.ES2022,
          experimentalDecorators: true,
          sourceMap: true,
        },
      }),
    );
  return known.get(key);
}
const known = new Map();

/** Functions that the engine calls. */
const OF_ENGINE = ['begin', 'everyFrame', 'end'];

/**
 * What the scripts say of their slots – `@slot() gate!: StageThing` must be filled, `lamp?` and what has a value need not –
 * and which functions anybody may call.
 */
function saidIn(file, text, slots, asked) {
  for (const type of ts.createSourceFile(file, text, ts.ScriptTarget.ES2022, true).statements) {
    if (!ts.isClassDeclaration(type) || !type.name) continue;
    const [own, calls] = [new Map(), []];
    for (const member of type.members) {
      const name = member.name?.getText() ?? '';
      if (ts.isPropertyDeclaration(member) && ts.getDecorators(member)?.length)
        own.set(name, { takes: member.type?.getText() ?? '', isNeeded: member.exclamationToken !== undefined });
      const isOpen = !ts.getModifiers(member)?.some(({ kind }) => kind === ts.SyntaxKind.PrivateKeyword);
      if (ts.isMethodDeclaration(member) && isOpen && !OF_ENGINE.includes(name))
        if (member.parameters.every(({ type: takes }) => takes?.getText() === 'number')) calls.push(name);
    }
    slots.set(type.name.text, own);
    asked.set(type.name.text, calls);
  }
}
