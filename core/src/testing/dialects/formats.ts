/** Plain values in the formats that teams write: small writers that know what dialects need. */
export type Value = string | number | Value[] | { [key: string]: Value };
export type Written =
  'json' | 'yaml' | 'xml attributes' | 'xml elements' | 'toml' | 'ini' | 'csv' | 'own lines' | 'lua';

export const ENDING: Record<Written, string> = {
  json: 'json',
  yaml: 'yaml',
  'xml attributes': 'xml',
  'xml elements': 'xml',
  toml: 'toml',
  ini: 'ini',
  csv: 'csv',
  'own lines': 'list',
  lua: 'lua',
};

const isBranch = (value: Value): value is Value[] | { [key: string]: Value } => typeof value === 'object';
const quoted = (text: string | number): string => (typeof text === 'number' ? String(text) : JSON.stringify(text));

export function yaml(value: Value, indent = ''): string {
  if (!isBranch(value)) return `${plainYaml(value)}\n`;
  const lines: string[] = [];
  if (Array.isArray(value)) {
    if (value.length === 0) return '[]\n';
    for (const item of value) {
      const inner = yaml(item, `${indent}  `);
      lines.push(
        isBranch(item) && !isEmpty(item) ? `${indent}- ${inner.slice(indent.length + 2)}` : `${indent}- ${inner}`,
      );
    }
    return lines.join('');
  }
  const entries = Object.entries(value);
  if (entries.length === 0) return '{}\n';
  for (const [key, inner] of entries)
    lines.push(
      isBranch(inner) && !isEmpty(inner)
        ? `${indent}${plainYaml(key)}:\n${yaml(inner, `${indent}  `)}`
        : `${indent}${plainYaml(key)}: ${yaml(inner, `${indent}  `)}`,
    );
  return lines.join('');
}

const isEmpty = (value: Value): boolean =>
  Array.isArray(value) ? value.length === 0 : isBranch(value) && Object.keys(value).length === 0;

function plainYaml(text: string | number): string {
  return typeof text === 'string' && !/^[A-Za-z][\w .-]*$/.test(text) ? JSON.stringify(text) : String(text);
}

/** @param areElements whether values are elements of their own and not attributes */
export function xml(tag: string, value: Value, areElements: boolean, indent = ''): string {
  const escaped = (text: string | number): string =>
    String(text).replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/"/g, '&quot;');
  if (!isBranch(value)) return `${indent}<${tag}>${escaped(value)}</${tag}>\n`;
  if (Array.isArray(value)) return value.map((item) => xml(tag, item, areElements, indent)).join('');
  const entries = Object.entries(value);
  const isAttribute = (inner: Value): inner is string | number => !isBranch(inner) && !areElements;
  const attributes = entries
    .flatMap(([key, inner]) => (isAttribute(inner) ? [` ${key}="${escaped(inner)}"`] : []))
    .join('');
  const inner = entries
    .flatMap(([key, one]) => (isAttribute(one) ? [] : [xml(key, one, areElements, `${indent}  `)]))
    .join('');
  return inner === ''
    ? `${indent}<${tag}${attributes}/>\n`
    : `${indent}<${tag}${attributes}>\n${inner}${indent}</${tag}>\n`;
}

export function toml(value: { [key: string]: Value }, path = ''): string {
  const entries = Object.entries(value);
  const isTable = (one: Value): one is { [key: string]: Value } => isBranch(one) && !Array.isArray(one);
  const isTables = (one: Value): one is { [key: string]: Value }[] =>
    Array.isArray(one) && one.length > 0 && one.every(isTable);
  const key = (name: string): string => (/^[\w-]+$/.test(name) ? name : JSON.stringify(name));
  const own = entries.flatMap(([name, one]) =>
    isTable(one) || isTables(one)
      ? []
      : [
          `${key(name)} = ${Array.isArray(one) ? `[${one.map((item) => quoted(item as string)).join(', ')}]` : quoted(one)}\n`,
        ],
  );
  const inner = entries.flatMap(([name, one]) => {
    const at = path ? `${path}.${key(name)}` : key(name);
    if (isTables(one)) return one.map((item) => `\n[[${at}]]\n${toml(item, at)}`);
    return isTable(one) ? [`\n[${at}]\n${toml(one, at)}`] : [];
  });
  return [...own, ...inner].join('');
}

export function ini(value: { [key: string]: Value }): string {
  return Object.entries(value)
    .map(
      ([section, one]) =>
        `[${section}]\n${Object.entries(one)
          .map(([key, inner]) => `${key} = ${String(inner)}\n`)
          .join('')}`,
    )
    .join('\n');
}

export const capital = (word: string): string => word.slice(0, 1).toUpperCase() + word.slice(1);

/** One line for each record, names and values one behind the other. */
export function ownLines(item: string, rows: readonly { [key: string]: Value }[]): string {
  return rows
    .map(
      (row) =>
        `${item}: ${Object.entries(row)
          .map(([key, value]) => `${key}=${typeof value === 'number' ? value : `"${String(value as string)}"`}`)
          .join(' ')}\n`,
    )
    .join('');
}

export function ownKinds(item: string, rows: readonly { [key: string]: Value }[]): object {
  const keys = [...new Set(rows.flatMap((row) => Object.keys(row)))];
  const isNumber = (key: string): boolean => rows.some((row) => typeof row[key] === 'number');
  const pattern = keys.map((key) =>
    isNumber(key) ? `(?: ${key}=(?<${key}>\\d+))?` : `(?: ${key}="(?<${key}>[^"]*)")?`,
  );
  return { kinds: { [item]: { pattern: `^${item}:${pattern.join('')}`, holds: false } } };
}

export function luaTable(name: string, rows: readonly { [key: string]: Value }[]): string {
  const written = (value: Value): string =>
    Array.isArray(value)
      ? `{ ${value.map(written).join(', ')} }`
      : typeof value === 'object'
        ? `{ ${Object.entries(value)
            .map(([key, one]) => `["${key}"] = ${written(one)}`)
            .join(', ')} }`
        : JSON.stringify(value);
  return `${capital(name)} = {\n${rows
    .map(
      (row) =>
        `  { ${Object.entries(row)
          .map(([key, value]) => `${key} = ${written(value)}`)
          .join(', ')} },\n`,
    )
    .join('')}}\n`;
}

export function csv(rows: readonly { [key: string]: Value }[]): string {
  const heads = [...new Set(rows.flatMap((row) => Object.keys(row)))];
  const cell = (value: Value | undefined): string => {
    const text = value === undefined ? '' : String(value);
    return /[",\n]/.test(text) ? `"${text.replace(/"/g, '""')}"` : text;
  };
  return [heads.join(','), ...rows.map((row) => heads.map((head) => cell(row[head])).join(','))].join('\n') + '\n';
}
