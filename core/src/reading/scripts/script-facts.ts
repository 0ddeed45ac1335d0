import type { ScriptFacts, Value } from '../facts.js';
import type { Lines } from '../lines.js';
import type { Plan, ScriptRule } from '../plan/plan.js';
import { finish } from './facts/afterwards.js';
import { evaluate } from './facts/expressions.js';
import { addFunction, momentOf } from './facts/functions.js';
import type { Scope } from './facts/scope.js';
import { walk } from './facts/statements.js';
import { createFlow, MOST_WALKS, saysMore, type Flow } from './facts/flow.js';
import { createTaking, operationIn, type Taking } from './facts/taking.js';
import { addConstants, addTypes } from './facts/types.js';
import type { ScriptSyntax } from './syntax.js';

/**
 * Takes facts from a script: follows values through local variables and fields by walking each function once,
 * branch by branch, joining what branches leave behind, and notes every call that the call table gives a meaning.
 * The passes stand in `facts/`, over one state (`facts/taking.ts`).
 */
export function takeScriptFacts(
  script: ScriptSyntax,
  text: string,
  plan: Plan,
  rule: ScriptRule,
  lines: Lines,
): ScriptFacts {
  let known = createFlow();
  for (let walk = 1; ; walk++) {
    const taking = takeOnce(script, text, plan, rule, lines, known);
    // What flows matters to calls that the plan knows.
    const { operations } = taking.facts;
    if (walk === MOST_WALKS || operations.length === 0 || !saysMore(taking.flow, known, script)) return taking.facts;
    known = { ...taking.flow, operations, functions: taking.facts.functions };
  }
}

/** Walks all of the code, with what the walk before found to flow between its functions. */
function takeOnce(script: ScriptSyntax, text: string, plan: Plan, rule: ScriptRule, lines: Lines, known: Flow): Taking {
  const taking = createTaking(script, text, plan, rule, lines, known, { evaluate, addFunction });
  const file: Scope = new Map();
  walk(taking, script.body, file);
  taking.here.gates = [];
  addConstants(taking, file);
  // What the code looks up when the file is loaded is not yet there; texts are, and files taken in.
  const given: Scope = new Map([...file].filter(([, value]) => value.is === 'text' || isTakenIn(taking, value)));
  for (const code of script.functions) addFunction(taking, code, given, momentOf(rule, code.name));
  addTypes(taking, new Map([...file].filter(([, value]) => isTakenIn(taking, value))));
  finish(taking, [...file.keys()]);
  return taking;
}

/** A file that the code takes in for later use: what it gives stands for the file. */
function isTakenIn(taking: Taking, value: Value): boolean {
  const operation = operationIn(taking, value);
  return operation !== undefined && taking.plan.calls[operation.rule]?.means === 'use file';
}
