/** A thread that reads files for a scan: it gets paths, and gives back what they hold as JSON. */
import { parentPort, workerData } from 'node:worker_threads';
import { languagesOf, packFacts, ruleFor, type Plan, itemAt, must } from '@glue-trace/core';
import { prepareLanguages, readOne, type FileEntry } from './read-one.js';

export interface ReadThreadData {
  folder: string;
  plan: Plan;
}

/** What it gives back for each file: facts as the store keeps them; none when the content is the same. */
export interface ReadAnswer {
  entry: FileEntry;
  packed: string | undefined;
}

const { folder, plan } = workerData as ReadThreadData;

/** Batches are answered in the order in which they came, though some wait for a grammar. */
let last = Promise.resolve();
must(parentPort).on('message', (batch: FileEntry[]) => (last = last.then(() => read(batch))));

async function read(batch: FileEntry[]): Promise<void> {
  const rules = batch.map(({ path }) => must(ruleFor(plan, path)));
  await prepareLanguages(rules.flatMap((rule) => languagesOf(plan, rule)));
  const answers: ReadAnswer[] = batch.map((found, at) => {
    const { entry, fact } = readOne(folder, plan, itemAt(rules, at), found);
    return { entry, packed: fact && packFacts(fact) };
  });
  must(parentPort).postMessage(answers);
}
