import { sentence } from '../model/finding.js';
import type { BodyFact } from '../reading/facts.js';
import { BETWEEN } from '../reading/facts.js';
import { isMatch } from '../reading/match.js';
import type { Linked } from '../linking/linked.js';
import type { WorldType } from '../linking/world.js';
import { isValue, shapeOf, wholeOf } from '../twins/search.js';
import { grouped, type Check } from './check.js';

/** What a function must come to, in tokens, to be a rule. */
const LEAST_WEIGHT = 12;

/** Brothers declare the same handler. */
export const siblingRule: Check = {
  id: 'twin/sibling-rule',
  title: 'Brothers hold the same rule',
  severity: 'note',
  why: 'The rule belongs to what they have in common; the next brother will be forgotten, and the next change will miss one.',
  decides:
    'Fires where two or more types with one parent type of the project declare a function of the same name that is the same but for its values and for names that stand for one another. Silent on functions of less than two statements or a dozen tokens, on those that call the parent’s, on scripts for which copies are fine (house.copiesFine), and where one of them differs in a statement.',
  restsOn: 'scripts',
  run: (linked) =>
    grouped(rulesOf(linked), ({ parent, holders }) =>
      [parent.index, ...holders.map(({ type }) => type.index)].join(),
    ).map((rules) => {
      const { world } = linked;
      const [{ parent, name, holders }] = rules;
      const types = holders.map(({ type }) => type);
      const differs = rules.flatMap((rule) => rule.differs);
      const [first] = types;
      return {
        sentence: [
          ...types
            .slice(0, 3)
            .flatMap((type, at) => [
              ...(at > 0 ? [at === types.length - 1 ? ' and ' : ', '] : []),
              { name: type.name, piece: type.piece },
            ]),
          types.length > 3 ? ` and ${types.length - 3} more` : '',
          ...sentence` hold the same ${rules.length === 1 ? 'rule' : `${rules.length} rules`} ${`${name}()`}`,
          rules.length > 1 ? ' and so on' : '',
          ...sentence`, below ${{ name: parent.name, piece: parent.piece }}`,
          differs.length > 0
            ? `; ${differs.length === 1 ? 'one value differs' : `${differs.length} values differ`}`
            : '',
        ].filter((run) => run !== ''),
        sure: 'All tokens were compared; what differs are values and the names that stand for one another.',
        pieces: [...types.map(({ piece }) => piece), parent.piece],
        evidence: holders.slice(0, 6).map(({ type, range }) => ({
          file: world.facts[type.source].file,
          range,
          shows: `${type.name}.${name}()`,
        })),
        walk: [],
        places: types.length,
        repairs: [
          {
            title: `Move ${rules.length === 1 ? 'it' : 'them'} into ${parent.name}`,
            words:
              differs.length > 0
                ? `Write ${rules.length === 1 ? 'the rule' : 'the rules'} there once, and give each child a field for what differs: ${differs.slice(0, 4).join('; ')}.`
                : `Write ${rules.length === 1 ? 'the rule' : 'the rules'} there once; ${first.name} and its brothers inherit ${rules.length === 1 ? 'it' : 'them'}.`,
          },
        ],
        sameBy: [parent.name, ...types.map((type) => type.name).sort()],
      };
    }),
};

interface Holder {
  type: WorldType;
  body: BodyFact;
  range: Linked['facts'][number]['range'];
}

interface Rule {
  parent: WorldType;
  name: string;
  holders: Holder[];
  /** Values that are not the same in all. */
  differs: string[];
}

function rulesOf(linked: Linked): Rule[] {
  const children = new Map<WorldType, WorldType[]>();
  for (const type of linked.world.types) {
    const [parent] = type.ancestors;
    const known = parent && children.get(parent);
    if (known) known.push(type);
    else if (parent) children.set(parent, [type]);
  }
  return [...children].flatMap(([parent, types]) => {
    const known = held.get(parent);
    if (known?.scripts.length === types.length && types.every(({ script }, at) => script === known.scripts[at]))
      return known.rules;
    const rules = types.length < 2 ? [] : rulesBelow(linked, parent, types);
    held.set(parent, { scripts: types.map(({ script }) => script), rules });
    return rules;
  });
}

/** What the children of each parent held last, and the scripts that said so: most edits touch none of them. */
const held = new WeakMap<WorldType, { scripts: WorldType['script'][]; rules: Rule[] }>();

function rulesBelow({ world, plan }: Linked, parent: WorldType, types: readonly WorldType[]): Rule[] {
  const byKey = new Map<string, Holder[]>();
  for (const type of types) {
    if (isMatch(world.facts[type.source].file, plan.house.copiesFine)) continue;
    for (const { type: local, name, body, callsParent, range } of type.script.functions) {
      if (local !== type.local || !name || !body || callsParent || weightOf(body) < LEAST_WEIGHT) continue;
      const key = `${name} ${shapeOf(body)}`;
      const same = byKey.get(key);
      if (same) same.push({ type, body, range });
      else byKey.set(key, [{ type, body, range }]);
    }
  }
  return [...byKey].flatMap(([key, holders]): Rule[] => {
    const bodies = holders.map(({ body }) => body);
    return holders.length > 1 && namesStandForOneAnother(bodies)
      ? [{ parent, name: key.slice(0, key.indexOf(' ')), holders, differs: valuesThatDiffer(bodies) }]
      : [];
  });
}

const words = new WeakMap<BodyFact, string[][]>();

/** Names and values of each statement. */
function wordsOf(body: BodyFact): string[][] {
  let split = words.get(body);
  if (!split) words.set(body, (split = body.words.map((one) => one.split(BETWEEN))));
  return split;
}

function weightOf({ weights }: BodyFact): number {
  return weights.reduce((sum, weight) => sum + weight, 0);
}

/** Each name of the first stands for one name of every other, throughout. */
function namesStandForOneAnother([first, ...others]: BodyFact[]): boolean {
  return others.every((other) => {
    if (wholeOf(other) === wholeOf(first)) return true;
    const there = new Map<string, string>();
    return wordsOf(first).every((mine, at) => {
      const theirs = wordsOf(other)[at];
      return mine.every((word, position) => {
        if (isValue(word)) return true;
        const known = there.get(word);
        if (known === undefined) there.set(word, theirs[position]);
        return known === undefined || known === theirs[position];
      });
    });
  });
}

/** Values that are not the same in all: `12 | 7 | 30`. */
function valuesThatDiffer(bodies: readonly BodyFact[]): string[] {
  if (bodies.every((body) => wholeOf(body) === wholeOf(bodies[0]))) return [];
  return wordsOf(bodies[0]).flatMap((mine, at) =>
    mine.flatMap((word, position) => {
      if (!isValue(word)) return [];
      const there = bodies.map((body) => wordsOf(body)[at][position]);
      return there.some((one) => one !== word) ? [there.join(' | ')] : [];
    }),
  );
}
