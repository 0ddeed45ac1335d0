import { basename, join } from 'node:path';
import { GlueError, itemAt, repairsChosen, type ChosenRepair } from '@glue-trace/core';
import {
  openStore,
  patchOf,
  planRepair,
  realFolder,
  recoverRepairs,
  scanFolder,
  STORE_NAME,
  triedRepairs,
  undoRepair,
  writeWhole,
  writeRepair,
  type PlannedRepair,
  type ScanResult,
} from '@glue-trace/server';
import { give, remark, tell } from './terminal.js';

export interface RepairFlags {
  plan?: string;
  check?: string[];
  finding?: string[];
  choose: number;
  unsure?: boolean;
  write?: boolean;
  undo?: boolean;
  out?: string;
  data: string;
}

/** Shows, or writes, the likeliest repair of every finding that is asked for; or takes the last one back. */
export async function repairCommand(dir: string, flags: RepairFlags): Promise<void> {
  if (flags.undo) return undoLast(realFolder(dir), flags);
  const result = await scanFolder({ folder: dir, planFile: flags.plan });
  const { asked, unsure } = askedOf(result, flags);
  const tried = await triedRepairs(dir, result, asked);
  for (const { repair, reason } of tried)
    if (reason !== undefined) remark(`glue: left out: ${repair.name}: tried, and ${reason}`);
  const wanted = tried.flatMap(({ repair, reason }) => (reason === undefined ? [repair] : []));
  if (unsure > 0)
    remark(
      `glue: ${unsure} ${unsure === 1 ? 'finding has a repair' : 'findings have repairs'} that somebody has to look at: --unsure takes them in.`,
    );
  if (wanted.length === 0) {
    remark('glue: none of these findings has a repair that is sure.');
    return;
  }
  const hashes = new Map(result.files.map(({ path, hash }) => [path, hash]));
  const planned = await planRepair(dir, result.plan, wanted, (file) => hashes.get(file));
  for (const { name, reason } of planned.left) remark(`glue: left out: ${name}: ${reason}`);
  if (flags.write) return write(realFolder(dir), flags, result, planned);
  const patch = patchOf(planned);
  if (flags.out === undefined) await give(patch);
  else writeWhole(flags.out, patch);
  remark(`glue: ${told(planned)}; nothing was written. Add --write to write it.`);
}

/** The repairs that are asked for, and how many findings have only such as somebody has to look at. */
function askedOf(
  { analysis }: ScanResult,
  { check, finding, choose, unsure: takesUnsure = false }: RepairFlags,
): { asked: ChosenRepair[]; unsure: number } {
  const { findings } = analysis;
  for (const fingerprint of finding ?? []) {
    if (!findings.some((one) => one.fingerprint === fingerprint))
      throw new GlueError(
        'finding/unknown',
        `The project has no finding ${fingerprint}. “glue scan --format json” lists them.`,
      );
  }
  const some = findings.filter(
    (one) => (!check || check.includes(one.check)) && (!finding || finding.includes(one.fingerprint)),
  );
  const asked = some.flatMap((one) => repairsChosen(one, choose, takesUnsure));
  const unsure = takesUnsure
    ? 0
    : some.filter(({ repairs }) => repairs.some(({ changes }) => changes) && !repairs.some(({ sure }) => sure)).length;
  return { asked, unsure };
}

function write(folder: string, { data, plan }: RepairFlags, { plan: read }: ScanResult, planned: PlannedRepair): void {
  const store = openStore(join(data, STORE_NAME));
  try {
    const known = store.projects().find((one) => one.folder === folder);
    const project = known ?? store.addProject(folder, read.name || basename(folder), plan ?? null);
    for (const half of recoverRepairs(store, project.id, folder))
      remark(`glue: a repair that was stopped in the middle was put right: ${half}`);
    const title = planned.taken.length === 1 ? itemAt(planned.taken, 0) : `${planned.taken.length} repairs`;
    writeRepair(store, project.id, folder, title, planned);
    void tell(`Wrote ${told(planned)}. “glue repair ${folder} --undo” takes it back.\n`);
  } finally {
    store.close();
  }
}

function undoLast(folder: string, { data }: RepairFlags): void {
  const store = openStore(join(data, STORE_NAME));
  try {
    const project = store.projects().find((one) => one.folder === folder);
    if (project) recoverRepairs(store, project.id, folder);
    const last = project && store.repairs(project.id).find((repair) => repair.undoneAt === null);
    if (!project || !last) throw new GlueError('repair/unknown', `No repair of ${folder} is left to take back.`);
    undoRepair(store, project.id, folder, last.id);
    void tell(`Took back: ${last.title} (${last.files.map(({ file }) => file).join(', ')}).\n`);
  } finally {
    store.close();
  }
}

function told({ taken, files }: PlannedRepair): string {
  const count = (number: number, word: string): string => `${number} ${word}${number === 1 ? '' : 's'}`;
  return `${count(taken.length, 'repair')} in ${count(files.length, 'file')}`;
}
