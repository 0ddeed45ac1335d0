// Turns the descriptions of Joi schemas into JSON Schema 2020-12, and into tables for the reference.

/** What Joi says of a schema, by its kind, as JSON Schema. Checks written as functions have no counterpart there. */
export function jsonSchema(described, title) {
  return { $schema: 'https://json-schema.org/draft/2020-12/schema', title, ...convert(described) };
}

function convert(of) {
  const schema = withoutNotes(of);
  const { description, default: fallback } = of.flags ?? {};
  if (description) schema.description = description;
  if (fallback !== undefined && typeof fallback !== 'object') schema.default = fallback;
  return schema;
}

function withoutNotes(of) {
  const { type } = of;
  const words = (of.allow ?? []).filter((word) => typeof word !== 'object');
  if (of.flags?.only && words.length > 0) return words.length === 1 ? { const: words[0] } : { enum: words };
  if (type === 'string') return { type: 'string' };
  if (type === 'boolean') return { type: 'boolean' };
  if (type === 'number') return { type: of.rules?.some((rule) => rule.name === 'integer') ? 'integer' : 'number' };
  if (type === 'any') return {};
  if (type === 'array') {
    const items = of.items ? (of.items.length === 1 ? convert(of.items[0]) : { anyOf: of.items.map(convert) }) : {};
    const list = { type: 'array', items };
    // A single value may stand for a list of one.
    return of.flags?.single ? { anyOf: [items, list] } : list;
  }
  if (type === 'alternatives') {
    const options = of.matches.flatMap(({ schema, then, otherwise }) => [schema, then, otherwise].filter(Boolean));
    return { anyOf: options.filter((one) => one.type !== 'object' || one.keys).map(convert) };
  }
  if (type === 'object') {
    const keys = Object.entries(of.keys ?? {});
    const required = keys.filter(([, one]) => one.flags?.presence === 'required').map(([key]) => key);
    const [pattern] = of.patterns ?? [];
    const oneOfThem = of.dependencies?.find(({ rel }) => rel === 'or');
    return {
      type: 'object',
      ...(keys.length > 0 ? { properties: Object.fromEntries(keys.map(([key, one]) => [key, convert(one)])) } : {}),
      ...(required.length > 0 ? { required } : {}),
      ...(oneOfThem ? { anyOf: oneOfThem.peers.map((peer) => ({ required: [peer] })) } : {}),
      additionalProperties: pattern ? convert(pattern.rule) : of.flags?.unknown === true,
    };
  }
  throw new Error(`no JSON Schema for Joi’s “${type}”`);
}

/** A Markdown table of an object's keys: what each takes, and what it means. */
export function keysTable(described) {
  const rows = Object.entries(described.keys).map(([key, of]) => {
    const isRequired = of.flags?.presence === 'required';
    return `| \`${key}\`${isRequired ? ' (required)' : ''} | ${takes(of)} | ${cell(of.flags?.description ?? '')}${fallback(of)} |`;
  });
  return ['| key | takes | meaning |', '| --- | --- | --- |', ...rows].join('\n');
}

function fallback(of) {
  const value = of.flags?.default;
  const isSaid = ['string', 'number', 'boolean'].includes(typeof value) && value !== false && value !== 'unknown';
  return isSaid ? `; \`${value}\` unless given` : '';
}

function cell(text) {
  return text.replaceAll('|', '\\|');
}

/** In words, what a key takes. */
function takes(of) {
  const meta = of.metas?.find((one) => one.is)?.is;
  if (meta) return meta === 'source' ? 'source' : meta;
  const words = (of.allow ?? []).filter((word) => typeof word !== 'object');
  if (of.flags?.only && words.length > 0)
    return words.length > 14 ? 'a word' : words.map((word) => `\`${word}\``).join(', ');
  if (of.type === 'array') return of.items?.length === 1 ? `${takes(of.items[0])}, or a list` : 'list';
  if (of.type === 'object') {
    if (of.patterns) return 'by name';
    return of.keys?.field && of.keys?.by ? 'source and target' : 'object';
  }
  if (of.type === 'alternatives') {
    return [...new Set(of.matches.map(({ schema }) => schema && takes(schema)).filter(Boolean))].join(' or ');
  }
  return { string: 'text', boolean: '`true` or `false`', number: 'number' }[of.type] ?? of.type;
}
