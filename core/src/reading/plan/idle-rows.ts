/** Rows of the call table that can do nothing, or not what is written: mistakes of the plan. */
import { rolesIn } from './call-pattern.js';
import { MEANING } from './meanings.js';
import type { Plan } from './plan.js';

/** Rules for text of the team's own that do not say how its lines are read; by key. */
export function formless({ files }: Plan): { key: (string | number)[]; message: string }[] {
  return Object.entries(files).flatMap(([name, { format, lines }]) =>
    format === 'lines' && !lines
      ? [{ key: ['files', name, 'format'], message: 'is “lines”, and “lines” beside it must say how they are read.' }]
      : [],
  );
}

/** Rows whose roles their meaning does not read, or that lack what it needs; by key. */
export function idleRows({ calls }: Plan): { key: (string | number)[]; message: string }[] {
  return calls.flatMap(({ means, pattern, target, event }, at) => {
    const given = rolesIn(pattern);
    const { roles, needs } = MEANING[means];
    const isFixed = event !== undefined && !event.includes('*') && roles.includes('event');
    const isLacking = !isFixed && needs !== undefined && !needs.some((role) => given.includes(role));
    const key = ['calls', at, 'call'];
    if (isLacking) return [{ key, message: `names no ${listed(needs)}, and “${means}” does nothing without.` }];
    const reads = roles.length > 0 ? `It reads ${listed(roles, 'and')}.` : 'It reads none.';
    const unread = given
      .filter((role) => !roles.includes(role))
      .map((role) => ({
        key,
        message: `names $${role}, which “${means}” does not read. ${reads} Write _ for the rest.`,
      }));
    const isMisled = means === 'call' && target.by !== 'function';
    return isMisled
      ? [...unread, { key: ['calls', at, 'target', 'by'], message: 'must be “function” where a function is called.' }]
      : unread;
  });
}

function listed(roles: readonly string[], word = 'or'): string {
  const names = roles.map((role) => `$${role}`);
  return names.length > 1 ? `${names.slice(0, -1).join(', ')} ${word} ${names.at(-1)}` : names.join('');
}
