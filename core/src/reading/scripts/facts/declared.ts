/** What the plan says of members by how they are declared: filled in outside, hidden, on one side. */
import { compilePattern } from '../../../helpers/pattern.js';
import { once } from '../../../helpers/once.js';
import type { Side } from '../../../model/link.js';
import type { ScriptRule } from '../../plan/plan.js';
import type { FieldSyntax, ScriptSyntax } from '../syntax.js';

/** What makes a field of a script one that people fill in outside the code. */
export function exposing(
  { comments }: ScriptSyntax,
  text: string,
  { exposed }: ScriptRule,
): (field: FieldSyntax) => boolean {
  const name = exposed.names === undefined ? undefined : compilePattern(exposed.names);
  const isTagged = ({ start, end }: FieldSyntax): boolean =>
    exposed.comments.length > 0 &&
    comments.some((comment) => {
      // A comment that belongs to the field before ends on that field's line.
      const isBefore =
        comment.end <= start &&
        /^\s*[^\n;{}]*$/.test(text.slice(comment.end, start)) &&
        beginsLine(text, comment.start);
      const isBehind = comment.start >= end && /^[^\S\n]*[;,]?[^\S\n]*$/.test(text.slice(end, comment.start));
      return (
        (isBefore || isBehind) && exposed.comments.some((tag) => text.slice(comment.start, comment.end).includes(tag))
      );
    });
  return (field) => {
    if (field.decorators.some((decorator) => exposed.decorators.includes(decorator))) return true;
    const head = /^[A-Za-z_][A-Za-z0-9_.]*/.exec(field.type)?.[0] ?? '';
    return exposed.types.includes(head) || name?.test(field.name) === true || isTagged(field);
  };
}

function beginsLine(text: string, at: number): boolean {
  return /(^|\n)[^\S\n]*$/.test(text.slice(Math.max(0, at - 200), at));
}

type IsHidden = (name: string, modifiers: string[]) => boolean;

/** What makes a member one that code of other types is not meant to use. */
export const hiding = once(({ hidden }: ScriptRule): IsHidden => {
  const names = hidden.names === undefined ? undefined : compilePattern(hidden.names);
  return (name, modifiers) =>
    modifiers.some((modifier) => hidden.modifiers.includes(modifier)) ||
    (hidden.unless.length > 0 && !modifiers.some((modifier) => hidden.unless.includes(modifier))) ||
    name.startsWith('#') ||
    names?.test(name) === true;
});

/** The side that decorators or modifiers tell, or the one around. */
export function sideOf({ sided }: ScriptRule, decorators: string[], around: Side): Side {
  const on = (names: string[]): boolean => decorators.some((decorator) => names.includes(decorator));
  const [server, client] = [on(sided.server), on(sided.client)];
  return server && client ? 'both' : server ? 'server' : client ? 'client' : around;
}
