import type { FileFacts } from '../reading/facts.js';
import { createGlueFactsReader } from '../reading/glue-facts/read-glue-facts.js';
import { factsOfName } from '../reading/read-structured.js';
import { planOf } from './project.js';

/** The facts of a glue facts file with this text. */
export function readGlueFactsFrom(text: string): FileFacts {
  const plan = planOf({ files: { facts: { match: '*', as: 'glue facts' } } });
  const reader = createGlueFactsReader(
    factsOfName('a.facts.ndjson', { of: 'files', name: 'facts', rule: plan.files['facts'] }),
  );
  for (const line of text.split('\n')) reader.line(line);
  return reader.end();
}
