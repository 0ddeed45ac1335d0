import { GlueError } from '@glue-trace/core';
import Joi from 'joi';
import type { Aside } from '../aside/aside.js';
import type { FolderGate } from '../folders.js';
import type { PlayStore } from '../play/play-store.js';
import { valid } from '../problems.js';
import type { OpenMap, Scans } from '../scan/scans.js';
import type { Watches } from '../scan/watch.js';
import type { ProjectRow, ScanRow, Store } from '../store/store.js';

/** What the routes work with. */
export interface Context {
  store: Store;
  scans: Scans;
  watches: Watches;
  gate: FolderGate;
  aside: Aside;
  play: PlayStore;
  version: string;
}

const projectParams = Joi.object<{ project: number }>({ project: Joi.number().integer().positive().required() });

/** The project named in an address. @throws GlueError `project/unknown` */
export function projectOf({ store }: Context, params: unknown): ProjectRow {
  const { project: id } = valid(projectParams.unknown(), params);
  const project = store.project(id);
  if (!project)
    throw new GlueError(
      'project/unknown',
      `Project ${id} was not opened here, or was forgotten. Open its folder again.`,
    );
  return project;
}

/** The last finished scan. @throws GlueError `scan/none` */
export function doneScanOf({ store }: Context, project: ProjectRow): ScanRow {
  const scan = store.lastDoneScan(project.id);
  if (!scan) throw new GlueError('scan/none', 'No scan of this project has finished yet. Scan it first.');
  return scan;
}

/** The map of the last scan; after a restart of the server the project is scanned anew for it. @throws GlueError `scan/none` */
export async function mapOf({ scans }: Context, project: ProjectRow): Promise<OpenMap> {
  if (!scans.mapOf(project.id)) {
    await scans.start(project);
    await scans.settled(project.id);
  }
  const map = scans.mapOf(project.id);
  if (!map) throw new GlueError('scan/none', 'The project cannot be scanned as it is. See Projects for the reason.');
  return map;
}
