import { scriptRuleOf } from '../reading/plan/content.js';
import { cellAt, itemAt, must } from '../helpers/at.js';
import { once } from '../helpers/once.js';
import { sentence } from '../model/finding.js';
import { groupOf, kindOf } from '../model/graph.js';
import { VERBS } from '../model/link.js';
import { isMatch } from '../reading/match.js';
import type { PlaceRule } from '../reading/plan/plan.js';
import { attaching, mayBeUnread } from '../linking/world/unread.js';
import { topOf, type WorldType } from '../linking/world/world.js';
import type { Linked } from '../linking/linked.js';
import { sameKey, titled, type Check, type Draft } from './check.js';

/** A script is kept where its kind does not run, or nothing runs it. */
export const wrongPlace: Check = {
  id: 'broken/wrong-place',
  title: 'A script is kept where it never runs',
  severity: 'error',
  why: 'Its code looks as if it did something, and in play it does nothing.',
  decides:
    'Where scripts of a kind may stand, and which scenes and prefabs may carry them, is a rule of the house in the plan. A script that descends from what other objects carry, with functions that the engine would call, and that nothing attaches, extends, takes in or mentions, is worth a note. Silent when it stands in one of the places, when code attaches it, and when a text names its file or type.',
  run: (linked) =>
    linked.facts.flatMap((fact, source) => {
      if (!fact.script) return [];
      const rules = linked.plan.house.places.filter((rule) => isMatch(fact.file, rule.scripts));
      const wrong = rules.flatMap((rule) => fromRule(linked, source, rule));
      return wrong.length > 0 ? wrong : unattached(linked, source);
    }),
};

function fromRule(linked: Linked, source: number, rule: PlaceRule): Draft[] {
  const { facts, world, graph } = linked;
  const { file, range } = itemAt(facts, source);
  const piece = itemAt(world.files.piece, source);
  const because = rule.because ? ` (${rule.because})` : '';
  const common = { walk: [], sure: 'Where this kind of script runs is a rule of the house in the plan.' };
  const drafts: Draft[] = [];
  if (rule.in.length > 0 && !isMatch(file, rule.in)) {
    drafts.push({
      ...common,
      sentence: [
        { name: file, piece },
        ...sentence` is kept where its kind does not run; it belongs in ${rule.in.join(' or ')}`,
        because,
      ].filter((run) => run !== ''),
      pieces: [piece],
      evidence: [{ file, range, shows: 'the script' }],
      places: 1,
      repairs: [
        {
          title: 'Move the script',
          words: `Move it to ${rule.in.join(' or ')}, and correct the paths that lead to it.`,
        },
      ],
      sameBy: [file, 'in'],
    });
  }
  if (rule.carriedBy.length === 0) return drafts;
  for (const { file: carrier, range: at, object } of carriersOf(linked, source)) {
    if (isMatch(carrier, rule.carriedBy)) continue;
    drafts.push({
      ...common,
      sentence: [
        titled(graph, object),
        ' carries ',
        { name: file, piece },
        ', whose kind does not run there',
        because,
      ].filter((run) => run !== ''),
      pieces: [object, piece],
      evidence: [{ file: carrier, range: at, shows: 'the script as it is attached' }],
      places: 1,
      repairs: [
        {
          title: 'Attach it elsewhere',
          words: `Only objects in ${rule.carriedBy.join(' or ')} run this kind of script.`,
        },
      ],
      sameBy: [file, sameKey(graph, object)],
      cause: [file, 'carried'],
    });
  }
  return drafts;
}

function* carriersOf(
  { world, graph }: Linked,
  source: number,
): Generator<{ file: string; range: Draft['evidence'][0]['range']; object: number }> {
  for (const part of world.trees.partByPiece.values()) {
    if (part.type?.source !== source || cellAt(graph.pieces.origin, part.piece) >= 0) continue;
    yield {
      file: itemAt(graph.texts, cellAt(graph.pieces.file, topOf(world, part.object))),
      range: part.fact.range,
      object: part.object,
    };
  }
}

const USING = new Set(
  ['runs', 'extends', 'imports', 'uses', 'calls', 'reads', 'writes', 'loads', 'carries', 'spawns'].map((verb) =>
    VERBS.indexOf(verb as 'runs'),
  ),
);

/** A script that the engine would call, if anything ran it. */
function unattached(linked: Linked, source: number): Draft[] {
  const { world, graph, facts, plan, mentions } = linked;
  const { file, name, script } = itemAt(facts, source);
  const types = (world.types.inFile.get(source) ?? []).filter(
    (type) => itemAt(must(script).types, type.local).kind === 'class',
  );
  const isCalled = must(script).functions.some(
    (code) => code.type >= 0 && ['start', 'every frame', 'leave'].includes(code.moment),
  );
  const { house } = plan;
  if (
    house.unattached === 'fine' ||
    !isCalled ||
    types.length === 0 ||
    scriptRuleOf(plan, itemAt(facts, source)).belongsTo
  )
    return [];
  if (!types.some((type) => behaviourRoots(linked).has(rootOf(type)))) return [];
  const own = [itemAt(world.files.piece, source), ...types.map((type) => type.piece)];
  const isUsed = own.some((piece) => isUsedElsewhere(linked, piece, own));
  const names = [file, name, ...types.map((type) => type.name)];
  if (isUsed || names.some((text) => mentions.has(text) || mayBeUnread(world, text, attaching))) return [];
  const type = itemAt(types, 0);
  return [
    {
      severity: 'note',
      sentence: [
        { name: type.name, piece: type.piece },
        ' is attached to nothing: no object carries it, and no script extends it or takes it in',
      ],
      sure: 'All scenes and prefabs were read, and no text in a script names the type or its file.',
      pieces: [type.piece],
      evidence: [{ file, range: itemAt(must(script).types, type.local).range, shows: 'the script' }],
      walk: [],
      places: 1,
      repairs: [
        {
          title: 'Attach it or take it out',
          words: 'Attach it to what it was written for, or delete it if it is left over.',
        },
      ],
      sameBy: [file, type.name],
      cause: [kindOf(graph, type.piece), file],
    },
  ];
}

function isUsedElsewhere({ graph }: Linked, piece: number, own: number[]): boolean {
  for (const link of groupOf(graph.incoming, piece))
    if (USING.has(cellAt(graph.links.verb, link)) && !own.includes(cellAt(graph.links.from, link))) return true;
  return false;
}

/** The uppermost types of all that objects carry: what descends from another one is not meant to be attached. */
const behaviourRoots = once(
  ({ world: { types } }: Linked) =>
    new Set(types.all.filter(({ name }) => types.carried.has(name)).map((type) => rootOf(type))),
);

/** The uppermost parent as written, or an empty text for a type without parents. */
function rootOf(type: WorldType): string {
  const last = type.ancestors.at(-1) ?? type;
  return itemAt(last.script.types, last.local).parents[0] ?? '';
}
