/** The thread of a project's scans: reads, links and checks, saves the result, and hands the map back. */
import { parentPort, workerData } from 'node:worker_threads';
import { GlueError, viewFinding, type Graph } from '@glue-trace/core';
import { openStore } from '../store/store.js';
import { openSession } from './scan-folder.js';
import type { FromWorker, ToWorker, WorkerData } from './messages.js';

const { projectId, folder, planFile, storePath } = workerData as WorkerData;

const send = (message: FromWorker, transfer: ArrayBuffer[] = []): void => parentPort!.postMessage(message, transfer);

const store = openStore(storePath);
const cache = store.factsCache(projectId);
const session = openSession({ folder, planFile, cache });

parentPort!.on('message', (wanted: ToWorker | 'close') => {
  if (wanted === 'close') {
    store.close();
    parentPort!.close();
  } else void run(wanted);
});

async function run({ scanId, isOwnAccord }: ToWorker): Promise<void> {
  try {
    const result = await session.scan((progress) => send({ is: 'progress', progress }));
    if (isOwnAccord && store.dropWhenUnchanged(scanId, result.files)) return send({ is: 'unchanged' });
    const { linked, findings, readiness } = result.analysis;
    send({ is: 'progress', progress: { phase: 'saving', done: 0, total: 0 } });
    cache.save();
    store.finishScan(scanId, {
      milliseconds: result.milliseconds,
      reused: result.reused,
      readiness,
      rules: [...linked.rules].map(([rule, count]) => ({ rule, ...count })),
      findings: findings.map((finding) => viewFinding(linked.graph, finding)),
      files: result.files,
    });
    // The session goes on with its own map: what is handed over is a copy.
    const graph = copyOf(linked.graph);
    send({ is: 'done', name: result.plan.name, graph, losses: linked.losses }, buffersOf(graph));
  } catch (error) {
    if (error instanceof GlueError)
      send({ is: 'failed', code: error.code, detail: error.detail, mistakes: error.mistakes });
    else
      send({
        is: 'failed',
        code: 'fault/ours',
        detail: error instanceof Error ? (error.stack ?? error.message) : String(error),
        mistakes: [],
      });
  }
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
  const arrays = [
    ...Object.values(graph.pieces),
    ...Object.values(graph.links),
    ...[graph.outgoing, graph.incoming, graph.children].flatMap((group) => [group.starts, group.items]),
  ] as Int32Array[];
  return [...new Set(arrays.map((array) => array.buffer as ArrayBuffer))];
}
