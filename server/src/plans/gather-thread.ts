/** A thread that gathers what the scripts of a folder say, while another one reads its data. */
import { parentPort, workerData } from 'node:worker_threads';
import { gather, LANGUAGES, must, type ScriptFile } from '@glue-trace/core';
import { textAt } from '../files/read-text.js';
import { prepareLanguages } from '../scan/read-one.js';

/** A script with its position among all files. */
export interface ScriptToGather {
  at: number;
  path: string;
  size: number;
}

export interface GatherData {
  folder: string;
  files: ScriptToGather[];
}

const { folder, files } = workerData as GatherData;

await prepareLanguages(new Set(LANGUAGES));
const texts = function* (): Generator<ScriptFile> {
  for (const { at, path } of files) yield { at, path, text: textAt(folder, path) };
};
must(parentPort).postMessage(gather(texts()));
