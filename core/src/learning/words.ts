/** Words in names: `crewMembers`, `crew_members` and `crew-member` speak of the same. */

/** The words of a name, each as one and in small letters. */
export function wordsOf(name: string): string[] {
  return name
    .replace(/(\p{Ll})(\p{Lu})/gu, '$1 $2')
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter((word) => word.length > 1)
    .map(asOne);
}

function asOne(word: string): string {
  if (word.endsWith('ies') && word.length > 4) return `${word.slice(0, -3)}y`;
  if (/(?:s|x|z|ch|sh)es$/.test(word)) return word.slice(0, -2);
  return word.endsWith('s') && !word.endsWith('ss') && word.length > 3 ? word.slice(0, -1) : word;
}

/** Words that nothing can be told apart by. */
const COMMON = new Set(
  'id name key ref type kind data file item list value path the of to uid guid code text'.split(' '),
);

/** How far two sets of words speak of the same: from 0 to 1. */
export function affinity(some: readonly string[], others: readonly string[]): number {
  const one = some.filter((word) => !COMMON.has(word));
  const other = new Set(others.filter((word) => !COMMON.has(word)));
  if (one.length === 0 || other.size === 0) return 0;
  const shared = one.filter((word) => other.has(word)).length;
  return shared / Math.min(one.length, other.size);
}

/** Names that people give to what tells things apart. */
const IDENTITY = /^(?:id|uid|uuid|guid|key|name|code|ident|identifier|identity|slug|tag|handle|ref)$/i;
const ENDS_AS_IDENTITY = /(?:[-_](?:id|key|name|code)|Id|Key|Name|Code)$/;

/** Whether a name says that what stands there tells things apart. */
export function isIdentityName(name: string): boolean {
  return IDENTITY.test(name) || ENDS_AS_IDENTITY.test(name);
}
