/** Which rule reads a file, and how structured files are read. Runs in browsers as well: no script grammar is needed. */
import type { FileFacts } from './facts.js';
import { readInTrees } from './embedded.js';
import { createGlueFactsReader } from './glue-facts/read-glue-facts.js';
import { linesOf, type Lines } from './lines.js';
import { isMatch } from './match.js';
import type { FileRule, Language, Plan, ScriptRule } from './plan/plan.js';
import { readData } from './read-data.js';
import { stem } from './source.js';
import type { ReadProblem, Tree } from './tree/node.js';
import { endsEarly, formatOf, readByLines, readTree, type Format } from './tree/read-tree.js';

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

/** The languages of code that a rule reads: a script's own, and those of code inside other files. */
export function languagesOf({ scripts }: Plan, found: RuleFor): Language[] {
  if (found.of === 'scripts') return [found.rule.language];
  return Object.values(found.rule.embedded).flatMap(({ script }) => scripts[script ?? '']?.language ?? []);
}

/** Whether a rule reads the file's text, or only lists the file. */
export function readsText(found: RuleFor, path: string): boolean {
  if (found.of === 'scripts' || found.rule.as === 'glue facts') return true;
  const { as, lines } = found.rule;
  return as !== 'media' && (lines !== undefined || formatBy(path, found.rule) !== undefined);
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

/** More of one file say nothing new. */
const MOST_NOTES = 100;
/** Texts of files with faults are kept up to here. */
const LONGEST_KEPT = 500_000;

/** Notes faults, with places that surely lie inside the text, and keeps the text: see {@link FileFacts.unread}. */
export function noteProblems(facts: FileFacts, text: string, lines: Lines, problems: readonly ReadProblem[]): void {
  for (const { message, start, end } of problems) {
    const from = Math.min(Math.max(0, start), text.length);
    facts.problems.push({ message, range: lines.range(from, Math.min(Math.max(from, end), text.length)) });
  }
  if (problems.length > 0 && facts.unread !== '')
    facts.unread = endsEarly(text, problems) || text.length > LONGEST_KEPT ? '' : text;
}

/** The format that a rule has a file read in; undefined for text of the team's own, and for none. */
export function formatBy(path: string, { lines, format }: FileRule): Format | undefined {
  if (lines || format === 'lines') return undefined;
  return format ?? formatOf(path);
}

export function treeOf(path: string, text: string, rule: FileRule): Tree | undefined {
  if (rule.lines) return readByLines(text, rule.lines);
  const format = formatBy(path, rule);
  return format && readTree(text, format, rule.columns);
}

/** Reads a structured file by its rule. Never throws for what stands in the file. */
export function readStructured(path: string, text: string, found: RuleFor & { of: 'files' }): FileFacts {
  const facts = factsOfName(path, found);
  if (found.rule.as === 'glue facts') {
    const reader = createGlueFactsReader(facts);
    for (const line of text.split('\n')) reader.line(line);
    return reader.end();
  }
  const tree = treeOf(path, text, found.rule);
  if (!tree) return facts;
  const lines = linesOf(text);
  noteProblems(facts, text, lines, tree.problems);
  if (tree.notes && tree.notes.length > 0)
    facts.notes = tree.notes
      .slice(0, MOST_NOTES)
      .map(({ message, start, end }) => ({ message, range: lines.range(start, end) }));
  readData(tree.documents, text, facts, found.rule, lines);
  const problems = readInTrees(found.rule.embedded, tree.documents, text, facts, lines);
  if (problems.length > 0) noteProblems(facts, text, lines, problems);
  return facts;
}
