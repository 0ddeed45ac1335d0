import { sentence } from '../model/finding.js';
import type { BodyFact } from '../reading/facts.js';
import { BETWEEN } from '../reading/facts.js';
import { isMatch } from '../reading/match.js';
import type { Linked } from '../linking/linked.js';
import type { WorldType } from '../linking/world.js';
import { isValue } from '../twins/search.js';
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
  run: (linked) =>
    rulesOf(linked).map(({ parent, name, holders }) => {
      const { world } = linked;
      const differs = valuesThatDiffer(holders.map(({ body }) => body));
      const [first] = holders;
      return {
        sentence: [
          ...holders
            .slice(0, 3)
            .flatMap(({ type }, at) => [
              ...(at > 0 ? [at === holders.length - 1 ? ' and ' : ', '] : []),
              { name: type.name, piece: type.piece },
            ]),
          holders.length > 3 ? ` and ${holders.length - 3} more` : '',
          ...sentence` hold the same rule ${`${name}()`}, below ${{ name: parent.name, piece: parent.piece }}`,
          differs.length > 0
            ? `; ${differs.length === 1 ? 'one value differs' : `${differs.length} values differ`}`
            : '',
        ].filter((run) => run !== ''),
        sure: 'All tokens were compared; what differs are values and the names that stand for one another.',
        pieces: [...holders.map(({ type }) => type.piece), parent.piece],
        evidence: holders.slice(0, 6).map(({ type, range }) => ({
          file: world.facts[type.source].file,
          range,
          shows: `${type.name}.${name}()`,
        })),
        walk: [],
        places: holders.length,
        repairs: [
          {
            title: `Move it into ${parent.name}`,
            words:
              differs.length > 0
                ? `Write the rule there once, and give each child a field for what differs: ${differs.slice(0, 4).join('; ')}.`
                : `Write the rule there once; ${first.type.name} and its brothers inherit it.`,
          },
        ],
        sameBy: [parent.name, name, ...holders.map(({ type }) => type.name).sort()],
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
}

function rulesOf({ world, plan }: Linked): Rule[] {
  const children = new Map<WorldType, WorldType[]>();
  for (const type of world.types) {
    const [parent] = type.ancestors;
    if (parent) children.set(parent, [...(children.get(parent) ?? []), type]);
  }
  return [...children].flatMap(([parent, types]) => {
    const holders = types.flatMap((type) =>
      isMatch(world.facts[type.source].file, plan.house.copiesFine)
        ? []
        : type.script.functions.flatMap(({ type: local, name, body, callsParent, range }) =>
            local === type.local && name && body && !callsParent && weightOf(body) >= LEAST_WEIGHT
              ? [{ name, holder: { type, body, range } }]
              : [],
          ),
    );
    return grouped(holders, ({ name, holder }) => `${name} ${shapeOf(holder.body)}`)
      .filter((same) => same.length > 1 && namesStandForOneAnother(same.map(({ holder }) => holder.body)))
      .map((same) => ({ parent, name: same[0].name, holders: same.map(({ holder }) => holder) }));
  });
}

const shapes = new WeakMap<BodyFact, string>();

/** The same for two bodies of one shape. */
function shapeOf(body: BodyFact): string {
  let shape = shapes.get(body);
  if (shape === undefined) shapes.set(body, (shape = body.shapes.join()));
  return shape;
}

function weightOf({ weights }: BodyFact): number {
  return weights.reduce((sum, weight) => sum + weight, 0);
}

/** Each name of the first stands for one name of every other, throughout. */
function namesStandForOneAnother([first, ...others]: BodyFact[]): boolean {
  return others.every((other) => {
    const there = new Map<string, string>();
    return first.words.every((words, at) => {
      const theirs = other.words[at].split(BETWEEN);
      return words.split(BETWEEN).every((word, position) => {
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
  return bodies[0].words.flatMap((words, at) =>
    words.split(BETWEEN).flatMap((word, position) => {
      const there = bodies.map((body) => body.words[at].split(BETWEEN)[position]);
      return isValue(word) && there.some((one) => one !== word) ? [there.join(' | ')] : [];
    }),
  );
}
