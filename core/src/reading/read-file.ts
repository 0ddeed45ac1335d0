import { entryOf } from '../helpers/at.js';
import type { FileFacts, NamedTable, ScriptFacts } from './facts.js';
import { linesOf, type Lines } from './lines.js';
import { codeIn, readInComments } from './embedded.js';
import { isMatch } from './match.js';
import { insideContent } from './plan/content.js';
import type { FileRule, Plan, ScriptRule } from './plan/plan.js';
import { readContent } from './read-data.js';
import { factsOfName, noteProblems, readStructured, treeOf, type RuleFor } from './read-structured.js';
import { asType } from './scripts/as-type.js';
import { LANGUAGE } from './scripts/languages.js';
import { takeScriptFacts } from './scripts/script-facts.js';
import { withOlderTypes } from './scripts/older-types.js';
import type { ScriptSyntax, Statement } from './scripts/syntax.js';
import { CALL_MARK, findTables, nameOf } from './scripts/tables.js';
import type { TreeNode } from './tree/node.js';
import { marksIn } from './waiver-marks.js';

/**
 * Files → facts: reads one file by its rule. Depends on nothing but the arguments. Never throws for what stands in
 * the file: faults become `problems`, and what could be read is kept.
 * Scripts need {@link prepareGrammars} to have resolved.
 */
export function readFile(path: string, text: string, found: RuleFor, plan: Plan): FileFacts {
  const facts = readByRule(path, text, found, plan);
  const waivers = marksIn(text, plan.waived);
  if (waivers.length > 0) facts.waivers = waivers;
  return facts;
}

function readByRule(path: string, text: string, found: RuleFor, plan: Plan): FileFacts {
  if (found.of === 'files') {
    const facts = readStructured(path, text, found);
    readCodeInside(facts, path, text, found.rule, plan);
    return facts;
  }
  const facts = factsOfName(path, found);
  const lines = linesOf(text);
  try {
    const syntax = LANGUAGE[found.rule.language].read(text);
    const script = asType(withOlderTypes(syntax, found.rule), path, found.rule);
    noteProblems(facts, text, lines, script.problems);
    facts.script = takeScriptFacts(script, text, plan, found.rule, lines);
    const problems = readInComments(found.rule.embedded, script.comments, text, facts, lines);
    if (problems.length > 0) noteProblems(facts, text, lines, problems);
    // A table that is a type can be a document all the same.
    readTables(syntax, text, facts, facts.script, found.rule, lines);
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
  const here = Object.fromEntries(
    Object.entries(tables).filter(([, { files }]) => files.length === 0 || isMatch(facts.file, files)),
  );
  for (const [rule, documents] of findTables(syntax, here, (name) => texts.get(name))) {
    const trees = documents.map(({ tree }) => tree);
    const pieces = readContent(trees, text, facts, insideContent('tables', rule, entryOf(tables, rule)), lines);
    for (const { name, tree } of documents)
      if (name && tree.kind === 'object') {
        const table = namedTable(name, tree, pieces, lines);
        namedTables.push(answersForMore(syntax, name) ? { ...table, isWhole: false } : table);
      }
  }
}

/** `setmetatable(Limits, …)`: a table may answer for entries that are not written in it. */
function answersForMore({ body }: ScriptSyntax, name: string): boolean {
  return body.some(
    (one) =>
      one.is === 'expression' &&
      one.value.is === 'call' &&
      nameOf(one.value.of) === 'setmetatable' &&
      one.value.arguments[0] !== undefined &&
      nameOf(one.value.arguments[0].value) === name,
  );
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

/** Reads the code in texts of a structured file: each stretch as a function of its own. */
function readCodeInside(facts: FileFacts, path: string, text: string, rule: FileRule, plan: Plan): void {
  if (!Object.values(rule.embedded).some(({ script }) => script !== undefined)) return;
  const blocksOf = (script: string): readonly [string, string] =>
    LANGUAGE[entryOf(plan.scripts, script).language].blocks;
  const inside = codeIn(rule.embedded, treeOf(path, text, rule)?.documents ?? [], text, blocksOf);
  if (!inside || inside.stretches.length === 0) return;
  const scripts = entryOf(plan.scripts, inside.script);
  const whole = linesOf(text);
  const place = (offset: number): number => inside.offsets[Math.min(offset, inside.text.length)] ?? text.length;
  const lines: Lines = {
    lineOf: (offset) => whole.lineOf(place(offset)),
    columnOf: (offset) => whole.columnOf(place(offset)),
    offsetOf: (line, column) => whole.offsetOf(line, column),
    range: (start, end) => whole.range(place(start), place(end)),
  };
  try {
    const syntax = LANGUAGE[scripts.language].read(inside.text);
    const problems = syntax.problems.map((one) => ({ ...one, start: place(one.start), end: place(one.end) }));
    noteProblems(facts, text, whole, problems);
    inFunctions(syntax, inside.stretches);
    facts.script = { ...takeScriptFacts(syntax, inside.text, plan, scripts, lines), rule: inside.script };
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    noteProblems(facts, text, whole, [{ message: 'nested too deeply to be read', start: 0, end: text.length }]);
  }
}

/** Puts the statements of each stretch into a function of its own; statements and stretches stand in the order of the text. */
function inFunctions(syntax: ScriptSyntax, stretches: readonly { start: number; end: number }[]): void {
  const body = [...syntax.body].sort((a, b) => a.start - b.start);
  const left: Statement[] = [];
  let at = 0;
  for (const stretch of stretches) {
    const own: Statement[] = [];
    for (let one = body[at]; one && one.start < stretch.end; one = body[++at])
      (one.end > stretch.start ? own : left).push(one);
    if (own.length > 0)
      syntax.functions.push({ name: '', parameters: [], body: own, decorators: [], isStatic: false, ...stretch });
  }
  syntax.body = [...left, ...body.slice(at)];
}
