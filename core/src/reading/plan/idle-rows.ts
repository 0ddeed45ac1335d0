/** Rows of the call table that can do nothing, or not what is written: mistakes of the plan. */
import { rolesIn } from './call-pattern.js';
import { MEANING } from './meanings.js';
import type { FileRule, Plan, ScriptRule } from './plan.js';

/** Rules that do not say how their text is read, or by a rule that is not there; by key. */
export function formless({ files, scripts }: Plan): { key: (string | number)[]; message: string }[] {
  const isFormless = ({ format, lines }: Pick<FileRule, 'format' | 'lines'>): boolean => format === 'lines' && !lines;
  const inside = (group: string, all: Record<string, FileRule | ScriptRule>): (string | number)[][] =>
    Object.entries(all).flatMap(([name, { embedded }]) =>
      Object.entries(embedded).flatMap(([inner, rule]) =>
        isFormless(rule) ? [[group, name, 'embedded', inner, 'format']] : [],
      ),
    );
  const nameless = Object.entries(files).flatMap(([name, { embedded }]) =>
    Object.entries(embedded).flatMap(([inner, { script }]) =>
      script === undefined || Object.hasOwn(scripts, script)
        ? []
        : [{ key: ['files', name, 'embedded', inner, 'script'], message: `“${script}” is no rule under scripts.` }],
    ),
  );
  const misplaced = Object.entries(scripts).flatMap(([name, { embedded }]) =>
    Object.entries(embedded).flatMap(([inner, { script }]) =>
      script === undefined
        ? []
        : [{ key: ['scripts', name, 'embedded', inner, 'script'], message: 'is for structured files.' }],
    ),
  );
  const own = Object.entries(files).flatMap(([name, rule]) => (isFormless(rule) ? [['files', name, 'format']] : []));
  const formless = [...own, ...inside('files', files), ...inside('scripts', scripts)].map((key) => ({
    key,
    message: 'is “lines”, and “lines” beside it must say how they are read.',
  }));
  return [...formless, ...nameless, ...misplaced];
}

/** Rows whose roles their meaning does not read, or that lack what it needs; by key. */
export function idleRows({ calls }: Plan): { key: (string | number)[]; message: string }[] {
  return calls.flatMap(({ means, pattern, target, event, when }, at) => {
    const given = rolesIn(pattern);
    const { roles, needs } = MEANING[means];
    const isFixed = event !== undefined && !event.includes('*') && roles.includes('event');
    const isLacking = !isFixed && needs !== undefined && !needs.some((role) => given.includes(role));
    const key = ['calls', at, 'call'];
    if (isLacking) return [{ key, message: `names no ${listed(needs)}, and “${means}” does nothing without.` }];
    const reads = roles.length > 0 ? `It reads ${listed(roles, 'and')}.` : 'It reads none.';
    const unread = given
      .filter((role) => !roles.includes(role) && role !== when?.role)
      .map((role) => ({
        key,
        message: `names $${role}, which “${means}” does not read. ${reads} Write _ for the rest.`,
      }));
    if (when && !given.includes(when.role))
      unread.push({ key, message: `names no $${when.role}, which “when” asks for.` });
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
