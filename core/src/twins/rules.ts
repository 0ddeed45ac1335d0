/** Rules that brothers hold: functions of one name that are the same but for their values, in types with one parent. */
import { itemAt } from '../helpers/at.js';
import { keeper, once } from '../helpers/once.js';
import { BETWEEN, type BodyFact } from '../reading/facts.js';
import { isMatch } from '../reading/match.js';
import type { Linked } from '../linking/linked.js';
import type { WorldType } from '../linking/world/world.js';
import { isValue } from './runs.js';
import { shapeOf, wholeOf } from './runs.js';

/** What a function must come to, in tokens, to be a rule. */
const LEAST_WEIGHT = 12;

export interface Holder {
  type: WorldType;
  /** Position in the functions of its script. */
  function: number;
  body: BodyFact;
  range: Linked['facts'][number]['range'];
}

/** A function that brothers hold alike. */
export interface Rule {
  parent: WorldType;
  name: string;
  holders: Holder[];
  /** Values that are not the same in all. */
  differs: string[];
}

/** Rules that brothers hold, by parent. */
export function brotherRulesOf(linked: Linked): Rule[] {
  const children = new Map<WorldType, WorldType[]>();
  for (const type of linked.world.types.all) {
    const [parent] = type.ancestors;
    const known = parent && children.get(parent);
    if (known) known.push(type);
    else if (parent) children.set(parent, [type]);
  }
  return [...children].flatMap(([parent, types]) => {
    const scripts = types.map(({ script }) => script);
    return held(parent, scripts, () => (types.length < 2 ? [] : rulesBelow(linked, parent, types)));
  });
}

/** What the children of each parent hold, as long as their scripts are as they were. */
const held = keeper<WorldType, Rule[]>();

function rulesBelow({ world, plan }: Linked, parent: WorldType, types: readonly WorldType[]): Rule[] {
  const byKey = new Map<string, Holder[]>();
  for (const type of types) {
    if (isMatch(itemAt(world.facts, type.source).file, plan.house.copiesFine)) continue;
    type.script.functions.forEach(({ type: local, name, body, callsParent, range }, at) => {
      if (local !== type.local || !name || !body || callsParent || weightOf(body) < LEAST_WEIGHT) return;
      const key = `${name} ${shapeOf(body)}`;
      const holder = { type, function: at, body, range };
      const same = byKey.get(key);
      // A function inside another one may have the name of a second: both are of one type, and no rule of brothers.
      if (same?.some((one) => one.type === type)) return;
      if (same) same.push(holder);
      else byKey.set(key, [holder]);
    });
  }
  return [...byKey].flatMap(([key, holders]): Rule[] => {
    const bodies = holders.map(({ body }) => body);
    return holders.length > 1 && namesStandForOneAnother(bodies)
      ? [{ parent, name: key.slice(0, key.indexOf(' ')), holders, differs: valuesThatDiffer(bodies) }]
      : [];
  });
}

/** Names and values of each statement. */
const wordsOf = once(({ words }: BodyFact): string[][] => words.map((one) => one.split(BETWEEN)));

/** Tokens of a function. */
export function weightOf({ weights }: BodyFact): number {
  return weights.reduce((sum, weight) => sum + weight, 0);
}

/** Each name of the first stands for one name of every other, throughout. */
function namesStandForOneAnother([first, ...others]: readonly BodyFact[]): boolean {
  if (!first) return true;
  return others.every((other) => {
    if (wholeOf(other) === wholeOf(first)) return true;
    const there = new Map<string, string>();
    return wordsOf(first).every((mine, at) => {
      const theirs = itemAt(wordsOf(other), at);
      return mine.every((word, position) => {
        if (isValue(word)) return true;
        const known = there.get(word);
        if (known === undefined) there.set(word, itemAt(theirs, position));
        return known === undefined || known === theirs[position];
      });
    });
  });
}

/** Values that are not the same in all: `12 | 7 | 30`. */
function valuesThatDiffer(bodies: readonly BodyFact[]): string[] {
  if (bodies.every((body) => wholeOf(body) === wholeOf(itemAt(bodies, 0)))) return [];
  return wordsOf(itemAt(bodies, 0)).flatMap((mine, at) =>
    mine.flatMap((word, position) => {
      if (!isValue(word)) return [];
      const there = bodies.map((body) => itemAt(wordsOf(body), at)[position]);
      return there.some((one) => one !== word) ? [there.join(' | ')] : [];
    }),
  );
}
