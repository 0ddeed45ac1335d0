/** How copied code is shown. */
import { itemAt, must } from '../../helpers/at.js';
import type { Linked } from '../../linking/linked.js';
import { nameOf } from '../../model/graph.js';
import { dated } from '../../model/history.js';
import type { Parting } from '../../twins/drift.js';
import { isPart, LIKENESS_WORDS, type Home, type Twins } from '../../twins/twins.js';
import type { TwinView } from './twin-view.js';

export function codeView(linked: Linked, twins: Twins): TwinView {
  const { likeness, saves, drift, places, differences, home, parting } = twins;
  const fields = fieldsFor(twins);
  const values = (copy: number): string => fields.map(({ name, words }) => `${name} = ${words[copy]}`).join(', ');
  const isInherited = home.is === 'the parent' || home.is === 'a new parent';
  return {
    kind: 'code',
    likeness: `${isPart(twins) ? 'parts are ' : ''}the same ${LIKENESS_WORDS[likeness]}`,
    risk: parting
      ? 'changed in one'
      : drift
        ? 'drifted apart'
        : differences.some(({ what }) => what === 'value')
          ? 'values differ'
          : 'the same',
    parting: parting ? `${partingWords(twins, parting)}.` : '',
    saves,
    places: places.map((place, copy) => {
      const { name, file, line, endLine, type } = place;
      const sets = values(copy);
      const lines = line === endLine ? `Line ${line} becomes` : `Lines ${line} to ${endLine} become`;
      const change =
        isInherited && place.share === 1
          ? `The function goes out${sets && `; ${type?.name ?? 'the script'} sets ${sets}`}.`
          : `${lines} one call${sets && ` with ${sets}`}.`;
      return { name, file, line, endLine, piece: type?.piece ?? -1, change };
    }),
    differences: differences.map(({ what, lines, before, words, parting: own }) => ({
      what,
      lines,
      before,
      words,
      parting: own ? partingWords(twins, own) : '',
    })),
    fields,
    home: { words: homeWords(home), change: homeChange(linked, twins, fields) },
  };
}

function partingWords({ places }: Twins, { copy, by }: Parting): string {
  return `${itemAt(places, copy).name} was changed ${dated(by)}, and ${places.length === 2 ? 'the other' : 'others'} not`;
}

const HOMES: Record<Home['is'], string> = {
  'the same type': 'one function of the type, called from both places',
  'the parent': 'the parent that they have',
  'a new parent': 'a new parent between them and theirs',
  'a shared script': 'a script that all of them take in',
};

function homeWords({ is, type }: Home): string {
  return type ? `${HOMES[is]}: ${type.name}` : HOMES[is];
}

function homeChange(
  { facts, graph }: Linked,
  { places, differences, home }: Twins,
  fields: TwinView['fields'],
): string {
  const apart = differences.filter(({ what }) => what === 'statement').length;
  const decide =
    apart > 0
      ? ` Decide first which is right at the ${apart === 1 ? 'statement' : `${apart} statements`} that not all have.`
      : '';
  const names = fields.map(({ name }) => name).join(', ');
  const code = must(itemAt(places, 0).name.split('.').pop());
  const first = itemAt(places, 0);
  switch (home.is) {
    case 'the parent':
      return `${must(home.type).name} in ${itemAt(facts, must(home.type).source).file} gets ${code}${names && ` and the ${fields.length === 1 ? 'field' : 'fields'} ${names}`}.${decide}`;
    case 'a new parent':
      return `A new type takes ${code}${names && ` and the ${fields.length === 1 ? 'field' : 'fields'} ${names}`}; ${typeNames(places)} descend from it.${decide}`;
    case 'the same type':
      return `${first.type ? nameOf(graph, first.type.piece) : first.file} gets one function for it${names && `, which takes ${names}`}.${decide}`;
    case 'a shared script':
      return `It gets one function for it${names && `, which takes ${names}`}.${decide}`;
  }
}

function typeNames(places: Twins['places']): string {
  const names = [...new Set(places.flatMap(({ type }) => type?.name ?? []))];
  return names.length > 4 ? `${names.slice(0, 3).join(', ')} and ${names.length - 3} more` : names.join(', ');
}

/** A field for each value that differs, named after the function and the name that the value stands with. */
function fieldsFor({ places, differences }: Twins): TwinView['fields'] {
  const [, code = ''] = /([\w$]+)\(\)$/.exec(itemAt(places, 0).name) ?? [];
  const stem = code.replace(/^on_?(?=[A-Z_a-z])(?=[A-Z]|.*_)/, '');
  const taken = new Map<string, number>();
  return differences.flatMap(({ what, near, words }) => {
    if (what !== 'value') return [];
    const isSnake = code.includes('_') || near.includes('_');
    const name = fieldName(stem, near || 'value', isSnake);
    const count = (taken.get(name) ?? 0) + 1;
    taken.set(name, count);
    return [{ name: count === 1 ? name : `${name}${count}`, words }];
  });
}

function fieldName(stem: string, near: string, isSnake: boolean): string {
  if (!stem || stem.toLowerCase() === near.toLowerCase()) return near;
  if (isSnake) return `${stem}_${near}`.toLowerCase();
  return itemAt(stem, 0).toLowerCase() + stem.slice(1) + itemAt(near, 0).toUpperCase() + near.slice(1);
}
