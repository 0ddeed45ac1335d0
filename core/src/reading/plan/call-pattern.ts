import { itemAt, must } from '../../helpers/at.js';
import { GlueError } from '../../model/errors.js';

/** Names that a call pattern can give to its arguments and to steps of its chain. */
export const ROLES = [
  'name',
  'path',
  'type',
  'event',
  'handler',
  'count',
  'object',
  'function',
  'label',
  'scene',
  'record',
  'id',
  'flag',
  'action',
  'parent',
  'index',
] as const;
export type Role = (typeof ROLES)[number];

/** One step of a chain: a name, a name with wildcards, or any name that is taken as a role. */
export type ChainStep = { is: 'exact'; name: string } | { is: 'like'; pattern: string } | { is: 'role'; role: Role };

/** What an argument must be, and what it is taken for. */
export interface ArgumentPattern {
  /** For arguments given by name, and for entries of a table of options. */
  key?: string;
  role?: Role;
  /** The argument must be this text. */
  text?: string;
  /** All that follow as well are taken for the role, one by one. */
  every?: true;
}

/**
 * A pattern on calls and property reads, written as code is written:
 * `bells.ring($event, ...)`, `*.child($name)`, `*.holder`, `*.part<$type>()`, `$event.announce(_, ...)`,
 * `<Rope>.pull($count)`, `signals.$event.fire(...)`, `spawn(prefab: $path)`, `ask('part', $type)`, `hide($id...)`.
 *
 * The chain names the receiver and the member, joined by dots. `*` at its head stands for any receiver and
 * makes it the object the look-up starts on; a `$role` at its head takes the receiver as that argument; `<Type>` is
 * a receiver known to be of that type. A leading `this.` in the code is passed over, since services are often kept
 * in fields.
 */
export interface CallPattern {
  head:
    | { is: 'chain'; steps: ChainStep[] }
    | { is: 'any receiver' }
    | { is: 'role'; role: Role }
    | { is: 'type'; type: string };
  /** The last name of the chain: the function or property; `*` in it stands for any letters. */
  member: string;
  /** The last name is taken as a role: `on.$event(...)`; `member` is then a wildcard. */
  memberRole?: Role;
  /** Arguments between angle brackets: `*.part<$type>()`. Empty when the pattern has none. */
  typeArguments: (Role | '_')[];
  /** Undefined for a property. */
  arguments?: ArgumentPattern[];
  /** Whether more arguments may follow (the payload of an event). */
  more: boolean;
}

/** All roles that a pattern gives, wherever they stand in it. */
export function rolesIn({ head, memberRole, typeArguments, arguments: given }: CallPattern): Role[] {
  const inHead =
    head.is === 'role'
      ? [head.role]
      : head.is === 'chain'
        ? head.steps.flatMap((step) => (step.is === 'role' ? [step.role] : []))
        : [];
  const inArguments = (given ?? []).flatMap(({ role }) => role ?? []);
  return [
    ...inHead,
    ...(memberRole ? [memberRole] : []),
    ...typeArguments.filter((role) => role !== '_'),
    ...inArguments,
  ];
}

/** Operators that languages use like calls: `gate.Opened += handler` is written `gate.Opened.+=($handler)`. */
const OPERATORS = ['+=', '-='];
const NAME = /^[A-Za-z_][A-Za-z0-9_]*$/;
const LIKE = /^[A-Za-z_*][A-Za-z0-9_*]*$/;

type Fail = (why: string) => never;

/**
 * @throws GlueError `plan/invalid` when the text is no pattern
 */
export function parseCallPattern(text: string): CallPattern {
  const fail: Fail = (why) => {
    throw new GlueError('plan/invalid', `“${text}” is not a call pattern: ${why}`);
  };
  const found = /^(<[^<>\s]+>\.)?([^()<>\s]+)(?:<([^<>]*)>)?\s*(?:\(([^()]*)\))?$/.exec(text.trim());
  if (!found) return fail('write it as in code, e.g. “*.child($name)” or “bells.ring($event, ...)”.');
  const chain = itemAt(found, 2).split('.');
  const last = must(chain.pop());
  const memberRole = last.startsWith('$') && chain.some((name) => NAME.test(name)) ? roleOf(last, fail) : undefined;
  const member = memberRole ? '*' : last;
  if (!LIKE.test(member) && !OPERATORS.includes(member)) fail(`“${member}” is not a name.`);
  if (!memberRole && /^\*+$/.test(member)) fail('the last name of the chain cannot be a wildcard alone.');
  const typeArguments = split(found[3] ?? '').map((word) => (word === '_' ? word : roleOf(word, fail)));
  const head = found[1] ? typeHead(found[1], chain, fail) : headOf(chain, fail);
  const pattern: CallPattern = { head, member, ...(memberRole && { memberRole }), typeArguments, more: false };
  if (found[4] === undefined) return pattern;
  pattern.arguments = [];
  for (const word of split(found[4])) {
    if (pattern.more) fail('“...” can only stand last.');
    const isEvery = pattern.arguments.at(-1)?.every === true;
    if (isEvery) fail('an argument with “...” behind its name can only stand last.');
    if (word === '...') pattern.more = true;
    else pattern.arguments.push(argumentOf(word, fail));
  }
  return pattern;
}

function split(list: string): string[] {
  return list
    .split(',')
    .map((word) => word.trim())
    .filter(Boolean);
}

function argumentOf(word: string, fail: Fail): ArgumentPattern {
  const named = /^([A-Za-z_][A-Za-z0-9_]*)\s*:\s*(.+)$/.exec(word);
  if (named) return { key: named[1], ...argumentOf(itemAt(named, 2), fail) };
  if (word === '_') return {};
  if (/^\$\w+\.\.\.$/.test(word)) return { role: roleOf(word.slice(0, -3), fail), every: true };
  const quoted = /^(['"])(.*)\1$/.exec(word);
  return quoted ? { text: quoted[2] } : { role: roleOf(word, fail) };
}

function typeHead(text: string, chain: string[], fail: Fail): CallPattern['head'] {
  if (chain.length > 0) fail('behind a receiver type stands only the member.');
  return { is: 'type', type: text.slice(1, -2) };
}

function headOf(chain: string[], fail: Fail): CallPattern['head'] {
  if (chain.length === 1 && chain[0] === '*') return { is: 'any receiver' };
  if (chain.length === 1 && itemAt(chain, 0).startsWith('$'))
    return { is: 'role', role: roleOf(itemAt(chain, 0), fail) };
  const steps = chain.map((name): ChainStep => {
    if (name.startsWith('$')) return { is: 'role', role: roleOf(name, fail) };
    if (NAME.test(name)) return { is: 'exact', name };
    return LIKE.test(name) ? { is: 'like', pattern: name } : fail(`“${name}” is not a name.`);
  });
  return { is: 'chain', steps };
}

function roleOf(word: string, fail: Fail): Role {
  const role = word.slice(1) as Role;
  if (!word.startsWith('$') || !ROLES.includes(role))
    fail(`“${word}” is none of ${ROLES.map((name) => `$${name}`).join(', ')}, a quoted text, “_” or “...”.`);
  return role;
}
