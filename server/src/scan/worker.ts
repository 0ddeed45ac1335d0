/** The thread of a project's scans: reads, links and checks, saves the result, and hands the map back. */
import { EventEmitter, once } from 'node:events';
import { parentPort, workerData } from 'node:worker_threads';
import {
  compareTrial,
  GlueError,
  mapChange,
  must,
  repairsChosen,
  viewFinding,
  type Graph,
  type MapChange,
  type Linked,
  type PlanTrial,
} from '@glue-trace/core';
import { openStore } from '../store/store.js';
import type { RepairTrial, SureRepairs } from '../api.js';
import { findingsAt } from '../git/revision.js';
import { lastTouched } from '../git/touched.js';
import { learnAgain } from '../plans/learn-again.js';
import { parsePlan, planPath } from '../plans/plan-files.js';
import type {
  AskedQuestion,
  FromWorker,
  MapAnswers,
  MapQuestion,
  Outcome,
  QuestionOf,
  ScanOrder,
  ToWorker,
  WorkerData,
} from './messages.js';
import { mapOfScan } from './kept-map.js';
import { answerTo } from './questions.js';
import { triedRepairs } from '../repairs/try-repairs.js';
import { openSession, type ScanResult } from './scan-folder.js';

if (!parentPort) throw new Error('this file runs as a thread');
const port = parentPort;
const { projectId, folder, planFile, storePath } = workerData as WorkerData;

const send = (message: FromWorker, transfer: ArrayBuffer[] = []): void => port.postMessage(message, transfer);

const store = openStore(storePath);
const cache = store.factsCache(projectId);
const session = openSession({ folder, planFile, learns: true, cache });

/** Texts and losses that are handed over at a time: what takes some milliseconds. */
const [TEXTS, LOSSES] = [20_000, 1000];
/** Tells when the server's thread has taken over what it was sent. */
const takenOver = new EventEmitter();

/** What the last scan came to. */
let last: ScanResult | undefined;
/** The number that it was saved under. */
let lastScan = 0;
/** Until its map is handed over, nothing may be linked. */
let handedOver = Promise.resolve();

port.on('message', (message: ToWorker) => {
  switch (message.is) {
    case 'scan':
      return void run(message);
    case 'question':
      return void answer(message);
    case 'more':
      return void takenOver.emit('more');
    case 'close':
      store.close();
      return port.close();
  }
});

async function run({ scanId, isOwnAccord, readsAll }: ScanOrder): Promise<void> {
  try {
    const result = await session.scan((progress) => send({ is: 'progress', progress }), readsAll, !isOwnAccord);
    const { linked: own, findings, readiness } = result.analysis;
    const isDecidedSo = last !== undefined && decisionsOf(last) === decisionsOf(result);
    // Until it is saved, it is nobody's map.
    [last, lastScan] = [result, 0];
    const before = isOwnAccord ? store.dropWhenUnchanged(scanId, result.files) : undefined;
    lastScan = before ?? scanId;
    if (before !== undefined)
      return send(
        !isDecidedSo && keepDecisions(before, result) ? { is: 'decided', scanId: before } : { is: 'unchanged' },
      );
    send({ is: 'progress', progress: { phase: 'saving', done: 0, total: 0 } });
    cache.save();
    store.finishScan(scanId, {
      milliseconds: result.milliseconds,
      reused: result.reused,
      readiness,
      rules: [...own.rules].map(([rule, count]) => ({ rule, ...count })),
      findings: findings.map((finding) => viewFinding(own.graph, finding)),
      files: result.files,
      idleWaivers: result.idleWaivers,
      plan: result.plan,
      planHash: result.planHash,
    });
    await (handedOver = handOver(own));
    send({ is: 'done', name: result.plan.name });
  } catch (error) {
    if (error instanceof GlueError)
      send({ is: 'failed', code: error.code, detail: error.detail, mistakes: error.mistakes });
    else
      send({
        is: 'failed',
        code: 'fault/ours',
        detail: inFull(error),
        mistakes: [],
      });
  }
}

/** What people decided, in a few letters: whether it is the same as before is asked at each save of a file. */
function decisionsOf({ analysis, idleWaivers }: ScanResult): string {
  const decided = analysis.findings.flatMap(({ fingerprint, waived, waiverEnded }) =>
    waived || waiverEnded ? [[fingerprint, waived, waiverEnded]] : [],
  );
  return JSON.stringify([decided, idleWaivers]);
}

/** Keeps what people decided with a scan that was saved before; says whether anything is new. */
function keepDecisions(scanId: number, { analysis, idleWaivers }: ScanResult): boolean {
  const { linked, findings, readiness } = analysis;
  return store.decideScan(scanId, {
    readiness,
    findings: findings.map((finding) => viewFinding(linked.graph, finding)),
    idleWaivers,
  });
}

/** Takes over what stands in the project's waivers by now. */
function decideAgain(result: ScanResult): number {
  last = session.decide(result);
  const scan = store.lastDoneScan(projectId);
  if (scan) keepDecisions(scan.id, last);
  return last.analysis.readiness.waived;
}

/** Hands a map over bit by bit. The session goes on with its own: what is handed over is a copy. */
async function handOver({ graph: own, losses }: Linked): Promise<void> {
  const graph = copyOf({ ...own, texts: [] });
  const taken = (): Promise<unknown> => once(takenOver, 'more');
  let next = taken();
  send({ is: 'map', graph }, buffersOf(graph));
  const lost = [...losses];
  for (let text = 0, loss = 0; text < own.texts.length || loss < lost.length; text += TEXTS, loss += LOSSES) {
    await next;
    next = taken();
    send({ is: 'part', texts: own.texts.slice(text, text + TEXTS), losses: lost.slice(loss, loss + LOSSES) });
  }
  await next;
}

/** A fault in a question is told, not lost: whoever asked hears of it, and so does the log. */
async function answer({ id, question }: AskedQuestion): Promise<void> {
  send({ is: 'outcome', id, outcome: await outcomeOf(question) });
}

async function outcomeOf(question: MapQuestion): Promise<Outcome> {
  if (!last) return { is: 'no map' };
  try {
    return { is: 'answered', answer: await told(last, question) };
  } catch (error) {
    if (error instanceof GlueError) return { is: 'refused', code: error.code, detail: error.detail };
    return { is: 'fault', detail: inFull(error) };
  }
}

type Answer = MapAnswers[MapQuestion['ask']];

/** Only trials take their time; all else is answered from the map as it is now. */
function told(result: ScanResult, question: MapQuestion): Answer | Promise<Answer> {
  switch (question.ask) {
    case 'trial':
      return trialOf(question.finding);
    case 'sure repairs':
      return sureRepairs(question.findings);
    case 'plan trial':
      return planTrial(question.text, question.rule);
    case 'decisions':
      return decideAgain(result);
    case 'touched':
      return lastTouched(folder, question.places);
    case 'revision':
      return revisionOf(question, result);
    case 'map change':
      return mapChangeOf(question, result);
    case 'learned':
      return result.learned;
    case 'learn again':
      return handedOver.then(() => learnAgain(folder, planFile, session, must(last)));
    default:
      return answerTo(result.analysis.linked, question);
  }
}

/** @throws GlueError `revision/unknown` */
async function revisionOf(
  { revision, to }: QuestionOf<'revision'>,
  result: ScanResult,
): Promise<MapAnswers['revision']> {
  const { findings, graph } = await findingsAt(folder, revision, result.plan);
  const now = mapOf(to, result);
  return { findings, change: now && mapChange(now, graph) };
}

function mapChangeOf({ from, to }: QuestionOf<'map change'>, result: ScanResult): MapChange | undefined {
  const [then, now] = [mapOf(from, result), mapOf(to, result)];
  return then && now && mapChange(now, then);
}

/** The map of a kept scan: that of one that is no longer the last is made anew. */
function mapOf(id: number, { analysis }: ScanResult): Graph | undefined {
  if (id === lastScan) return analysis.linked.graph;
  const scan = store.doneScan(projectId, id);
  return scan && mapOfScan(store, scan);
}

/** @throws GlueError `plan/not-json`, `plan/invalid` */
async function planTrial(text: string, rule: string | undefined): Promise<PlanTrial> {
  await handedOver;
  const tried = await session.tryPlan(parsePlan(text, planPath(folder, planFile)));
  return compareTrial(must(last).analysis, tried, rule);
}

/** What comes of the sure repairs of a finding; none when another scan found it gone meanwhile. */
async function trialOf(fingerprint: string): Promise<RepairTrial[]> {
  await handedOver;
  const result = last;
  const finding = result?.analysis.findings.find((one) => one.fingerprint === fingerprint);
  const trials: RepairTrial[] = [];
  for (const [repair, { changes, sure, mends }] of finding?.repairs.entries() ?? []) {
    if (!result || !finding || !changes || !sure) continue;
    const [tried] = await triedRepairs(folder, result, [{ finding, changes, mends }]);
    trials.push({ repair, reason: tried?.reason });
  }
  // What a newer scan linked while languages were made ready is linked again.
  if (last && last !== result) last.analysis = last.again(last.facts);
  return trials;
}

async function sureRepairs(fingerprints: readonly string[]): Promise<SureRepairs> {
  await handedOver;
  const result = last;
  const wanted = new Set(fingerprints);
  const found: SureRepairs = { findings: [], left: [], unsure: 0, without: 0 };
  if (!result) return found;
  const asked = result.analysis.findings.flatMap((finding) => {
    if (!wanted.has(finding.fingerprint)) return [];
    const taken = repairsChosen(finding, 1, false);
    if (taken.length === 0) found[finding.repairs.some(({ changes }) => changes) ? 'unsure' : 'without']++;
    return taken;
  });
  for (const { repair, reason } of await triedRepairs(folder, result, asked)) {
    const { finding, at, name } = repair;
    if (reason === undefined) found.findings.push({ fingerprint: finding.fingerprint, repair: at });
    else found.left.push({ name, reason: `tried in memory: ${reason}` });
  }
  if (last && last !== result) last.analysis = last.again(last.facts);
  return found;
}

function inFull(error: unknown): string {
  return error instanceof Error ? (error.stack ?? error.message) : String(error);
}

function copyOf(graph: Graph): Graph {
  const copy = <T extends object>(columns: T): T =>
    Object.fromEntries(Object.entries(columns).map(([name, column]) => [name, (column as Int32Array).slice()])) as T;
  return {
    ...graph,
    pieces: copy(graph.pieces),
    links: copy(graph.links),
    outgoing: copy(graph.outgoing),
    incoming: copy(graph.incoming),
    children: copy(graph.children),
  };
}

/** The arrays of a map, to be handed over without copying. */
function buffersOf(graph: Graph): ArrayBuffer[] {
  const { pieces, links, outgoing, incoming, children } = graph;
  const arrays = [pieces, links, outgoing, incoming, children].flatMap((columns) =>
    Object.values<Int32Array>({ ...columns }),
  );
  // They were copied here, so that nobody else shares them.
  return [...new Set(arrays.map((array) => array.buffer as ArrayBuffer))];
}
