/** The plan that was learned. */
import { grouped } from '../helpers/grouped.js';
import { must } from '../helpers/at.js';
import { baseName, isMediaName } from '../reading/source.js';
import type { Domain } from './domains.js';
import { ASKS, exposedBy, labelsOf, momentsOf, rowsByTypes, rowsByUse, type Moments } from './habits.js';
import { declareRow, written, type CallRow } from './calls.js';
import { filledFields, kindsNamed, shareFilled } from './trees.js';
import type { Language } from '../reading/plan/plan.js';
import { LANGUAGE } from '../reading/scripts/languages.js';
import type { Learned } from './learn.js';
import { languageOf } from './scripts.js';
import { rowsByTexts, rowsOfChannels, rowsOfMembers, type Sight } from './means.js';
import { callKey } from '../linking/rule-counts.js';
import {
  enginesEvents,
  enginesFunctions,
  enginesOwn,
  importForm,
  namedHandlers,
  typeNaming,
  type Convention,
  type NamedHandlers,
} from './conventions.js';
import { questionOf } from './questions.js';
import { isItem, shapesIn } from './shapes.js';
import { fileRules, Naming, saysOf, tableRules, type Evidence, type FileRules } from './rules.js';

function scriptHabits(
  { start, everyFrame, leave }: Moments,
  exposed: Record<string, unknown> | undefined,
): Record<string, unknown> {
  const moments = {
    ...(start.length > 0 && { start }),
    ...(everyFrame.length > 0 && { everyFrame }),
    ...(leave.length > 0 && { leave }),
  };
  return { ...(exposed && { exposed }), ...(Object.keys(moments).length > 0 && { moments }) };
}

export interface LearnedPlan {
  plan: Record<string, unknown>;
  evidence: Evidence[];
}

function tablesOf(tables: ReturnType<typeof tableRules>, language: Language | undefined): Record<string, unknown> {
  const own = tables.filter((one) => one.language === language);
  return own.length > 0 ? { tables: Object.fromEntries(own.map(({ name, rule }) => [name, rule])) } : {};
}

function rowEvidence({ call, means, reading, sure, count, why }: CallRow): Evidence {
  return {
    key: callKey(call),
    sure,
    of: reading?.uses ?? count,
    leads: reading?.useHits ?? count,
    chance: reading?.chance ?? 0,
    examples: reading?.examples ?? [],
    misses: reading?.misses ?? [],
    says: reading ? `${saysOf(reading, call)}` : `${call} means “${means}”: ${why}`,
    ...(reading && { reading }),
  };
}

/** That a mark exposes fields is told by their names alone. */
const FIELDS_SURE = 0.85;
/** Fields that files fill as often as this must be filled. */
const MOSTLY_FILLED = 0.9;
/** Fields that a sentence names. */
const MOST_NAMED = 4;

const endingOf = (path: string): string => baseName(path).slice(baseName(path).lastIndexOf('.'));

export function planOf(name: string, learned: Learned): LearnedPlan {
  const { kinds, domains, readings, channels, trees, code } = learned;
  const { paths } = learned.files;
  const uses = new Map<Domain, number>();
  const united: Domain[][] = [];
  for (const { to, uses: count, hitsOf, hits } of readings) {
    if ('path' in to) continue;
    united.push(to.domains);
    to.domains.forEach((domain, at) => uses.set(domain, (uses.get(domain) ?? 0) + (count * (hitsOf[at] ?? 0)) / hits));
  }
  const naming = new Naming(domains, uses, united, new Set(trees.objects.map(({ piece }) => piece)), learned.texts);
  const inChannels = new Set(
    channels.flatMap(({ sends, listens, letsGo }) => [...sends, ...listens, ...letsGo].map(({ form }) => form)),
  );
  const explained = new Set(readings.map(({ field }) => field));
  const open = learned.calls
    .filter((field) => !explained.has(field) && !inChannels.has(field.place.form))
    .map((field) => ({ field, texts: new Set(field.texts.numbers()) }));
  const labels = labelsOf(trees, open, new Set(readings.flatMap(({ field }) => field.shape ?? [])), learned.texts);
  for (const tree of trees.objects)
    for (const item of labels.keys())
      if ([item.parent?.parent, item.parent?.parent?.parent].includes(tree.piece)) tree.labels = item;
  const carried = [...labels.keys()];
  const askLabels = open
    .map(({ field }) => {
      let leads = 0;
      for (const text of field.texts.numbers())
        if (carried.some((item) => item.texts.has(text))) leads += field.texts.count(text);
      return { field, share: leads / field.texts.total };
    })
    .filter(({ share }) => share >= ASKS);
  const scriptNames = new Map<Language, string>(
    grouped(
      [...code.files.keys()].map((file) => paths[file] ?? ''),
      endingOf,
    ).flatMap(([path]) => {
      const language = languageOf(path);
      return language ? [[language, endingOf(path).slice(1)]] : [];
    }),
  );
  const rules = fileRules(
    kinds,
    readings,
    naming,
    trees,
    learned.wires,
    learned.positions,
    paths,
    (language) => scriptNames.get(language) ?? language,
  );
  const files: Record<string, unknown> = Object.fromEntries(rules.map((one) => [one.name, one.rule]));
  const structured = new Set(kinds.filter(({ table }) => !table).flatMap((kind) => kind.files));
  const media = grouped(
    paths.filter((path, at) => isMediaName(path) && !structured.has(at)),
    endingOf,
  ).map(([path]) => `**/*${endingOf(path)}`);
  if (media.length > 0) files.media = { match: media.sort(), as: 'media' };
  const endings = grouped(
    [...code.files.keys()].map((file) => paths[file] ?? ''),
    endingOf,
  );
  const kindOfFile = new Map(
    kinds.filter(({ table }) => !table).flatMap((kind) => kind.files.map((file) => [file, kind] as const)),
  );
  const sight = { code, trees, naming, files: learned.files, kindOfFile };
  for (const rule of rules) giveRoles(rule, sight);
  const rows = [
    ...rowsByTexts(
      readings.filter(({ field }) => field.place !== undefined),
      sight,
    ),
    ...rowsOfChannels(channels),
    ...rowsOfMembers(learned.memberEvents),
    ...askLabels.map(({ field, share }): CallRow => ({
      call: written(field.place.form, new Map([[field.place.at, '$label']])),
      means: 'find label',
      more: { scope: 'all' },
      reading: undefined,
      count: field.texts.total,
      sure: 0.6 + 0.25 * share,
      why: 'objects carry these labels',
    })),
    ...rowsByTypes(learned.forms, code, learned.texts),
  ];
  for (const [{ declaredBy }, space] of naming.declared) {
    const row = declaredBy && declareRow(declaredBy, space);
    if (!row || rows.some(({ call }) => call === row.call)) continue;
    const isSecond = rows.some(({ call }) => sameHead(call, row.call));
    rows.push(isSecond ? { ...row, more: { also: true, ...row.more } } : row);
  }
  const handlers = namedHandlers(
    code,
    learned.calls.filter((field) => !explained.has(field)),
    learned.texts,
  );
  for (const { sends } of handlers) if (!rows.some(({ call }) => sameHead(call, sends.call))) rows.push(sends);
  rows.push(...rowsByUse(learned.forms, code, new Set(rows.map(({ call }) => call.replace(/[<(].*$/, '')))));
  const moments = momentsOf(code, learned.forms, channels);
  const filled = filledFields(trees, learned.texts);
  const habits: Evidence[] = [];
  const exposed = (language: string): Record<string, unknown> | undefined => {
    const found = exposedBy(code, filled, language);
    if (!found) return undefined;
    // Where files leave many empty here and there, none must be filled.
    const { share, mayBeEmpty } = shareFilled(trees, code, found.isMarked, learned.files, learned.texts);
    const required = share >= MOSTLY_FILLED;
    habits.push({
      key: `scripts.${scriptNames.get(language as Language) ?? language}`,
      sure: FIELDS_SURE,
      of: filled.size,
      leads: filled.size,
      chance: 0,
      examples: [...filled].slice(0, 3),
      misses: [],
      says: `fields with the ${'decorators' in found.rule ? 'mark' : 'type'} ${Object.values(found.rule).flat().join(', ')} are filled in files${required ? `, and must be${mayBeEmpty.length > 0 ? ` but for ${mayBeEmpty.slice(0, MOST_NAMED).join(', ')}` : ''}` : ''}`,
    });
    if (!required) return { ...found.rule, required: false };
    return mayBeEmpty.length > 0 ? { ...found.rule, mayBeEmpty } : found.rule;
  };
  const tables = tableRules(
    kinds,
    readings,
    naming,
    trees,
    learned.wires,
    paths,
    (language) => scriptNames.get(language) ?? language,
  );
  const conventions = (language: Language, name: string): Record<string, unknown> => {
    const naming = typeNaming(code, language, learned.files);
    const imports = importForm(code, language, learned.files);
    const all = handlers.filter(({ languages }) => languages.has(language));
    const heard = all.filter((one, at) => at === all.findIndex((other) => isSameHandler(one, other)));
    if (naming)
      habits.push(habit(`scripts.${name}.typeNamed`, naming, `types are named after their files, in .${name}`));
    if (imports)
      habits.push(habit(`scripts.${name}.imports`, imports, `imports lead to files as the plan says, in .${name}`));
    return {
      ...(naming && { typeNamed: naming.value }),
      ...(imports && { imports: imports.value }),
      ...(heard.length > 0 && { handlers: heard.map(({ functions, event }) => ({ functions, event })) }),
    };
  };
  const scripts: Record<string, unknown> = Object.fromEntries(
    endings.map(([path]) => [
      endingOf(path).slice(1),
      {
        match: `**/*${endingOf(path)}`,
        language: languageOf(path),
        ...conventions(must(languageOf(path)), endingOf(path).slice(1)),
        ...scriptHabits(moments, exposed(languageOf(path) ?? '')),
        ...tablesOf(tables, languageOf(path)),
      },
    ]),
  );
  const engine = engineRule(learned, habits);
  // Code inside data is read as scripts are, though there may be none.
  for (const { language } of kinds.flatMap(({ inside }) => inside))
    if (!scriptNames.has(language))
      scripts[language] = { match: `**/*.${LANGUAGE[language].fileEndings[0]}`, language };
  const calls = rows.map(({ call, means, more }): Record<string, unknown> => ({ call, means, ...more }));
  const plan = {
    version: 1,
    name,
    files,
    ...(Object.keys(scripts).length > 0 && { scripts }),
    ...(calls.length > 0 && { calls }),
    ...(engine && { engine }),
  };
  const byKey = new Map(calls.map((row) => [callKey(String(row.call)), row]));
  for (const { name: of, rule } of rules)
    for (const [key, one] of Object.entries((rule.references ?? {}) as Record<string, Record<string, unknown>>))
      byKey.set(`files.${of}.references.${key}`, one);
  const asked = (one: Evidence): Evidence => {
    const rule = byKey.get(one.key);
    const candidates = (rule && one.reading && learned.others.get(one.reading.field)) ?? [];
    return { ...one, ...questionOf(one, rule ?? {}, candidates, sight) };
  };
  return {
    plan,
    evidence: [
      ...[...rules.flatMap((one) => one.evidence), ...rows.map(rowEvidence)].map(asked),
      ...tables.flatMap((one) => one.evidence),
      ...habits,
    ],
  };
}

const isSameHandler = (one: NamedHandlers, other: NamedHandlers): boolean =>
  one.functions === other.functions && one.event === other.event;

const sameHead = (one: string, other: string): boolean => one.replace(/[<(].*$/, '') === other.replace(/[<(].*$/, '');

function habit<T>(key: string, { of, leads, sure, misses }: Convention<T>, says: string): Evidence {
  return { key, sure, of, leads, chance: 0, examples: [], misses, says: `${says}: ${leads} of ${of} keep to it` };
}

/** That all the engine gives is used somewhere is no more than likely. */
const ENGINE_SURE = 0.8;

function engines(key: string, names: readonly string[], slips: string[], says: string): Evidence {
  return {
    ...{ key, sure: ENGINE_SURE, of: names.length + slips.length, leads: names.length, chance: 0 },
    ...{ examples: names.slice(0, 3), misses: slips, says: `${names.length} ${says}` },
  };
}

/** What comes from the engine, as a plan says it. */
function engineRule(
  { code, channels, kinds, calls, readings, texts }: Learned,
  habits: Evidence[],
): Record<string, unknown> | undefined {
  const own = enginesOwn(code);
  const ends = new Set(channels.flatMap(({ fields }) => fields));
  const places = [
    ...kinds.flatMap(({ shape }) => [...shapesIn(shape)].map((one) => one.texts)),
    ...calls.filter((field) => !ends.has(field)).map((field) => field.texts),
  ];
  const events = enginesEvents(channels, (text) => places.some((place) => place.has(text)), texts);
  const { functions, slips } = enginesFunctions(readings, code, texts);
  if (!own && events.length + functions.length === 0) return undefined;
  const says = 'functions that scripts call and none declares are the engine’s';
  if (functions.length > 0) habits.push(engines('engine.functions', functions, slips, says));
  if (own)
    habits.push(
      engines(
        'engine.members',
        own.members,
        own.slips,
        'members that scripts use and their own types do not declare are the engine’s',
      ),
    );
  return {
    ...(events.length > 0 && { events }),
    ...(functions.length > 0 && { functions }),
    ...(own && { types: own.types, members: own.members }),
  };
}

/** Of the scenes so many stand in the list of those that the game has. */
const MOST_SCENES = 0.6;
const FEWEST_SCENES = 3;
const STARTS = /start|first|begin|entry|main|initial|boot/i;

/** Marks the list of scenes that the game has, and what says with which play begins. */
function giveRoles({ rule, evidence }: FileRules, { trees, kindOfFile, files }: Sight): void {
  const scenes = [...kindOfFile].filter(([, kind]) => trees.roles.get(kind) === 'scene').length;
  const references = (rule.references ?? {}) as Record<string, Record<string, unknown>>;
  const ofScenes = evidence.flatMap(({ key, reading }) => {
    const [, name] = key.split('.references.');
    const kind = reading && kindsNamed(reading, kindOfFile, files)[0];
    const isOne = reading?.field.kind?.files.length === 1;
    return name !== undefined && kind && isOne && trees.roles.get(kind) === 'scene' ? [{ name, reading }] : [];
  });
  for (const { name, reading } of ofScenes) {
    const { shape, texts } = reading.field;
    const isList = shape !== undefined && isItem(shape) && texts.size === texts.total;
    if (isList && reading.hits >= Math.max(FEWEST_SCENES, scenes * MOST_SCENES))
      must(references[name]).role = 'build list';
  }
  if (!Object.values(references).some(({ role }) => role === 'build list')) return;
  for (const { name, reading } of ofScenes)
    if (reading.field.texts.total === 1 && STARTS.test(name)) must(references[name]).role = 'start scene';
}
