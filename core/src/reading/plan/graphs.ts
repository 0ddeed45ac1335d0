/** Behaviour graphs: what their steps mean is written by kind, and unfolded into rules for events and references. */
import type { Condition, EventRule, FileRule, GraphRule, Plan, ReferenceRule, StepMeaning } from './plan.js';

/** Adds to each file rule what its graphs come to; gives the mistakes found, by key. */
export function unfoldGraphs(plan: Plan): { key: string[]; message: string }[] {
  const mistakes: { key: string[]; message: string }[] = [];
  for (const [fileName, file] of Object.entries(plan.files)) {
    for (const [name, graph] of Object.entries(file.graphs)) {
      const key = ['files', fileName, 'graphs', name];
      const steps = file.pieces[graph.steps];
      if (!steps) {
        mistakes.push({
          key: [...key, 'steps'],
          message: `there is no piece rule “${graph.steps}” in files.${fileName}.`,
        });
        continue;
      }
      if (graph.variables !== undefined && !file.pieces[graph.variables]) {
        mistakes.push({
          key: [...key, 'variables'],
          message: `there is no piece rule “${graph.variables}” in files.${fileName}.`,
        });
      }
      for (const [kind, meaning] of Object.entries(graph.means)) {
        const problem = unfold(file, name, graph, steps.at, kind, meaning);
        if (problem) mistakes.push({ key: [...key, 'means', kind, 'field'], message: problem });
      }
    }
  }
  return mistakes;
}

function unfold(
  file: FileRule,
  name: string,
  graph: GraphRule,
  at: string,
  kind: string,
  meaning: StepMeaning,
): string | undefined {
  const when: Condition = { field: graph.kind, is: [kind] };
  const ruleName = `${name}: ${kind}`;
  if (isEvent(meaning)) {
    const { verb, event, handler, scope, moment, side } = meaning;
    const self = { text: '' };
    const ends: Partial<EventRule> = verb === 'sends' ? { from: self } : { to: self, handler };
    file.events[ruleName] = { at, when, event, by: 'id', scope, moment, side, ...ends };
    return undefined;
  }
  const { field, ...target } = meaning;
  if (!field.select?.startsWith('$')) return 'must be a selector here.';
  const reference: ReferenceRule = {
    ...target,
    at: at + field.select.slice(1),
    pattern: target.pattern ?? field.pattern,
    when,
    written: 'value',
    every: false,
  };
  file.references[ruleName] = reference;
  return undefined;
}

function isEvent(meaning: StepMeaning): meaning is StepMeaning & { verb: 'sends' | 'listens to' } {
  return meaning.verb === 'sends' || meaning.verb === 'listens to';
}
