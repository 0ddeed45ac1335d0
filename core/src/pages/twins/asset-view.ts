/** How prefabs, data assets and tables that are almost the same are shown. */
import { itemAt } from '../../helpers/at.js';
import type { Linked } from '../../linking/linked.js';
import { nameOf } from '../../model/graph.js';
import { baseName } from '../../reading/source.js';
import type { AssetTwins } from '../../twins/assets.js';
import type { RepeatedTable } from '../../twins/tables.js';
import type { TwinView } from './twin-view.js';

export function assetView({ facts, world, graph }: Linked, { kind, sources, differing }: AssetTwins): TwinView {
  const isPrefab = kind === 'prefab';
  const own = (copy: number): string =>
    differing.map(({ name, texts }) => `${name} = ${itemAt(texts, copy)}`).join(', ');
  const first = itemAt(sources, 0);
  return {
    kind,
    likeness: differing.length === 0 ? 'the same but for their names' : 'the same with other values',
    risk: differing.length === 0 ? 'the same' : 'values differ',
    parting: '',
    saves: 0,
    places: sources.map((source, copy) => {
      const { file, name, range, pieces } = itemAt(facts, source);
      const { line } = pieces[0]?.range ?? range;
      const stays = differing.length === 0 ? 'goes out; whoever uses it takes the other.' : `says only ${own(copy)}.`;
      const change = copy === 0 ? 'Stays as it is.' : isPrefab ? prefabChange(own(copy)) : `It ${stays}`;
      return {
        name,
        file,
        line,
        endLine: Math.max(line, ...differing.map(({ lines }) => itemAt(lines, copy))),
        piece: itemAt(world.files.piece, source),
        change,
      };
    }),
    differences: differing.map(({ texts, lines }) => ({
      what: 'value',
      lines,
      before: lines.map(() => 0),
      words: texts,
      parting: '',
    })),
    fields: differing.map(({ name, texts }) => ({ name, words: texts })),
    home: {
      words: isPrefab ? 'variants of one prefab' : 'one data asset that the others are like',
      change: `${nameOf(graph, itemAt(world.files.piece, first))} is what they have in common.`,
    },
  };
}

function prefabChange(own: string): string {
  return own ? `Is made from the first, and saves ${own} over it.` : 'Goes out; whoever uses it takes the first.';
}

export function tableView({ facts, world }: Linked, { source, asset, table, differing }: RepeatedTable): TwinView {
  const [script, data] = [itemAt(facts, source), itemAt(facts, asset)];
  const piece = itemAt(world.files.piece, source);
  return {
    kind: 'table',
    likeness: 'a table in code that repeats a data asset',
    risk: differing.length > 0 ? 'drifted apart' : 'the same',
    parting: '',
    saves: 0,
    places: [
      {
        name: baseName(script.file),
        file: script.file,
        line: table.range.line,
        endLine: table.range.endLine,
        piece,
        change: `The table goes out; the code reads ${data.file}.`,
      },
      {
        name: data.name,
        file: data.file,
        line: differing[0]?.record.range.line ?? data.range.line,
        endLine: differing.at(-1)?.record.range.endLine ?? data.range.endLine,
        piece: itemAt(world.files.piece, asset),
        change: differing.length > 0 ? 'Stays, once it is decided which number is right.' : 'Stays as it is.',
      },
    ],
    differences: differing.map(({ key, number, line, record, says }) => ({
      what: 'value',
      lines: [line, record.range.line],
      before: [0, 0],
      words: [`${key}: ${number}`, `${key}: ${says}`],
      parting: '',
    })),
    fields: [],
    home: { words: `the data asset: ${data.name}`, change: '' },
  };
}
