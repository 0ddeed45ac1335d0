import type { FileFacts } from './facts.js';
import { linesOf } from './lines.js';
import type { Plan } from './plan/plan.js';
import { factsOfName, noteProblems, readStructured, type RuleFor } from './read-structured.js';
import { LANGUAGE } from './scripts/languages.js';
import { takeScriptFacts } from './scripts/script-facts.js';

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
    const script = LANGUAGE[found.rule.language].read(text);
    noteProblems(facts, text, lines, script.problems);
    facts.script = takeScriptFacts(script, text, plan, found.rule, lines);
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    noteProblems(facts, text, lines, [{ message: 'nested too deeply to be read', start: 0, end: text.length }]);
  }
  return facts;
}
