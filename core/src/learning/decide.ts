/**
 * What people say of learned rules, written into the plan: what they take is a rule like any other from then on, what they
 * refuse goes and is not proposed again. All else in the text stays as it is, comments too.
 */
import { applyEdits, modify, parse, type JSONPath } from 'jsonc-parser';

export interface Decisions {
  /** Keys of rules, as under `learned`. */
  take: readonly string[];
  refuse: readonly string[];
  /** Rules that are meant instead of those under these keys, or that the plan does not have yet. */
  put?: readonly PutRule[];
}

export interface PutRule {
  key: string;
  rule: Readonly<Record<string, unknown>>;
  /** What speaks for rules inside of it, by their keys: nobody has looked at those yet. */
  inner?: Readonly<Record<string, { sure: number; of: number; leads: number }>>;
}

const FORMAT = { formattingOptions: { insertSpaces: true, tabSize: 2 } };

/** The text of a plan once some of its learned rules are taken or refused. Keys that it does not have are passed over. */
export function decide(text: string, { take, refuse, put = [] }: Decisions): string {
  let now = text;
  const change = (path: JSONPath, value: unknown): void => {
    now = applyEdits(now, modify(now, path, value, FORMAT));
  };
  for (const key of refuse) {
    const at = placeOf(parse(now), key);
    if (at) change(at, undefined);
  }
  for (const { key, rule, inner = {} } of put) {
    const at = placeOf(parse(now), key) ?? placeFor(parse(now), key);
    if (at) change(at, rule);
    for (const [name, evidence] of Object.entries(inner)) change(['learned', 'rules', name], evidence);
  }
  for (const key of [...take, ...refuse, ...put.map((one) => one.key)])
    if (valueAt(parse(now), ['learned', 'rules', key]) !== undefined) change(['learned', 'rules', key], undefined);
  const known = (valueAt(parse(now), ['learned', 'refused']) ?? []) as string[];
  const more = refuse.filter((key) => !known.includes(key));
  if (more.length > 0) change(['learned', 'refused'], [...known, ...more]);
  return now;
}

/** Gives rules of a plan by their keys, as they are written: `files.boats.references.crew`, `calls: stage.find($name)`. */
export function rulesOf(text: string): (key: string) => unknown {
  const plan: unknown = parse(text);
  return (key) => {
    const at = placeOf(plan, key);
    return at && valueAt(plan, at);
  };
}

const CALLS = 'calls: ';

/** Where in a plan the rule of a key stands. Names of rules may hold dots. */
function placeOf(plan: unknown, key: string): JSONPath | undefined {
  if (key.startsWith(CALLS)) {
    const calls = (valueAt(plan, ['calls']) ?? []) as { call?: unknown }[];
    const at = calls.findIndex(({ call }) => call === key.slice(CALLS.length));
    return at < 0 ? undefined : ['calls', at];
  }
  const found: JSONPath[] = [];
  const look = (value: unknown, rest: string, path: JSONPath): void => {
    if (rest === '') found.push(path);
    if (typeof value !== 'object' || value === null || Array.isArray(value)) return;
    for (const [name, inner] of Object.entries(value))
      if (rest === name) look(inner, '', [...path, name]);
      else if (rest.startsWith(`${name}.`)) look(inner, rest.slice(name.length + 1), [...path, name]);
  };
  look(plan, key, []);
  return found[0];
}

/** Where a rule would stand that the plan does not have; undefined where the rule around it is not there either. */
function placeFor(plan: unknown, key: string): JSONPath | undefined {
  if (key.startsWith(CALLS)) return ['calls', ((valueAt(plan, ['calls']) ?? []) as unknown[]).length];
  const [, holder] = /^(.+)\.extends$/.exec(key) ?? [];
  if (holder !== undefined) {
    const at = placeOf(plan, holder);
    return at && [...at, 'extends'];
  }
  const [, around = '', group, name] = /^(.+)\.(references|events)\.(.+)$/.exec(key) ?? [];
  const at = placeOf(plan, around);
  if (group !== undefined && name !== undefined) return at && [...at, group, name];
  return key.startsWith('files.') ? ['files', key.slice('files.'.length)] : undefined;
}

function valueAt(value: unknown, path: JSONPath): unknown {
  return path.reduce<unknown>(
    (at, step) => (typeof at === 'object' && at !== null ? (at as Record<string | number, unknown>)[step] : undefined),
    value,
  );
}
