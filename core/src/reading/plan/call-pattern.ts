import { GlueError } from '../../model/errors.js';

/** Names that a call pattern can give to its arguments (and to the head of its chain). */
export const ROLES = ['name', 'path', 'type', 'event', 'handler', 'count', 'object'] as const;
export type Role = (typeof ROLES)[number];

/**
 * A pattern on calls and property reads, written as code is written:
 * `bells.ring($event, ...)`, `*.child($name)`, `*.holder`, `*.part<$type>()`, `$event.announce(_, ...)`.
 *
 * The chain names the receiver and the member, joined by dots. `*` at its head stands for any receiver and
 * makes it the object the look-up starts on; a `$role` at its head takes the receiver's name as that argument.
 * A leading `this.` in the code is passed over, since services are often kept in fields.
 */
export interface CallPattern {
  head: { is: 'exact'; names: string[] } | { is: 'any receiver' } | { is: 'role'; role: Role };
  /** The last name of the chain: the function or property. */
  member: string;
  /** Arguments between angle brackets: `*.part<$type>()`. Empty when the pattern has none. */
  typeArguments: (Role | '_')[];
  /** Undefined for a property. */
  arguments?: (Role | '_')[];
  /** Whether more arguments may follow (the payload of an event). */
  more: boolean;
}

/** Operators that languages use like calls: `gate.Opened += handler` is written `gate.Opened.+=($handler)`. */
const OPERATORS = ['+=', '-='];
const NAME = /^[A-Za-z_][A-Za-z0-9_]*$/;

/**
 * @throws GlueError `plan/invalid` when the text is no pattern
 */
export function parseCallPattern(text: string): CallPattern {
  const fail = (why: string): never => {
    throw new GlueError('plan/invalid', `“${text}” is not a call pattern: ${why}`);
  };
  const found = /^([^()<>\s]+)(?:<([^<>]*)>)?\s*(?:\(([^()]*)\))?$/.exec(text.trim());
  if (!found) return fail('write it as in code, e.g. “*.child($name)” or “bells.ring($event, ...)”.');
  const chain = found[1].split('.');
  const member = chain.pop()!;
  if (!NAME.test(member) && !OPERATORS.includes(member)) fail(`“${member}” is not a name.`);
  const roles = (list: string): (Role | '_' | '...')[] =>
    list
      .split(',')
      .map((word) => word.trim())
      .filter(Boolean)
      .map((word) => (word === '_' || word === '...' ? word : roleOf(word, fail)));

  const typeArguments = roles(found[2] ?? '').filter((role) => role !== '...');
  const pattern: CallPattern = { head: headOf(chain, fail), member, typeArguments, more: false };
  if (found[3] === undefined) return pattern;
  pattern.arguments = [];
  for (const role of roles(found[3])) {
    if (pattern.more) fail('“...” can only stand last.');
    if (role === '...') pattern.more = true;
    else pattern.arguments.push(role);
  }
  return pattern;
}

function headOf(chain: string[], fail: (why: string) => never): CallPattern['head'] {
  if (chain.length === 1 && chain[0] === '*') return { is: 'any receiver' };
  if (chain.length === 1 && chain[0].startsWith('$')) return { is: 'role', role: roleOf(chain[0], fail) };
  for (const name of chain) if (!NAME.test(name)) fail(`“${name}” is not a name; “*” can only stand first and alone.`);
  return { is: 'exact', names: chain };
}

function roleOf(word: string, fail: (why: string) => never): Role {
  const role = word.slice(1) as Role;
  if (!word.startsWith('$') || !ROLES.includes(role))
    fail(`“${word}” is none of ${ROLES.map((name) => `$${name}`).join(', ')}, “_” or “...”.`);
  return role;
}
