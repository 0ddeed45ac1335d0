import type { FileFacts } from './facts.js';
import { linesOf } from './lines.js';
import { createGlueFactsReader } from './glue-facts/read-glue-facts.js';
import { isMatch } from './match.js';
import type { FileRule, Language, Plan, ScriptRule } from './plan/plan.js';
import { readData } from './read-data.js';
import { readCSharp } from './scripts/csharp/csharp.js';
import { readLua } from './scripts/lua/lua.js';
import { readPython } from './scripts/python/python.js';
import { takeScriptFacts } from './scripts/script-facts.js';
import type { ScriptSyntax } from './scripts/syntax.js';
import { readTypeScript } from './scripts/typescript/typescript.js';
import { stem } from './source.js';
import { formatOf, readTree } from './tree/read-tree.js';

/** One folder per language; adding a language means adding a folder and a line here. */
const READERS: Record<Language, (text: string) => ScriptSyntax> = {
  typescript: readTypeScript,
  javascript: (text) => readTypeScript(text, 'javascript'),
  lua: readLua,
  csharp: readCSharp,
  python: readPython,
};

/** The rule that reads a file. */
export type RuleFor = { of: 'scripts'; name: string; rule: ScriptRule } | { of: 'files'; name: string; rule: FileRule };

/** Finds the first rule of the plan that matches a path; scripts come first. Undefined: nothing reads this file. */
export function ruleFor(plan: Plan, path: string): RuleFor | undefined {
  for (const [name, rule] of Object.entries(plan.scripts))
    if (isMatch(path, rule.match)) return { of: 'scripts', name, rule };
  for (const [name, rule] of Object.entries(plan.files))
    if (isMatch(path, rule.match)) return { of: 'files', name, rule };
  return undefined;
}

/** Whether a rule reads the file's text, or only lists the file. */
export function readsText(found: RuleFor, path: string): boolean {
  if (found.of === 'scripts' || found.rule.as === 'glue facts') return true;
  return found.rule.as !== 'media' && (found.rule.format ?? formatOf(path)) !== undefined;
}

/** The facts of a file of which only the name is known: media, and files that cannot be read. */
export function factsOfName(path: string, found: RuleFor): FileFacts {
  return {
    file: path,
    rule: found.name,
    kind: found.of === 'scripts' ? 'script' : found.rule.as === 'glue facts' ? 'file' : found.rule.as,
    name: stem(path),
    id: '',
    range: { line: 1, column: 1, endLine: 1, endColumn: 1 },
    pieces: [],
    references: [],
    events: [],
    connections: [],
    attachments: [],
    given: [],
    problems: [],
  };
}

/**
 * Files → facts: reads one file by its rule. Depends on nothing but the arguments. Never throws for what stands in
 * the file: faults become `problems`, and what could be read is kept.
 * Scripts need {@link prepareGrammars} to have resolved.
 */
export function readFile(path: string, text: string, found: RuleFor, plan: Plan): FileFacts {
  const facts = factsOfName(path, found);
  const lines = linesOf(text);
  const note = (problem: { message: string; start: number; end: number }): void => {
    const start = Math.min(Math.max(0, problem.start), text.length);
    facts.problems.push({
      message: problem.message,
      range: lines.range(start, Math.min(Math.max(start, problem.end), text.length)),
    });
  };
  if (found.of === 'scripts') {
    try {
      const script = READERS[found.rule.language](text);
      script.problems.forEach(note);
      facts.script = takeScriptFacts(script, plan, found.rule, lines);
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      note({ message: 'nested too deeply to be read', start: 0, end: text.length });
    }
    return facts;
  }
  if (found.rule.as === 'glue facts') {
    const reader = createGlueFactsReader(facts);
    for (const line of text.split('\n')) reader.line(line);
    return reader.end();
  }
  const format = found.rule.format ?? formatOf(path);
  if (!format) return facts;
  const tree = readTree(text, format);
  tree.problems.forEach(note);
  readData(tree.documents, facts, found.rule, lines);
  return facts;
}
