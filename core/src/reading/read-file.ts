import { entryOf } from '../helpers/at.js';
import type { FileFacts, NamedTable, ScriptFacts } from './facts.js';
import { linesOf, type Lines } from './lines.js';
import { readInComments } from './embedded.js';
import { insideContent } from './plan/content.js';
import type { Plan, ScriptRule } from './plan/plan.js';
import { readContent } from './read-data.js';
import { factsOfName, noteProblems, readStructured, type RuleFor } from './read-structured.js';
import { asType } from './scripts/as-type.js';
import { LANGUAGE } from './scripts/languages.js';
import { takeScriptFacts } from './scripts/script-facts.js';
import type { ScriptSyntax } from './scripts/syntax.js';
import { CALL_MARK, findTables } from './scripts/tables.js';
import type { TreeNode } from './tree/node.js';

/**
 * Files → facts: reads one file by its rule. Depends on nothing but the arguments. Never throws for what stands in
 * the file: faults become `problems`, and what could be read is kept.
 * Scripts need {@link prepareGrammars} to have resolved.
 */
export function readFile(path: string, text: string, found: RuleFor, plan: Plan): FileFacts {
  if (found.of === 'files') return readStructured(path, text, found);
  const facts = factsOfName(path, found);
  const lines = linesOf(text);
  try {
    const script = asType(LANGUAGE[found.rule.language].read(text), path, found.rule);
    noteProblems(facts, text, lines, script.problems);
    facts.script = takeScriptFacts(script, text, plan, found.rule, lines);
    const problems = readInComments(found.rule.embedded, script.comments, text, facts, lines);
    if (problems.length > 0) noteProblems(facts, text, lines, problems);
    readTables(script, text, facts, facts.script, found.rule, lines);
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    noteProblems(facts, text, lines, [{ message: 'nested too deeply to be read', start: 0, end: text.length }]);
  }
  return facts;
}

/** Reads the tables in a script that the plan means as documents. */
function readTables(
  syntax: ScriptSyntax,
  text: string,
  facts: FileFacts,
  { constants, namedTables }: ScriptFacts,
  { tables }: ScriptRule,
  lines: Lines,
): void {
  const texts = new Map(constants.map((one) => [one.name, one.text]));
  for (const [rule, documents] of findTables(syntax, tables, (name) => texts.get(name))) {
    const trees = documents.map(({ tree }) => tree);
    const pieces = readContent(trees, text, facts, insideContent('tables', rule, entryOf(tables, rule)), lines);
    for (const { name, tree } of documents)
      if (name && tree.kind === 'object') namedTables.push(namedTable(name, tree, pieces, lines));
  }
}

function namedTable(name: string, tree: TreeNode, pieces: ReadonlyMap<TreeNode, number>, lines: Lines): NamedTable {
  const isNamed = ({ key, keyStart }: TreeNode): boolean => key !== '' && keyStart >= 0;
  return {
    name,
    members: tree.children.filter(isNamed).map((node) => ({
      name: node.key,
      piece: pieces.get(node) ?? -1,
      range: lines.range(node.keyStart, node.keyEnd),
    })),
    isWhole: tree.children.every((node) => isNamed(node) || node.key === CALL_MARK),
    range: lines.range(tree.start, tree.start),
  };
}
