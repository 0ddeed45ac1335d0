/** Plans for open standards, written in the same language as everybody's. */
import { GLTF_PLAN } from './gltf.js';
import { X3D_PLAN } from './x3d.js';

/** Texts of plans by the name under which `extends` knows them. */
export const BUILT_IN_PLANS: Record<string, string> = { x3d: X3D_PLAN, gltf: GLTF_PLAN };

/** Which built-in plans fit a folder that has no plan of its own, by the endings of its files. */
const BY_ENDING: Record<string, string> = { '.x3d': 'x3d', '.gltf': 'gltf' };

/**
 * A plan for a folder without one, when its files are of a standard that needs none.
 * @returns the text of a plan, or undefined when none of the files is of such a standard
 */
export function planForStandards(name: string, paths: string[]): string | undefined {
  const found = Object.entries(BY_ENDING).filter(([ending]) =>
    paths.some((path) => path.toLowerCase().endsWith(ending)),
  );
  if (found.length === 0) return undefined;
  return JSON.stringify({ version: 1, name, extends: found.map(([, plan]) => plan) }, null, 2) + '\n';
}
