/** What the calls of the engine mean, from what they are given and how their results are used. */
import type { CallField, CallForm, CallRow, Channel, MemberChannel } from './calls.js';
import { written } from './calls.js';
import type { CallPattern, Code } from './code.js';
import type { Kind } from './kinds.js';
import type { Files } from './paths.js';
import { saysCalled, type Reading } from './references.js';
import type { Naming } from './rules.js';
import { targetOf } from './rules.js';
import { isObjects, kindsNamed, type Trees } from './trees.js';

export interface Sight {
  code: Code;
  trees: Trees;
  naming: Naming;
  files: Files;
  kindOfFile: ReadonlyMap<number, Kind>;
}

const SCRIPT = /\.(?:ts|js|mjs|cjs|lua|cs|py)$/;

/** Rows for calls whose texts name something. */
export function rowsByTexts(readings: readonly Reading[], sight: Sight): CallRow[] {
  const rows: CallRow[] = [];
  for (const reading of readings) {
    const { form, at } = (reading.field as CallField).place;
    const row = rowFor(reading, form, at, sight);
    const isSecond = rows.some(({ call }) => call.split('(')[0] === form.head);
    rows.push(isSecond ? { ...row, more: { also: true, ...row.more }, means: row.means } : row);
  }
  return rows;
}

export function rowFor(reading: Reading, form: CallForm, at: string, sight: Sight): CallRow {
  const { to, cut, uses, useHits } = reading;
  const base = { reading, count: uses, sure: reading.sure, why: `${useHits} of ${uses} lead somewhere` };
  const pattern = cut.pattern === undefined ? {} : { pattern: cut.pattern };
  const [kind] = kindsNamed(reading, sight.kindOfFile, sight.files);
  const role = kind && sight.trees.roles.get(kind);
  if ('path' in to) {
    const target = { ...targetOf(reading, sight.naming), ...pattern };
    const isScript =
      reading.found.every(({ text }) => SCRIPT.test(text)) || to.path.endings.some((one) => SCRIPT.test(one));
    const means = role === 'scene' ? 'load' : role === 'prefab' ? 'spawn' : isScript ? 'take in' : 'use file';
    return { ...base, call: written(form, roles(at, '$path')), means, more: { target } };
  }
  const [domain] = to.domains;
  if (isObjects(sight.trees, domain) && domain?.naming === 'member') {
    const isName = (sight.naming.target(to.domains) as { by?: string }).by === 'name' || sight.naming.isNameOf(domain);
    const { head, pattern } = form;
    if (isName && cut.pattern === undefined)
      return head.startsWith('*.')
        ? {
            ...base,
            call: written(form, roles(at, '$name')),
            means: 'child',
            more: {},
            // Where the name of the call says it as well, few texts do.
            sure: CHILD.test(pattern.member) ? Math.max(base.sure, BY_NAME) : base.sure,
          }
        : { ...base, call: written(form, roles(at, '$name')), means: 'find', more: {} };
  }
  if (domain?.naming === 'function') {
    const sure = saysCalled(reading.field) ? Math.max(base.sure, BY_NAME) : base.sure;
    return { ...base, sure, call: written(form, roles(at, '$function')), means: 'call', more: OWN };
  }
  const target = { ...targetOf(reading, sight.naming), ...pattern };
  if (domain && domain.piece === domain.kind?.shape) {
    if (role === 'scene') return { ...base, call: written(form, roles(at, '$scene')), means: 'load', more: { target } };
    if (role === 'prefab') return { ...base, call: written(form, roles(at, '$id')), means: 'spawn', more: { target } };
  }
  return { ...base, call: written(form, roles(at, '$id')), means: 'refer', more: { target } };
}

/** Names that say that an object below is looked up. */
const CHILD = /child|^(?:get_?|find_?)?(?:node|below|inner|sub)/i;
/** So sure is what the name of a call and some of its texts say. */
const BY_NAME = 0.75;
/** A function that a text names is the own one first. */
const OWN = { target: { by: 'function', in: ['type', 'file', 'project'] } };

const roles = (at: string, role: string): Map<string, string> => new Map([[at, role]]);

/** Rows for the ends of events that are members of one thing. */
export function rowsOfMembers(channels: readonly MemberChannel[]): CallRow[] {
  return channels.flatMap(({ root, sends, listens, letsGo, events }) => {
    const why = `${events.size} members of ${root} are at both ends`;
    const row = (pattern: CallPattern, means: string, all: [string, string][]): CallRow => ({
      call: written({ head: `${root}.$event.${pattern.member}`, pattern }, new Map(all)),
      means,
      more: {},
      reading: undefined,
      count: pattern.count,
      sure: events.size >= 4 ? 0.96 : 0.8,
      why,
    });
    return [
      ...listens.map(({ pattern, handler }) => row(pattern, 'listen', [[handler, '$handler']])),
      ...sends.map((pattern) => row(pattern, 'send', [])),
      ...letsGo.map((pattern) => row(pattern, 'let go', [])),
    ];
  });
}

/** Rows for the ends of events. */
export function rowsOfChannels(channels: readonly Channel[]): CallRow[] {
  return channels.flatMap(({ sends, listens, letsGo, texts }) => {
    const why = `${texts.size} texts that nothing else holds stand at both ends`;
    const sure = sends.length > 0 && texts.size >= 4 ? 0.96 : 0.8;
    const row = (form: CallForm, means: string, all: [string, string][]): CallRow => ({
      call: written(form, new Map(all.sort(([a], [b]) => (a < b ? -1 : 1)))),
      means,
      more: {},
      reading: undefined,
      count: form.pattern.count,
      sure,
      why,
    });
    return [
      ...listens.map(({ form, at, handler }) =>
        row(form, 'listen', [
          [at, '$event'],
          [handler, '$handler'],
        ]),
      ),
      ...sends.map(({ form, at }) => row(form, 'send', [[at, '$event']])),
      ...letsGo.map(({ form, at }) => row(form, 'let go', [[at, '$event']])),
    ];
  });
}
