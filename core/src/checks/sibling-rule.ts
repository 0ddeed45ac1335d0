import { itemAt } from '../helpers/at.js';
import { keeper } from '../helpers/once.js';
import { grouped } from '../helpers/grouped.js';
import { listed, sentence } from '../model/finding.js';
import type { Linked } from '../linking/linked.js';
import { brotherRulesOf, type Rule } from '../twins/rules.js';
import type { Check, Draft } from './check.js';

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
    grouped(brotherRulesOf(linked), ({ parent, holders }) =>
      [parent.index, ...holders.map(({ type }) => type.index)].join(),
    ).map((rules) => kept(rules[0], rules, () => draftOf(linked, rules))),
};

const kept = keeper<Rule, Draft>();

function draftOf({ world }: Linked, rules: readonly Rule[]): Draft {
  const { parent, name, holders } = itemAt(rules, 0);
  const types = holders.map(({ type }) => type);
  const differs = rules.flatMap((rule) => rule.differs);
  const first = itemAt(types, 0);
  return {
    sentence: [
      ...listed(types.slice(0, 3), types.length),
      rules.length === 1 ? ' hold the same rule ' : ' hold the same rules ',
      ...listed(
        rules.slice(0, 3).map((rule) => ({ name: `${rule.name}()` })),
        rules.length,
      ),
      ...sentence`, below ${{ name: parent.name, piece: parent.piece }}`,
      differs.length > 0 ? `; ${differs.length === 1 ? 'one value differs' : `${differs.length} values differ`}` : '',
    ].filter((run) => run !== ''),
    sure: 'All tokens were compared; what differs are values and the names that stand for one another.',
    pieces: [...types.map(({ piece }) => piece), parent.piece],
    evidence: holders.slice(0, 6).map(({ type, range }) => ({
      file: itemAt(world.facts, type.source).file,
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
}
