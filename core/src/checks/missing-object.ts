import { itemAt } from '../helpers/at.js';
import { sentence, type Sentence } from '../model/finding.js';
import type { Loss } from '../model/link.js';
import { titleOf } from '../model/graph.js';
import { isDeclaredKind, lookUpRepairs, replacements } from '../repairs/candidates.js';
import type { Linked, LostReference } from '../linking/linked.js';
import type { Within } from '../reading/plan/plan.js';
import { named, placeOf, sameKey, steps, titled, type Check, type Draft } from './check.js';
import { lookUpDraft, lostLookUps, subject, type LostLookUp } from './look-up-drafts.js';

/** A look-up or a written reference finds no object. */
export const missingObject: Check = {
  id: 'broken/missing-object',
  title: 'An object that is looked for is not there',
  severity: 'error',
  why: 'The script goes on without the object it was written for: it stops with a fault or silently does nothing.',
  decides:
    'Every look-up is walked through the real tree from every object that carries the script. Silent when the object is there, when only capitals differ (broken/case-only), when the name is made at run time or may be spawned, when the place in the tree is not known before play, and when the code asks before use.',
  run: (linked) => [
    ...lostLookUps(linked, isMissing).map((lost) => fromLookUp(linked, lost)),
    ...linked.lostReferences
      .filter(({ loss, role }) => isMissing(loss) && role === undefined)
      .map((reference) => fromReference(linked, reference)),
  ],
};

const isMissing = (loss: Loss): boolean => loss.sought === 'object' && !loss.otherCapitals && !isDeclaredKind(loss);

function fromLookUp(linked: Linked, lost: LostLookUp): Draft {
  const { loss, places } = lost;
  const { graph } = linked;
  const ups = itemAt(places, 0).walk.filter((step) => step.asks === 'one step up').length;
  return lookUpDraft(linked, lost, {
    sentence: [...subject(linked, lost), ...whatIsMissing(linked, loss, ups)],
    sure: 'Every step and the name are fixed in the code, nothing the project spawns has this name, and all that stands there is known.',
    repairs: lookUpRepairs(linked, lost.lookUp, itemAt(places, 0)).concat(
      loss.wanted === 'one step up'
        ? [
            {
              title: 'Take fewer steps up',
              words: `${titleOf(graph, itemAt(places, 0).object)} stands higher in its scene than the code expects: take out one step, or move the object.`,
            },
          ]
        : loss.lastObject < 0 && !linked.world.names.byName.has(loss.wanted)
          ? [
              {
                title: 'Put it there, or look for another',
                words: `Nothing in the project is called ${loss.wanted}: put such an object into the scene, or look for one that is there.`,
              },
            ]
          : [
              {
                title: 'Fill a slot instead',
                words:
                  'Give the script an exposed field for the object that is meant and fill it: an identity survives renames and moves.',
              },
            ],
    ),
  });
}

function whatIsMissing({ graph }: Linked, loss: Loss, ups: number): Sentence {
  if (loss.wanted === 'one step up') return [' steps up once more than its tree goes: nothing stands above it'];
  const up = ups === 0 ? '' : `, ${steps(ups)} up`;
  if (loss.lastObject < 0) return sentence` looks for an object named ${loss.wanted}; its scene has none`;
  return [
    ...sentence` looks for a child called ${loss.wanted}`,
    `${up}; `,
    named(graph, loss.lastObject),
    ' has no such child',
  ];
}

function fromReference(linked: Linked, lost: Linked['lostReferences'][number]): Draft {
  const { graph } = linked;
  const { file, range, from, verb, field, loss } = lost;
  const isChange = verb === 'overrides';
  return {
    sentence: [
      titled(graph, from),
      ...(isChange ? sentence` changes ${loss.wanted}` : sentence` refers to ${loss.wanted}`),
      ...(field && field !== loss.wanted ? sentence` in ${field}` : []),
      ...(isChange
        ? [' inside its prefab, which holds nothing of that name']
        : loss.lastObject >= 0
          ? sentence`; ${titled(graph, loss.lastObject)} has no such child`
          : ['; ', ...nothingThere(lost)]),
    ],
    sure: isChange
      ? 'The prefab and all that it is made from were unfolded, and the name was looked for in the whole of it.'
      : `The reference is written out in full in the file, and everything the plan lets it mean was looked through.${elsewhere(loss)}`,
    pieces: [from],
    evidence: [
      { file, range, shows: isChange ? 'the change' : 'the reference' },
      ...placeOf(graph, from, 'what holds it'),
    ],
    walk: [],
    places: 1,
    repairs: (isChange ? [] : replacements(linked, lost)).concat(
      isChange
        ? [
            {
              title: 'Change what is there now',
              words: 'Name the object as the prefab names it now, or take the change out: it does nothing.',
            },
          ]
        : [
            {
              title: 'Point it somewhere else',
              words: 'Fill in something that exists, or empty the reference if it may be empty.',
            },
          ],
    ),
    sameBy: [sameKey(graph, from), field, loss.wanted],
    cause: [loss.wanted],
  };
}

/** Where nothing of the name is: as far as the plan lets the reference look. */
const SEEN: Record<Within, string> = {
  file: 'its file has nothing',
  together: 'its file and what is loaded together with it have nothing',
  package: 'its package has nothing',
  needed: 'its package and those that it needs have nothing',
  project: 'the project has nothing',
};

function nothingThere({ form }: LostReference): Sentence {
  const where = SEEN[form?.within ?? 'project'];
  const spaces = form?.space ?? [];
  return spaces.length === 0
    ? [`${where} of that name or identity`]
    : [
        `${where} of that name or identity among `,
        ...spaces.flatMap((name, at) => [...(at > 0 ? [' and '] : []), { name }]),
      ];
}

/** What has the name, but cannot be meant. */
function elsewhere({ elsewhere: files }: Loss): string {
  return files.length > 0 ? ` What is called so in ${files.join(' and ')} cannot be meant.` : '';
}
