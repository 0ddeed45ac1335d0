/** The thread of a project's scans: reads, links and checks, saves the result, and hands the map back. */
import { parentPort, workerData } from 'node:worker_threads';
import {
  familiesOf,
  familyOf,
  GlueError,
  nameOf,
  pieceByKey,
  pieceName,
  twinPage,
  twinTasks,
  viewFinding,
  type Graph,
  type Linked,
  type KeyedTwins,
} from '@glue-trace/core';
import type { TwinGroupView } from '../api.js';
import { openStore } from '../store/store.js';
import { openSession } from './scan-folder.js';
import type { Answer, FromWorker, Question, ToWorker, WorkerData } from './messages.js';

const { projectId, folder, planFile, storePath } = workerData as WorkerData;

const send = (message: FromWorker, transfer: ArrayBuffer[] = []): void => parentPort!.postMessage(message, transfer);

const store = openStore(storePath);
const cache = store.factsCache(projectId);
const session = openSession({ folder, planFile, cache });

/** What the last scan linked. */
let linked: Linked | undefined;

parentPort!.on('message', (wanted: ToWorker | Question | 'close') => {
  if (wanted !== 'close' && 'is' in wanted) send({ is: 'answer', id: wanted.id, answer: answerTo(wanted) });
  else if (wanted === 'close') {
    store.close();
    parentPort!.close();
  } else void run(wanted);
});

async function run({ scanId, isOwnAccord }: ToWorker): Promise<void> {
  try {
    const result = await session.scan((progress) => send({ is: 'progress', progress }));
    if (isOwnAccord && store.dropWhenUnchanged(scanId, result.files)) return send({ is: 'unchanged' });
    const { linked: own, findings, readiness } = result.analysis;
    linked = own;
    send({ is: 'progress', progress: { phase: 'saving', done: 0, total: 0 } });
    cache.save();
    store.finishScan(scanId, {
      milliseconds: result.milliseconds,
      reused: result.reused,
      readiness,
      rules: [...own.rules].map(([rule, count]) => ({ rule, ...count })),
      findings: findings.map((finding) => viewFinding(own.graph, finding)),
      files: result.files,
    });
    // The session goes on with its own map: what is handed over is a copy.
    const graph = copyOf(own.graph);
    send({ is: 'done', name: result.plan.name, graph, losses: own.losses }, buffersOf(graph));
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

function answerTo({ piece: key, at, story, view, twins: wanted, name }: Question): Answer | null {
  if (linked && view === 'families') return { ...NOTHING, families: familiesOf(linked).map(named) };
  if (linked && view === 'twin tasks') return { ...NOTHING, tasks: twinTasks(name ?? '', linked) };
  if (linked && view === 'twins') {
    const { groups, opened, ...page } = twinPage(linked, wanted!);
    return { ...NOTHING, twins: { ...page, groups: groups.map(keyed), ...(opened && { opened: keyed(opened) }) } };
  }
  const piece = linked && pieceByKey(linked.graph, key);
  if (!linked || piece === undefined) return null;
  const { graph } = linked;
  if (view === 'family') {
    const family = familyOf(linked, piece);
    return family
      ? { ...NOTHING, family: { ...named(family), columns: family.columns, rows: family.rows.map(named) } }
      : null;
  }
  if (story) {
    const keyOf = (end: number): string | undefined => (end < 0 ? undefined : pieceName(graph, end).key);
    const told = linked.storyOf(nameOf(graph, piece), story);
    const lines = told.map(({ piece: who, whatPiece, ...line }) => ({
      ...line,
      key: keyOf(who),
      whatKey: keyOf(whatPiece),
    }));
    return { values: [], walk: [], story: lines };
  }
  if (!at) {
    const values = linked.valuesOf(piece).map((one) => ({ ...one, part: pieceName(graph, one.part) }));
    return { values, walk: [], story: [] };
  }
  const walk = linked.walkAt(piece, at.file, at).map(({ asks, finds, piece: end, grip }) => ({
    asks,
    finds,
    grip,
    ...(end >= 0 && { key: pieceName(graph, end).key }),
  }));
  return { values: [], walk, story: [] };
}

const NOTHING: Answer = { values: [], walk: [], story: [] };

/** A group of twins with the keys of its pieces in the place of their numbers. */
function keyed({ places, ...group }: KeyedTwins): TwinGroupView {
  return {
    ...group,
    places: places.map(({ piece, ...place }) => ({
      ...place,
      ...(piece >= 0 && { key: pieceName(linked!.graph, piece).key }),
    })),
  };
}

/** With the key of its piece in the place of its number. */
function named<T extends { piece: number }>({ piece, ...rest }: T): Omit<T, 'piece'> & { key: string; title: string } {
  const { key, title } = pieceName(linked!.graph, piece);
  return { ...rest, key, title };
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
