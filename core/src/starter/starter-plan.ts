/** Writes a first reading plan by looking at a project's files: what they are, and which fields name things. */
import { formatOf, readTree } from '../reading/tree/read-tree.js';
import { isLeaf, textOf, type TreeNode } from '../reading/tree/node.js';
import type { Language } from '../reading/plan/plan.js';
import { baseName, folderOf } from '../reading/source.js';

/** A file of the project; `text` is given for structured files that are worth a look. */
export interface SampleFile {
  path: string;
  text?: string;
}

const SCRIPTS: Record<string, Language> = {
  ts: 'typescript',
  js: 'javascript',
  mjs: 'javascript',
  lua: 'lua',
  cs: 'csharp',
  py: 'python',
};
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
  return JSON.stringify(plan, null, 2) + '\n';
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
  const paths = new Set(files.map((file) => file.path));
  // A glob with more in front stands first, since the first rule that matches reads a file.
  const sorted = [...groups].sort(([a], [b]) => b.length - a.length || (a < b ? -1 : 1));
  const rules: Record<string, object> = {};
  for (const [match, group] of sorted) rules[ruleName(match, rules)] = structuredRule(match, group, paths);
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

function structuredRule(match: string, group: SampleFile[], paths: Set<string>): object {
  const as = /scene|level|map|world/i.test(match) ? 'scene' : /prefab|template/i.test(match) ? 'prefab' : 'data asset';
  const lists = new Map<string, { named: string; id: string }>();
  const pathKeys = new Set<string>();
  for (const file of group.slice(0, LOOKED_AT)) {
    if (file.text === undefined) continue;
    for (const document of readTree(file.text, formatOf(file.path)!).documents) look(document, lists, pathKeys, paths);
  }
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
  const references = Object.fromEntries([...pathKeys].map((key) => [key, { at: `$..${step(key)}`, by: 'path' }]));
  return { match: [match], as, ...(lists.size > 0 ? { pieces } : {}), ...(pathKeys.size > 0 ? { references } : {}) };
}

function step(key: string, dotted = false): string {
  return /^[A-Za-z_][A-Za-z0-9_]*$/.test(key) ? (dotted ? `.${key}` : key) : `[${JSON.stringify(key)}]`;
}

/** Finds lists whose items carry a name or identity, and keys whose text is the path of a file. */
function look(
  node: TreeNode,
  lists: Map<string, { named: string; id: string }>,
  pathKeys: Set<string>,
  paths: Set<string>,
): void {
  const open = [node];
  for (let at = open.pop(); at; at = open.pop()) {
    open.push(...at.children);
    if (at.kind === 'list' && at.key && at.children.length > 0 && at.children.every((item) => item.kind === 'object')) {
      const keys = at.children[0].children.map((child) => child.key);
      const named = NAME_KEYS.find((key) => keys.includes(key)) ?? '';
      const id = ID_KEYS.find((key) => keys.includes(key)) ?? '';
      if ((named || id) && !lists.has(at.key)) lists.set(at.key, { named: named || id, id });
    }
    if (isLeaf(at) && at.kind === 'text' && at.key && paths.has(textOf(at).replace(/^\.?\//, ''))) pathKeys.add(at.key);
  }
}
