import { GlueError, partOf, piecesNamed, toDot, toGraphml } from '@glue-trace/core';
import { scanFolder, writeWhole } from '@glue-trace/server';
import { give } from './terminal.js';

export interface MapFlags {
  plan?: string;
  format: 'graphml' | 'dot';
  around?: string;
  steps: number;
  out?: string;
}

/** Writes the map for other programs, whole or what lies around a piece. */
export async function mapCommand(dir: string, flags: MapFlags): Promise<void> {
  const { analysis } = await scanFolder({ folder: dir, planFile: flags.plan, learns: true });
  const { graph } = analysis.linked;
  const part = partOf(
    graph,
    flags.around === undefined ? undefined : { pieces: meant(graph, flags.around), steps: flags.steps },
  );
  const text = [...(flags.format === 'dot' ? toDot(graph, part) : toGraphml(graph, part))].join('');
  if (flags.out === undefined) await give(text);
  else writeWhole(flags.out, text);
}

/** The pieces that a key or a name means. @throws GlueError `piece/unknown` */
function meant(graph: Parameters<typeof piecesNamed>[0], name: string): number[] {
  const found = piecesNamed(graph, name);
  if (found.length > 0) return found;
  throw new GlueError(
    'piece/unknown',
    `Nothing on the map is called “${name}”. Give a name, a path, an identity or a key such as script:scripts/gate.ts.`,
  );
}
