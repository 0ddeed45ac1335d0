/**
 * Sorts of things that are one to those that name them: `fuel` names a sack or a barrel. Sorts of a list that several places
 * name beside each other, and whose identities do not clash, are known together.
 */
import { itemAt } from '../helpers/at.js';
import { grouped } from '../helpers/grouped.js';
import { push } from '../helpers/push.js';
import { isNumeric, type Domain } from './domains.js';
import type { Reading } from './references.js';
import { isItem, newShape, selectorOf, sortsStep, type Shape } from './shapes.js';
import type { Texts } from './texts.js';

/** Of a place's hits each of two sorts must have so many, and so large a share, to be named beside the other. */
const FEWEST_HITS = 2;
const LEAST_SHARE = 0.03;
/** So many places, or so many hits of both at one place, show that sorts are named together. */
const FEWEST_PLACES = 2;
const MANY_HITS = 10;
/** Of the identities of sorts that are known together so many may be the same. */
const CLASH = 0.02;

/**
 * Domains with one in the place of those of sorts that are named together.
 * @returns the same domains when there are none
 */
export function knownTogether(domains: Domain[], readings: readonly Reading[], texts: Texts): Domain[] {
  const ofLists = new Map<Shape | undefined, Domain[]>();
  for (const one of domains)
    if (sortsOf(one).length > 0 && wayTo(one).length === 1) push(ofLists, one.piece?.parent, one);
  const united = [...ofLists.values()].flatMap((all) =>
    groupsOf(all, readings).flatMap((group) => unitedDomains(group, domains, texts)),
  );
  if (united.length === 0) return domains;
  const replaced = new Set(united.flatMap(({ instead }) => instead));
  return [...domains.filter((one) => !replaced.has(one)), ...united.map(({ domain }) => domain)];
}

const sortsOf = ({ piece, sorts }: Domain): readonly Shape[] => sorts ?? (piece?.sort === undefined ? [] : [piece]);

/** Domains of one list and one member that are named together, each group of two or more. */
function groupsOf(all: readonly Domain[], readings: readonly Reading[]): Domain[][] {
  const ofList = new Set(all);
  const beside = new Map<string, { one: Domain; other: Domain; places: number; hits: number }>();
  const number = new Map(all.map((domain, at) => [domain, at]));
  for (const { to, hitsOf, hits } of readings) {
    if ('path' in to) continue;
    const named = to.domains.flatMap((domain, at) => {
      const own = hitsOf[at] ?? 0;
      return ofList.has(domain) && own >= Math.max(FEWEST_HITS, hits * LEAST_SHARE) ? [{ domain, own }] : [];
    });
    named.forEach(({ domain: one, own }, at) => {
      for (const { domain: other, own: more } of named.slice(at + 1)) {
        if (one.member?.key !== other.member?.key) continue;
        const key = [number.get(one), number.get(other)].sort().join(' ');
        const known = beside.get(key) ?? { one, other, places: 0, hits: 0 };
        beside.set(key, { ...known, places: known.places + 1, hits: Math.max(known.hits, Math.min(own, more)) });
      }
    });
  }
  const groupOf = new Map<Domain, Domain[]>(all.map((domain) => [domain, [domain]]));
  const strong = [...beside.values()].filter(({ places, hits }) => places >= FEWEST_PLACES || hits >= MANY_HITS);
  for (const { one, other } of strong.sort((a, b) => b.places - a.places || b.hits - a.hits)) {
    const [mine, theirs] = [groupOf.get(one) ?? [], groupOf.get(other) ?? []];
    if (mine === theirs || doClash(mine, theirs)) continue;
    mine.push(...theirs);
    for (const domain of theirs) groupOf.set(domain, mine);
  }
  return [...new Set(groupOf.values())].filter(({ length }) => length > 1);
}

function doClash(some: readonly Domain[], others: readonly Domain[]): boolean {
  let [same, all] = [0, 0];
  for (const { texts } of others)
    for (const text of texts.numbers()) {
      all++;
      if (some.some((one) => one.texts.has(text))) same++;
    }
  const least = Math.min(
    all,
    some.reduce((sum, { texts }) => sum + texts.size, 0),
  );
  return same > Math.max(1, least * CLASH);
}

/** One piece in the place of those of several sorts, with all by which these were known. */
function unitedDomains(
  group: readonly Domain[],
  domains: readonly Domain[],
  texts: Texts,
): { domain: Domain; instead: readonly Domain[] }[] {
  const sorts = group.flatMap(sortsOf).sort((a, b) => b.objects - a.objects);
  const pieces = new Set(group.map(({ piece }) => piece));
  const first = itemAt(sorts, 0);
  const list = first.parent;
  const piece = newShape(`${first.sort ?? ''} and ${sorts.length - 1} more`, list);
  piece.at = `${list ? selectorOf(list) : '$'}${sortsStep(sorts)}`;
  for (const { objects, files } of sorts) [piece.objects, piece.files] = [piece.objects + objects, piece.files + files];
  const named = sorts.map(({ sort }) => sort ?? '');
  const called = `${named.slice(0, 4).join(', ')}${named.length > 4 ? ' …' : ''}`;
  const own = domains.filter((one) => one.member !== undefined && pieces.has(one.piece));
  return grouped(own, ({ member, piece: of }) => (member ? selectorOf(member, of) : '')).map((same) => {
    const member = placeBelow(piece, wayTo(same[0]));
    for (const one of same) member.texts.addAll(one.texts);
    member.values = member.texts.total;
    const size = same.reduce((sum, one) => sum + one.texts.size, 0);
    const domain: Domain = {
      ...same[0],
      ...{ piece, member, texts: member.texts, isNumeric: isNumeric(member.texts, texts) },
      sorts,
      places: same.flatMap((one) => one.places ?? one.member ?? []),
      quality: same.reduce((sum, one) => sum + one.quality * one.texts.size, 0) / size,
      words: [...new Set(same.flatMap((one) => one.words))],
      title: `one of ${called} by its ${member.key}`,
    };
    return { domain, instead: same };
  });
}

/** Names of the members from a piece to what tells it apart. */
function wayTo({ piece, member }: Domain): string[] {
  const way: string[] = [];
  for (let at = member; at && at !== piece; at = at.parent) if (!isItem(at)) way.unshift(at.key);
  return way;
}

function placeBelow(piece: Shape, way: readonly string[]): Shape {
  let at = piece;
  for (const key of way) {
    const known = at.members.get(key) ?? newShape(key, at);
    at.members.set(key, known);
    at = known;
  }
  return at;
}
