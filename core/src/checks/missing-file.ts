import { cellAt, itemAt, knownIn } from '../helpers/at.js';
import { sentence } from '../model/finding.js';
import { kindOf, nameOf, type Graph } from '../model/graph.js';
import { grouped, type Some } from '../helpers/grouped.js';
import type { Linked, LostReference } from '../linking/linked.js';
import { normal, otherEnding, pathWritten } from '../linking/paths.js';
import { folderOf } from '../reading/source.js';
import { replacements } from '../repairs/candidates.js';
import type { Change } from '../repairs/change.js';
import { rewritten } from '../repairs/where-written.js';
import { MOST_PLACES } from './one-row.js';
import { placeOf, sameKey, titled, type Check, type Draft } from './check.js';

/** A reference names a file that does not exist. */
export const missingFile: Check = {
  id: 'broken/missing-file',
  title: 'A file that is named does not exist',
  severity: 'error',
  why: 'What should be loaded is not there: the object stays without its script, its picture or its data.',
  decides:
    'The written path is tried from every folder the plan allows and with every ending. Where several files of one rule are missing and all of them stand below another folder, that is one finding: they were moved, or the plan does not say that paths may begin there – a warning, when the beginning of the paths is no folder. Silent when one of them exists, when only capitals differ (broken/case-only), when the path leads through a file or a link, which nobody looks into, when the engine provides the file, and when the code asks before use.',
  run: (linked) => {
    const { graph } = linked;
    const all = linked.lostReferences.filter(
      ({ loss, role }) => loss.sought === 'file' && !loss.otherCapitals && role === undefined,
    );
    const together = standingTogether(all);
    const known = new Set(together.flatMap((moved) => moved.map(({ lost }) => lost)));
    const single = all
      .filter((lost) => !known.has(lost))
      .map((lost) => {
        const { file, range, from, field, loss } = lost;
        const found = replacements(linked, lost);
        const moved = loss.elsewhere[0];
        const other = otherEnding(linked.world, loss.wanted)[0];
        const instead = moved ?? other;
        return {
          sentence: [
            // A part without its script is named by nothing but the path, so its object speaks for it.
            ...sentence`${titled(graph, isNamedBy(graph, from, loss.wanted) ? cellAt(graph.pieces.parent, from) : from)} names the file ${loss.wanted}`,
            ...(field && field !== loss.wanted ? sentence` in ${field}` : []),
            ...(instead ? sentence`; it does not exist, but ${instead} does` : ['; it does not exist']),
          ],
          sure: 'The path is written out in full, and the project has no file there in any folder the plan names.',
          pieces: [from],
          evidence: [{ file, range, shows: 'the path as written' }],
          walk: [],
          places: 1,
          repairs: [
            ...found,
            ...(other && !moved ? [ENDING] : []),
            {
              title: 'Restore or remove',
              words: `Bring the file back at “${loss.wanted}”, or take the reference out.`,
            },
          ],
          sameBy: [sameKey(graph, from), field, loss.wanted],
          cause: [loss.wanted],
        };
      })
      .map((draft) => ({
        ...draft,
        evidence: [...draft.evidence, ...placeOf(graph, itemAt(draft.pieces, 0), 'what holds it')].slice(0, 2),
      }));
    return [...single, ...together.map((moved) => togetherDraft(linked, moved))];
  },
};

const ENDING = {
  title: 'Say which endings are tried',
  words:
    'If the engine takes the file with another ending, the plan can say so: a pattern that cuts the ending off, and the endings that are tried.',
};

/** A file of the name that is missing, in another folder. */
interface Moved {
  lost: LostReference;
  path: string;
  /** The folder, or `.` for that of the file that names it. */
  folder: string;
  /** What the written path begins with in place of the folder. */
  begins: string;
}

/** So many files must stand in the other folder. */
const LEAST_TOGETHER = 4;

/** Files that are not where paths of one rule lead, and that all stand below one other folder. */
function standingTogether(all: readonly LostReference[]): Some<Moved>[] {
  const forms = new Map<LostReference['form'], number>();
  const formOf = ({ form }: LostReference): number => {
    if (!forms.has(form)) forms.set(form, forms.size);
    return knownIn(forms, form);
  };
  const named = (some: readonly Moved[]): number => new Set(some.map(({ lost }) => lost.loss.wanted)).size;
  const taken = new Set<LostReference>();
  return grouped(all.flatMap(movedTo), ({ lost, begins, folder }) => `${formOf(lost)} ${begins}\n${folder}`)
    .sort((a, b) => named(b) - named(a))
    .flatMap((same) => {
      const [first, ...more] = same.filter(({ lost }) => !taken.has(lost));
      if (!first || named([first, ...more]) < LEAST_TOGETHER) return [];
      for (const { lost } of [first, ...more]) taken.add(lost);
      return [[first, ...more]];
    });
}

/** Where a file of that name stands, with as much of the written path as leads to it there. */
function movedTo(lost: LostReference): Moved[] {
  const { loss, file } = lost;
  const own = folderOf(file);
  const steps = loss.wanted.replace(/\\/g, '/').split('/');
  const places = loss.elsewhere.map((path) => {
    const there = path.split('/');
    let same = 0;
    while (same < Math.min(steps.length, there.length) && steps.at(-1 - same) === there.at(-1 - same)) same++;
    return { path, there, same };
  });
  const most = Math.max(1, ...places.map(({ same }) => same));
  return places
    .filter(({ same }) => same === most)
    .map(({ path, there, same }): Moved => {
      const begins = steps.slice(0, steps.length - same).join('/');
      const folder = there.slice(0, there.length - same).join('/');
      return {
        lost,
        path,
        folder: folder === own ? '.' : folder,
        // What begins at the own folder is another folder in each file.
        begins: begins.startsWith('.') ? (normal(`${own}/${begins}`) ?? begins) : begins,
      };
    });
}

/** Marks that a folder's name hardly has: what such a beginning stands for, only the engine knows. */
const STRANGE = /[$%{}<>:@~*]/;

function togetherDraft(linked: Linked, moved: Some<Moved>): Draft {
  const [{ begins, folder }] = moved;
  const count = new Set(moved.map(({ lost }) => lost.loss.wanted)).size;
  const inOrder = [...moved].sort(({ lost: a }, { lost: b }) =>
    a.file !== b.file ? (a.file < b.file ? -1 : 1) : a.range.line - b.range.line,
  );
  const changes = inOrder.flatMap(({ path, lost: { loss, form, file, range, isJoined } }): Change[] => {
    const to = form && pathWritten(linked.world, form, path, loss.wanted, file);
    return to === undefined || isJoined ? [] : [rewritten(linked, file, range, loss.wanted, to)];
  });
  const where =
    folder === '.' ? ['in the folder of what names them'] : folder ? sentence`in ${folder}` : ['at the top'];
  return {
    severity: STRANGE.test(begins) ? 'warning' : undefined,
    sentence: [
      ...(begins === ''
        ? [`${count} files are not where the paths that name them lead`]
        : sentence`${count} files are named below ${begins}, and none is there`),
      '; all of them stand ',
      ...where,
    ],
    sure: 'Each path is written out in full and leads to no file in any folder that the plan names, and in the other folder there is one for each.',
    pieces: [...new Set(inOrder.map(({ lost }) => lost.from))].slice(0, MOST_PLACES),
    evidence: inOrder
      .slice(0, MOST_PLACES)
      .map(({ lost: { file, range, loss } }) => ({ file, range, shows: `names ${loss.wanted}` })),
    files: [...new Set(inOrder.map(({ lost }) => lost.file))],
    walk: [],
    places: moved.length,
    repairs: [
      {
        title: 'Say where the paths begin',
        words: `If the engine looks in that folder by itself, the plan does not say so yet: name it among the roots of the rule${begins === '' ? '' : `, or say what “${begins}” stands for (schemes)`}.`,
      },
      ...(changes.length === moved.length
        ? [
            {
              title: 'Write the paths anew',
              words: 'If the files were moved, this leads each path to where its file stands now.',
              changes,
            },
          ]
        : []),
    ],
    sameBy: ['together', begins, folder],
  };
}

function isNamedBy(graph: Graph, piece: number, path: string): boolean {
  return kindOf(graph, piece) === 'part' && nameOf(graph, piece) === path;
}
