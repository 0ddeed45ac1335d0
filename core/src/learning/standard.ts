/** What the languages give themselves, whatever the engine: what it is given names nothing of the project. */
import type { Language } from '../reading/plan/plan.js';
import type { CallForm } from './calls.js';

const words = (all: string): Set<string> => new Set(all.split(/\s+/));

/** Modules and types that everything is called on, and functions without a receiver; those that engines name so as well are left out. */
const GIVEN: Record<Language, { on: Set<string>; alone: Set<string> }> = {
  lua: {
    on: words('string table math os io debug coroutine utf8 package bit bit32 jit'),
    alone: words(
      'assert collectgarbage error getmetatable ipairs pairs pcall print rawequal rawget rawlen rawset setmetatable tonumber tostring unpack xpcall',
    ),
  },
  python: {
    on: words('str os sys re math json random logging itertools functools collections time datetime struct copy'),
    alone: words(
      'abs bool bytes callable chr dict enumerate float format frozenset getattr hasattr hex id int isinstance issubclass len list ord print repr reversed round set setattr sorted str super tuple vars',
    ),
  },
  typescript: {
    on: words('console JSON Math Object Array Number String Boolean Date Promise Reflect Symbol RegExp Intl process'),
    alone: words('String Number Boolean Array Date Error Map Set RegExp Symbol parseInt parseFloat isNaN fetch'),
  },
  javascript: {
    on: words('console JSON Math Object Array Number String Boolean Date Promise Reflect Symbol RegExp Intl process'),
    alone: words('String Number Boolean Array Date Error Map Set RegExp Symbol parseInt parseFloat isNaN fetch'),
  },
  csharp: {
    on: words('Console String string Math Convert Enum Array DateTime TimeSpan Guid Environment Path File Directory'),
    alone: words('nameof typeof Exception ArgumentException InvalidOperationException'),
  },
};

/** Functions of texts, lists and maps in these languages, on whatever they are called. */
const ON_VALUES = words(
  'append push insert extend concat join split strip lstrip rstrip trim replace replaceAll gsub gmatch format rep startswith endswith startsWith endsWith StartsWith EndsWith includes indexOf lastIndexOf substring substr toLowerCase toUpperCase lower upper charAt charCodeAt encode decode Split Join Replace Trim Format Substring Contains ContainsKey TryGetValue ToString hasOwnProperty',
);

/** Functions that are commonly given the texts which are to be translated. */
const TRANSLATES = words('_ __ N_ gettext ngettext');

export function isOfLanguage({ head, pattern }: CallForm, languages: ReadonlySet<Language>): boolean {
  if (languages.size === 0) return false;
  const { member, receiver } = pattern;
  if (head.startsWith('*.') && ON_VALUES.has(member)) return true;
  if (receiver === '' && TRANSLATES.has(member)) return true;
  const first = receiver.split('.')[0] ?? '';
  return [...languages].every((language) =>
    receiver === '' ? GIVEN[language].alone.has(member) : GIVEN[language].on.has(first),
  );
}
