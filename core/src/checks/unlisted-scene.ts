import { cellAt, entryOf, itemAt } from '../helpers/at.js';
import { grouped } from '../helpers/grouped.js';
import { sentence } from '../model/finding.js';
import { kindOf, nameOf, rangeOf, titleOf } from '../model/graph.js';
import { VERBS } from '../model/link.js';
import type { Change } from '../repairs/change.js';
import { pathWritten } from '../linking/paths.js';
import { isRead } from '../linking/world/unread.js';
import type { Linked, RoleReference } from '../linking/linked.js';
import { candidatesFor } from '../repairs/candidates.js';
import { byLinkPlace, sameKey, titled, type Check, type Draft } from './check.js';

/** Scenes that play needs and the build does not have, or the other way round. */
export const unlistedScene: Check = {
  id: 'broken/unlisted-scene',
  title: 'A scene is missing from the build list, or the list is wrong',
  severity: 'error',
  why: 'It works where all files lie at hand, and fails in the build: the scene cannot be entered, or play begins elsewhere.',
  decides:
    'Works where the plan says which list is the build list and what names the start scene. Fires when a scene is loaded that is not listed, when a listed scene does not exist, when the start scene is not set, not listed, or – a warning – not the one that the house means. Silent on scenes that nothing loads, and where there is no list.',
  run: (linked) => [...notListed(linked), ...listedMissing(linked), ...startScene(linked)],
};

/** The rules of the plan that read a list, with the file rule they belong to. */
function rulesOf({ plan }: Linked, role: RoleReference['role']): { file: string; reference: string }[] {
  return Object.entries(plan.files).flatMap(([file, rule]) =>
    Object.entries(rule.references)
      .filter(([, one]) => one.role === role)
      .map(([reference]) => ({ file, reference })),
  );
}

function notListed(linked: Linked): Draft[] {
  const { graph, roles } = linked;
  const list = roles.filter(({ role }) => role === 'build list');
  if (list.length === 0 || !list.every(({ file }) => isFileRead(linked, file))) return [];
  const listed = new Set(list.map(({ piece }) => piece));
  const isRole = new Set(roles.map(({ file, range }) => `${file} ${range.line} ${range.column}`));
  const loads = VERBS.indexOf('loads');
  const found: { link: number; scene: number }[] = [];
  for (let link = 0; link < graph.linkCount; link++) {
    const scene = cellAt(graph.links.to, link);
    if (cellAt(graph.links.verb, link) !== loads || scene < 0 || listed.has(scene) || kindOf(graph, scene) !== 'scene')
      continue;
    const file = itemAt(graph.texts, cellAt(graph.links.file, link));
    if (!isRole.has(`${file} ${cellAt(graph.links.line, link)} ${cellAt(graph.links.column, link)}`))
      found.push({ link, scene });
  }
  // In which order files were linked must not show.
  found.sort((a, b) => byLinkPlace(graph, a.link, b.link));
  return grouped(found, ({ scene }) => String(scene)).map((links) => {
    const [{ link, scene }] = links;
    const from = cellAt(graph.links.from, link);
    return {
      sentence: [
        titled(graph, from),
        ' loads ',
        titled(graph, scene),
        ...sentence`, which is not in the build list ${itemAt(list, 0).file}`,
        ...(links.length > 1 ? [` (and ${links.length - 1} more load it)`] : []),
      ],
      sure: 'The scene is named in full, and all entries of the list were read.',
      pieces: [from, scene],
      evidence: [
        {
          file: itemAt(graph.texts, cellAt(graph.links.file, link)),
          range: rangeOf(graph.links, link),
          shows: 'where it is loaded',
        },
        { file: itemAt(list, 0).file, range: itemAt(list, 0).range, shows: 'the build list' },
      ],
      walk: [],
      places: links.length,
      repairs: [
        ...addToList(linked, scene, itemAt(list, 0)),
        { title: 'List the scene', words: 'Add it to the build list, or load one that is listed.' },
      ],
      sameBy: [sameKey(graph, scene)],
    };
  });
}

function isFileRead({ world }: Linked, file: string): boolean {
  const source = world.files.sourceOf.get(file);
  return source === undefined || isRead(world, source);
}

function addToList(linked: Linked, scene: number, entry: RoleReference): Draft['repairs'] {
  const { graph, plan, world } = linked;
  const rule = itemAt(rulesOf(linked, 'build list'), 0);
  const form = entryOf(entryOf(plan.files, rule.file).references, rule.reference);
  const path = itemAt(graph.texts, cellAt(graph.pieces.file, scene));
  const to =
    form.by === 'path'
      ? pathWritten(world, form, path, entry.text, entry.file)
      : form.by === 'id'
        ? itemAt(graph.texts, cellAt(graph.pieces.id, scene))
        : nameOf(graph, scene);
  const list = /^(.*)\[\*\]$/.exec(form.at)?.[1];
  if (!to || list === undefined || form.pattern !== undefined) return [];
  const change: Change = { is: 'add item', file: entry.file, list, to };
  return [
    { title: `List ${titleOf(graph, scene)}`, words: `“${to}” goes to the end of ${entry.file}.`, changes: [change] },
  ];
}

function listedMissing(linked: Linked): Draft[] {
  const { graph } = linked;
  return linked.lostReferences
    .filter(({ role }) => role !== undefined)
    .map((lost) => {
      const { file, range, from, role, loss } = lost;
      const what = role === 'start scene' ? 'start scene' : 'build list';
      const isEntry = role === 'build list';
      return {
        sentence: [...sentence`The ${what} names ${loss.wanted}, and there is no such scene`],
        sure: 'The name is written out in full, and all scenes of the project are known.',
        pieces: [from],
        evidence: [{ file, range, shows: `the ${what}` }],
        walk: [],
        places: 1,
        repairs: [
          ...candidatesFor(linked, lost).map(({ text, reason, sure }) => ({
            title: `Write “${text}”`,
            words: reason,
            ...(sure && { sure: true as const }),
            changes: [{ is: 'replace' as const, file, range, from: loss.wanted, to: text }],
          })),
          isEntry
            ? {
                title: 'Take it out of the list',
                words: 'The scene is gone; nothing can be built from it.',
                changes: [{ is: 'remove' as const, file, range }],
              }
            : { title: 'Name another scene', words: 'Name the scene that play is to begin with.' },
        ],
        sameBy: [sameKey(graph, from), loss.wanted],
        cause: [loss.wanted],
      };
    });
}

/** Play begins in a scene that the build has not. */
function startNotListed(linked: Linked, start: RoleReference): Draft[] {
  const { graph, roles } = linked;
  const list = roles.filter(({ role }) => role === 'build list');
  const [first] = list;
  if (start.piece < 0 || !first || !list.every(({ file }) => isFileRead(linked, file))) return [];
  if (list.some(({ piece }) => piece === start.piece)) return [];
  return [
    {
      sentence: [
        'Play begins with ',
        titled(graph, start.piece),
        ...sentence`, which is not in the build list ${first.file}`,
      ],
      sure: 'The start scene is named in full, and all entries of the list were read.',
      pieces: [start.piece],
      evidence: [
        { file: start.file, range: start.range, shows: 'the start scene' },
        { file: first.file, range: first.range, shows: 'the build list' },
      ],
      walk: [],
      places: 1,
      repairs: [
        ...addToList(linked, start.piece, first),
        { title: 'List the scene', words: 'Add it to the build list, or begin with one that is listed.' },
      ],
      sameBy: ['start', sameKey(graph, start.piece)],
    },
  ];
}

function startScene(linked: Linked): Draft[] {
  const { graph, plan, roles, world, facts } = linked;
  const rules = rulesOf(linked, 'start scene');
  if (rules.length === 0) return [];
  const starts = roles.filter(({ role }) => role === 'start scene');
  const [start] = starts;
  if (!start) {
    const source = facts.findIndex((fact) => fact.rule === itemAt(rules, 0).file);
    if (source < 0 || !isRead(world, source)) return [];
    const { file, range } = itemAt(facts, source);
    return [
      {
        sentence: sentence`${{ name: file, piece: itemAt(world.files.piece, source) }} does not say which scene play begins with`,
        sure: 'The plan says where the start scene is named, and nothing stands there.',
        pieces: [itemAt(world.files.piece, source)],
        evidence: [{ file, range, shows: 'the file that names it' }],
        walk: [],
        places: 1,
        repairs: [{ title: 'Name the start scene', words: 'Name the scene that play is to begin with.' }],
        sameBy: ['start'],
      },
    ];
  }
  const unlisted = startNotListed(linked, start);
  const meant = plan.house.startScene;
  if (start.piece < 0 || meant === undefined) return unlisted;
  const named = [
    itemAt(graph.texts, cellAt(graph.pieces.id, start.piece)),
    nameOf(graph, start.piece),
    itemAt(graph.texts, cellAt(graph.pieces.file, start.piece)),
  ];
  if (named.includes(meant)) return unlisted;
  const source = world.files.sourceOf.get(meant);
  const scene =
    source === undefined
      ? [...(world.names.byId.get(meant) ?? []), ...(world.names.byName.get(meant) ?? [])].find(
          (piece) => kindOf(graph, piece) === 'scene',
        )
      : itemAt(world.files.piece, source);
  const form = entryOf(entryOf(plan.files, itemAt(rules, 0).file).references, itemAt(rules, 0).reference);
  const to =
    scene === undefined
      ? undefined
      : form.by === 'path'
        ? pathWritten(world, form, itemAt(graph.texts, cellAt(graph.pieces.file, scene)), start.text, start.file)
        : meant;
  return [
    ...unlisted,
    {
      severity: 'warning',
      sentence: [
        'Play begins with ',
        titled(graph, start.piece),
        ...sentence`; the house means it to begin with ${scene === undefined ? { name: meant } : titled(graph, scene)}`,
      ],
      sure: 'Both are written out: the one in the project, the other in the plan.',
      pieces: [start.piece],
      evidence: [{ file: start.file, range: start.range, shows: 'the start scene' }],
      walk: [],
      places: 1,
      repairs: [
        ...(to
          ? [
              {
                title: `Begin with ${meant}`,
                words: 'It is the scene that the plan names.',
                changes: [{ is: 'replace' as const, file: start.file, range: start.range, from: start.text, to }],
              },
            ]
          : []),
        { title: 'Decide which is right', words: 'Change the start scene, or house.startScene in the plan.' },
      ],
      sameBy: ['start', meant],
    },
  ];
}
