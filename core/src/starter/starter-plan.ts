/** Writes a first reading plan by looking at a project's files: what they are, and which fields name things. */
import { knownIn, must } from '../helpers/at.js';
import { formatOf, readTree } from '../reading/tree/read-tree.js';
import { isLeaf, textOf, type TreeNode } from '../reading/tree/node.js';
import { LANGUAGES, type Language } from '../reading/plan/plan.js';
import { LANGUAGE } from '../reading/scripts/languages.js';
import { baseName, folderOf } from '../reading/source.js';

/** A file of the project; `text` is given for structured files that are worth a look. */
export interface SampleFile {
  path: string;
  text?: string;
}

const SCRIPTS: Record<string, Language> = Object.fromEntries(
  LANGUAGES.flatMap((language) => LANGUAGE[language].fileEndings.map((ending) => [ending, language] as const)),
);
const MEDIA = [
  'png',
  'jpg',
  'jpeg',
  'webp',
  'svg',
  'ogg',
  'wav',
  'mp3',
  'flac',
  'ttf',
  'otf',
  'glb',
  'bin',
  'mp4',
  'webm',
];
/** Structured files looked into, for each kind of file. */
const LOOKED_AT = 12;
const NAME_KEYS = ['name', 'title', 'label', 'displayName'];
const ID_KEYS = ['id', 'uid', 'uuid', 'guid', 'identity', 'key', 'code'];

/** A plan that reads the files given, as formatted JSON text. Always valid, and meant to be corrected by hand. */
export function starterPlan(projectName: string, files: SampleFile[]): string {
  const plan = {
    version: 1,
    name: projectName || 'Unnamed project',
    ignore: ['node_modules/**', '.git/**'],
    files: { ...structuredRules(files), ...mediaRule(files) },
    scripts: scriptRules(files),
    calls: [],
  };
  // Notes are written as members first, since JSON has no comments, and become comments here.
  return JSON.stringify(plan, null, 2).replace(/^(\s*)"\$note": "(.*)",$/gm, '$1// $2') + '\n';
}

function extension(path: string): string {
  const base = baseName(path);
  const dot = base.lastIndexOf('.');
  return dot > 0 ? base.slice(dot + 1).toLowerCase() : '';
}

/** All endings of a name: `tender.prefab.json` gives `prefab.json`. */
function endings(path: string): string {
  const base = baseName(path);
  const dot = base.indexOf('.', 1);
  return dot > 0 ? base.slice(dot + 1) : '';
}

function scriptRules(files: SampleFile[]): Record<string, object> {
  const found = [...new Set(files.map((file) => extension(file.path)))].filter((ending) => ending in SCRIPTS);
  return Object.fromEntries(found.map((ending) => [ending, { match: [`**/*.${ending}`], language: SCRIPTS[ending] }]));
}

function mediaRule(files: SampleFile[]): Record<string, object> {
  const found = [...new Set(files.map((file) => extension(file.path)))]
    .filter((ending) => MEDIA.includes(ending))
    .sort();
  return found.length === 0 ? {} : { media: { match: found.map((ending) => `**/*.${ending}`), as: 'media' } };
}

function structuredRules(files: SampleFile[]): Record<string, object> {
  const groups = new Map<string, SampleFile[]>();
  for (const file of files) {
    if (!formatOf(file.path) || /(^|\/)(package(-lock)?|tsconfig.*|glue-trace)\.json$/.test(file.path)) continue;
    const ending = endings(file.path);
    const key = ending.includes('.')
      ? `**/*.${ending}`
      : `${folderOf(file.path) ? `${folderOf(file.path)}/` : ''}*.${ending}`;
    groups.set(key, [...(groups.get(key) ?? []), file]);
  }
  // A glob with more in front stands first, since the first rule that matches reads a file.
  const sorted = [...groups].sort(([a], [b]) => b.length - a.length || (a < b ? -1 : 1));
  const looks = new Map(sorted.map(([match, group]) => [match, lookInto(group)]));
  const known: Known = {
    path: new Set(files.map((file) => file.path)),
    id: new Set([...looks.values()].flatMap((look) => [...look.ids])),
    name: new Set([...looks.values()].flatMap((look) => [...look.names])),
  };
  const rules: Record<string, object> = {};
  for (const [match] of sorted) rules[ruleName(match, rules)] = structuredRule(match, knownIn(looks, match), known);
  return rules;
}

function ruleName(match: string, taken: Record<string, object>): string {
  const words = match
    .replace(/\*\*\/\*\./, '')
    .replace(/\.?(json|jsonc|yaml|yml)$/, '')
    .replace(/\*/g, '')
    .split(/[^A-Za-z0-9]+/)
    .filter(Boolean);
  const name = words.join('-') || 'data';
  return name in taken ? `${name}-${Object.keys(taken).length + 1}` : name;
}

/** What can be referred to: files, and what pieces are identified and called by. */
type Known = Record<'path' | 'id' | 'name', Set<string>>;

/** What stands in some files of one kind. */
interface Look {
  /** Lists whose items carry a name or identity, by the name of the list. */
  lists: Map<string, { named: string; id: string }>;
  ids: Set<string>;
  names: Set<string>;
  /** Texts by the name they stand under, each with the folder of its file. */
  texts: Map<string, { text: string; folder: string }[]>;
}

/** Fewer texts than this say nothing about a field, and less than this share of them leads somewhere by chance. */
const ENOUGH = { texts: 1, share: 0.5 };
/** Names are often words that stand in texts as well: they must lead somewhere more often. */
const NAMES_ENOUGH = { texts: 3, share: 0.8 };

function structuredRule(match: string, { lists, texts }: Look, known: Known): object {
  const as = /scene|level|map|world/i.test(match) ? 'scene' : /prefab|template/i.test(match) ? 'prefab' : 'data asset';
  const kind = as === 'data asset' ? 'record' : 'object';
  const pieces = Object.fromEntries(
    [...lists].map(([key, { named, id }]) => [
      key,
      {
        at: `$..${step(key)}[*]`,
        kind,
        ...(id ? { id: `$${step(id, true)}` } : {}),
        named: named ? `$${step(named, true)}` : { key: true },
      },
    ]),
  );
  const own = new Set([...lists.values()].flatMap(({ named, id }) => [named, id]).concat(NAME_KEYS, ID_KEYS));
  const references: Record<string, object> = {};
  for (const [key, found] of texts) {
    const reference = own.has(key) ? undefined : referenceOf(key, found, known);
    if (reference) references[key] = reference;
  }
  return {
    match: [match],
    as,
    ...(lists.size > 0 ? { pieces } : {}),
    ...(Object.keys(references).length > 0 ? { references } : {}),
  };
}

/** The form in which most of a field's texts lead somewhere, with how many do. */
function referenceOf(key: string, found: { text: string; folder: string }[], known: Known): object | undefined {
  const plain = (text: string): string => text.replace(/^\.?\//, '');
  const forms: { by: keyof Known; from?: 'file'; leads: (one: { text: string; folder: string }) => boolean }[] = [
    { by: 'path', leads: ({ text }) => known.path.has(plain(text)) },
    { by: 'path', from: 'file', leads: ({ text, folder }) => known.path.has(`${folder}${plain(text)}`) },
    { by: 'id', leads: ({ text }) => known.id.has(text) },
    { by: 'name', leads: ({ text }) => known.name.has(text) },
  ];
  for (const { by, from, leads } of forms) {
    const count = found.filter(leads).length;
    const { texts, share } = by === 'name' ? NAMES_ENOUGH : ENOUGH;
    if (count < texts || count / found.length < share) continue;
    const note = `${count} of ${found.length} looked at lead somewhere`;
    return { $note: note, at: `$..${step(key)}`, by, ...(from ? { from } : {}) };
  }
  return undefined;
}

function step(key: string, dotted = false): string {
  return /^[A-Za-z_][A-Za-z0-9_]*$/.test(key) ? (dotted ? `.${key}` : key) : `[${JSON.stringify(key)}]`;
}

/** Looks into the first files of a kind. */
function lookInto(group: SampleFile[]): Look {
  const look: Look = { lists: new Map(), ids: new Set(), names: new Set(), texts: new Map() };
  for (const { path, text } of group.slice(0, LOOKED_AT)) {
    if (text === undefined) continue;
    const folder = folderOf(path);
    for (const document of readTree(text, must(formatOf(path))).documents)
      lookAt(document, look, folder && `${folder}/`);
  }
  return look;
}

function lookAt(document: TreeNode, look: Look, folder: string): void {
  const open = [document];
  for (let at = open.pop(); at; at = open.pop()) {
    open.push(...at.children);
    if (at.kind === 'list' && at.key && at.children.length > 0 && at.children.every((item) => item.kind === 'object'))
      noteList(at, look);
    if (!isLeaf(at) || at.kind !== 'text' || !at.value) continue;
    // A text in a list stands under the name of the list.
    const key = at.key || (at.parent?.kind === 'list' ? at.parent.key : '');
    if (!key) continue;
    const texts = look.texts.get(key) ?? [];
    look.texts.set(key, texts);
    texts.push({ text: textOf(at), folder });
  }
}

function noteList(list: TreeNode, look: Look): void {
  const keys = list.children.flatMap((item) => item.children.map((child) => child.key));
  const named = NAME_KEYS.find((key) => keys.includes(key)) ?? '';
  const id = ID_KEYS.find((key) => keys.includes(key)) ?? '';
  if (!named && !id) return;
  const before = look.lists.get(list.key);
  look.lists.set(list.key, { named: before?.named || named || id, id: before?.id || id });
  for (const item of list.children) {
    for (const child of item.children) {
      if (child.key === id && id) look.ids.add(textOf(child));
      if (child.key === named && named) look.names.add(textOf(child));
    }
  }
}
