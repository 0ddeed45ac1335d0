import Joi from 'joi';
import { GlueError } from '../../model/errors.js';
import { SEVERITIES } from '../../model/finding.js';
import { SCOPES, SIDES, VERBS } from '../../model/link.js';
import { PIECE_KINDS } from '../../model/piece.js';
import { compileSelector } from '../selector/select.js';
import { FORMATS } from '../tree/read-tree.js';
import { parseCallPattern } from './call-pattern.js';
import { FILE_KINDS, INNER_KINDS, LANGUAGES, MEANINGS, REFERENCE_FORMS, type Source } from './plan.js';

/** An object with known keys; an unknown one is reported with the keys that would be right. */
function shape(keys: Record<string, Joi.Schema>): Joi.ObjectSchema {
  const allowed = Object.keys(keys);
  return Joi.object(keys).error((errors) => {
    for (const error of errors) if (error.code === 'object.unknown') error.local['allowed'] = allowed;
    return errors as unknown as Joi.ValidationErrorFunction extends (e: never) => infer R ? R : never;
  });
}

/** Rules by name. */
const named = (rule: Joi.Schema): Joi.ObjectSchema => Joi.object().pattern(Joi.string().min(1), rule).default({});

const explained =
  <T>(read: (text: string) => T) =>
  (text: string, helpers: Joi.CustomHelpers): unknown => {
    try {
      read(text);
      return text;
    } catch (error) {
      const why = error instanceof GlueError ? error.detail : error instanceof Error ? error.message : String(error);
      return helpers.error('glue.explained', { why });
    }
  };

const selector = Joi.string().custom(explained(compileSelector));
const pattern = Joi.string().custom(explained((text) => new RegExp(text, 'u')));
const glob = Joi.string().min(1);
const globs = Joi.array().items(glob).single().min(1);
const names = Joi.array().items(Joi.string()).single().default([]);

/** A source is a selector, or an object that says more; both become the object. */
const source = Joi.alternatives()
  .try(
    selector.custom((select: string): Source => ({ select })),
    shape({
      select: selector,
      key: Joi.boolean().valid(true),
      file: Joi.string().valid('path', 'name', 'stem'),
      pattern,
    }).or('select', 'key', 'file'),
  )
  .messages({ 'alternatives.match': 'a selector such as "$.name", or an object with "select", "key" or "file"' });

const targetForm = {
  by: Joi.string().valid(...REFERENCE_FORMS),
  pattern,
  kinds: Joi.array()
    .items(Joi.string().valid(...PIECE_KINDS))
    .single()
    .default([]),
  from: Joi.string().valid('project', 'file').default('project'),
  roots: names,
  endings: names,
  separator: Joi.string().min(1).default('/'),
  up: Joi.string().min(1).default('..'),
  empty: Joi.array().items(Joi.string().allow('')).single().default(['']),
};
const target = (by: string): Record<string, Joi.Schema> => ({ ...targetForm, by: targetForm.by.default(by) });
const defaultTarget = {
  by: 'path',
  kinds: [],
  from: 'project',
  roots: [],
  endings: [],
  separator: '/',
  up: '..',
  empty: [''],
};

const partRule = shape({
  at: selector.required(),
  type: source,
  script: shape({ ...target('path'), field: source.required() }),
  values: selector,
});

const pieceRule = shape({
  at: selector.required(),
  kind: Joi.string()
    .valid(...INNER_KINDS)
    .required(),
  id: source,
  named: source.default({ select: '$.name' }),
  parent: Joi.alternatives()
    .try(
      Joi.string().valid('nesting'),
      shape({ field: source.required(), by: Joi.string().valid('id', 'name').default('id') }),
    )
    .default('nesting'),
  madeFrom: shape({ ...target('path'), field: source.required() }),
  parts: Joi.array().items(partRule).single().default([]),
});

const referenceRule = shape({
  at: selector.required(),
  written: Joi.string().valid('value', 'key').default('value'),
  ...targetForm,
  by: targetForm.by.required(),
  verb: Joi.string()
    .valid(...VERBS)
    .default('uses'),
});

const eventRule = shape({
  at: selector.required(),
  event: source.required(),
  from: source,
  to: source,
  handler: source,
  by: Joi.string().valid('id', 'name').default('id'),
});

const fileRule = shape({
  match: globs.required(),
  as: Joi.string()
    .valid(...FILE_KINDS)
    .required(),
  format: Joi.string().valid(...FORMATS),
  id: source,
  named: source.default({ file: 'stem' }),
  pieces: named(pieceRule),
  references: named(referenceRule),
  events: named(eventRule),
});

const scriptRule = shape({
  match: globs.required(),
  language: Joi.string()
    .valid(...LANGUAGES)
    .required(),
  exposed: shape({
    decorators: names,
    types: names,
    required: Joi.boolean().default(true),
  }).default({ decorators: [], types: [], required: true }),
  moments: shape({ start: names, everyFrame: names, leave: names }).default({ start: [], everyFrame: [], leave: [] }),
});

const callRule = shape({
  call: Joi.string().required().custom(explained(parseCallPattern)),
  means: Joi.string()
    .valid(...MEANINGS)
    .required(),
  scope: Joi.string()
    .valid(...SCOPES)
    .default('unknown'),
  side: Joi.string()
    .valid(...SIDES)
    .default('unknown'),
  target: shape(target('path')).default(defaultTarget),
  under: Joi.string(),
});

/** The whole plan. `$schema` is for editors and is passed over. */
export const planSchema = shape({
  $schema: Joi.string(),
  version: Joi.number().valid(1).required(),
  name: Joi.string().min(1).required(),
  ignore: Joi.array().items(glob).single().default([]),
  files: named(fileRule),
  scripts: named(scriptRule),
  calls: Joi.array().items(callRule).default([]),
  typeNames: Joi.object().pattern(Joi.string(), Joi.string().min(1)).default({}),
  engine: shape({ events: names, objects: names, parts: names, files: names }).default({
    events: [],
    objects: [],
    parts: [],
    files: [],
  }),
  checks: Joi.object()
    .pattern(Joi.string(), Joi.string().valid(...SEVERITIES, 'off'))
    .default({}),
}).messages({ 'glue.explained': '{#why}' });
