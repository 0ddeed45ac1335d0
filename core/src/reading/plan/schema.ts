/** The one description of what a plan may hold: it validates plans, and the reference and the JSON Schema come from it. */
import Joi from 'joi';
import { MEANINGS, type Meaning } from './meanings.js';
import { GlueError } from '../../model/errors.js';
import { SEVERITIES } from '../../model/finding.js';
import { MOMENTS, SCOPES, SIDES, VERBS } from '../../model/link.js';
import { PIECE_KINDS } from '../../model/piece.js';
import { compilePattern } from '../../helpers/pattern.js';
import { compileGlob } from '../glob.js';
import { compileSelector } from '../selector/select.js';
import { FORMATS } from '../tree/read-tree.js';
import { parseCallPattern, ROLES } from './call-pattern.js';
import {
  FILE_KINDS,
  FUNCTION_PLACES,
  INNER_KINDS,
  JOINS,
  LANGUAGES,
  NAMINGS,
  REFERENCE_FORMS,
  SEES,
  START_ORDERS,
  TYPE_NAMINGS,
  WITHIN,
  type Source,
  type TargetForm,
} from './plan.js';

type Keys = Record<string, Joi.Schema>;

/** An object with known keys; an unknown one is reported with the keys that would be right. */
function shape(keys: Keys): Joi.ObjectSchema {
  const allowed = Object.keys(keys);
  return Joi.object(keys).error((errors) => {
    // Objects around this one are told of its errors as well: the innermost knows which keys it has.
    for (const error of errors)
      if (error.code === 'object.unknown' && !('allowed' in error.local)) Object.assign(error.local, { allowed });
    return errors;
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

const selector = Joi.string().custom(explained(compileSelector)).meta({ is: 'selector' });
const pattern = Joi.string().custom(explained(compilePattern)).meta({ is: 'pattern' });
const glob = Joi.string().min(1).max(1000).custom(explained(compileGlob));
const globs = Joi.array().items(glob).single().min(1);
const names = Joi.array().items(Joi.string()).single().default([]);
const oneOf = (words: readonly string[]): Joi.StringSchema => Joi.string().valid(...words);

// Sources -----------------------------------------------------------------------------------------------------------

const sourceKeys = {
  select: selector.description('what the selector finds first, seen from here'),
  key: Joi.boolean().valid(true).description('the name under which the thing stands'),
  index: Joi.boolean().valid(true).description('its position in its list, from 0'),
  file: oneOf(['path', 'name', 'stem']).description('the file itself: its path, its name, its name without endings'),
  text: Joi.string().allow('').description('always this text; for the ends of wires, an empty one is the thing around'),
  item: selector.description(
    'what was found is a position: the text is the one at that position among what this selector finds in the piece around',
  ),
  pattern: pattern.description('a part of the text: the first group of this regular expression, or all it matches'),
};
const STARTS = ['select', 'key', 'index', 'file', 'text'];
const selected = selector.custom((select: string): Source => ({ select }));
const sourceShape = shape({
  ...sourceKeys,
  join: Joi.array()
    .items(Joi.alternatives().try(selected, shape(sourceKeys).or(...STARTS)))
    .min(1)
    .description('texts put together, such as a folder and a name; there is none when one of them is missing'),
}).or(...STARTS, 'join');
const oneSource = Joi.alternatives().try(selected, sourceShape);
const source = Joi.alternatives()
  .try(
    oneSource,
    Joi.array()
      .items(oneSource)
      .min(1)
      .custom(([first, ...or]: Source[]): Source => ({ ...first, or })),
  )
  .messages({
    'alternatives.match':
      'a selector such as "$.name", an object with "select", "key", "index", "file", "text" or "join", or a list of them to try in turn',
  })
  .meta({ is: 'source' });

const condition = shape({
  field: source.required().description('the text that decides'),
  is: Joi.array().items(Joi.string().allow('')).single().min(1).required().description('the texts for which it holds'),
}).meta({ is: 'condition' });

// Targets -----------------------------------------------------------------------------------------------------------

const plainForm = {
  by: oneOf(REFERENCE_FORMS).description('what the text is; see the table of forms'),
  pattern: pattern.description(
    'a text that does not match is no reference; its first group is the reference proper, its second one a piece inside that file',
  ),
  kinds: Joi.array()
    .items(oneOf(PIECE_KINDS))
    .single()
    .default([])
    .description('kinds of piece it may end on; any when left out'),
  from: oneOf(['project', 'file', 'package'])
    .default('project')
    .description('what paths start from: the project, the folder of the file, or the packages in load order'),
  roots: names.description(
    'for paths: folders that stand in the place of the project’s root, tried in turn; `.` is that root itself',
  ),
  endings: names.description('for paths: endings to try when none is written'),
  schemes: Joi.object()
    .pattern(Joi.string(), Joi.string().allow(''))
    .default({})
    .description('for paths: beginnings such as "data://" and the folder each stands for'),
  anywhere: Joi.boolean()
    .default(false)
    .description('for paths: a bare file name means the file of that name anywhere below the roots'),
  files: globs
    .default(['*'])
    .description(
      'for folders: globs of files in them that are meant, seen from the folder; all that stand in it when left out',
    ),
  decode: Joi.boolean().default(false).description('for paths: %20 and the like stand for characters, as in URLs'),
  within: oneOf(WITHIN)
    .default('project')
    .description(
      'for identities and names: the outermost that counts; of several the nearest is meant: the own file, scenes loaded `together` with it, the own `package`, those around it and those `needed`, the project',
    ),
  space: names.unique().description('for identities and names: only pieces of these spaces count'),
  nearest: oneOf(['folder']).description(
    'for identities, names and paths that may be anywhere: of several the one is meant whose folder has most in common with the own',
  ),
  of: Joi.string().description('for indexes: the piece rule whose pieces are counted'),
  inner: oneOf(NAMINGS).description('for patterns with two groups: how the second names a piece in the file'),
  separator: Joi.string().min(1).default('/').description('for object paths: what stands between names'),
  up: Joi.string().min(1).default('..').description('for object paths: the step that leads up'),
  empty: Joi.array()
    .items(Joi.string().allow(''))
    .single()
    .default([''])
    .description('texts that mean nothing is referenced'),
  in: Joi.array()
    .items(oneOf(FUNCTION_PLACES))
    .single()
    .min(1)
    .default(['type'])
    .description(
      'for functions: where they are looked for, in turn: `type` (the type whose code it is, with its parents; in files the scripts on the object around), `object`, `file`, `imports` (the file and all it takes in), `receiver`, `holder`, `project`',
    ),
};
const targetForm = {
  ...plainForm,
  holder: shape({
    field: source.required().description('where the text stands'),
    ...plainForm,
    by: plainForm.by.default('type'),
  }).description('for functions in files: what names the script or type that has it'),
};
const target = (by: string): Keys => ({ ...targetForm, by: targetForm.by.default(by) });
const fieldTarget = (by: string): Joi.ObjectSchema =>
  shape({ field: source.required().description('where the text stands'), ...target(by) });
/** Objects that a call names beside an event. */
const [BY_NAME, BY_ID] = ['name', 'id'].map(
  (by) => shape(target('path')).validate({ by, kinds: 'object' }).value as object,
) as [object, object];
/** What a target is when a rule says nothing of it. */
const DEFAULT_TARGET = shape(target('path')).validate({}).value as object;
/** A function of the type whose code names it. */
export const OWN_FUNCTION = shape(target('function')).validate({}).value as TargetForm;

// Structured files --------------------------------------------------------------------------------------------------

const naming = {
  by: oneOf(NAMINGS).default('id').description('whether the text is an identity, a name or an index'),
  of: Joi.string().description('for indexes: the piece rule whose pieces are counted'),
};

const space = Joi.string()
  .min(1)
  .description('the space that its identity and name belong to: things of two spaces may be called the same');

const every = Joi.boolean().default(false).description('every match of the pattern in the text is a reference');

const bases = (by: string): Joi.ObjectSchema =>
  shape({
    field: source.required().description('where the text stands'),
    every: Joi.boolean()
      .default(false)
      .description('every node that the field selects, and every match of the pattern in it, is a base'),
    wins: oneOf(['first', 'last']).default('first').description('of several that say the same, which is in force'),
    ...target(by),
  });

const valueRule = shape({
  at: selector.required().description('seen from the piece: what it selects, with all below, are values'),
  named: source.description('the name of each; its way down from there when left out, as `hold.most`'),
  value: source.description('where the value stands; what was selected when left out'),
  called: pattern.description('for values by their way: what of it is their name'),
  how: source.description('a text by which it does something else than replace, from the value outwards'),
  means: Joi.object()
    .pattern(Joi.string().allow(''), oneOf(JOINS))
    .default({})
    .description(
      `by that text, what the value does with that of the bases: ${JOINS.map((one) => `\`${one}\``).join(', ')}`,
    ),
  words: pattern.description('the value is a list of words, each a match of this: they are added'),
  takes: pattern.description('for words: one that matches takes its first group away'),
});

const partRule = shape({
  at: selector.required().description('the parts, seen from the object'),
  type: source.description('the type of the part'),
  script: fieldTarget('path').description('the script it runs'),
  values: selector.description('the object that holds the saved values of exposed fields'),
});

const overrideRule = shape({
  at: selector.required().description('the changes, seen from the instance'),
  means: oneOf(['change', 'remove', 'add']).default('change').description('what is done'),
  on: source.description('which object inside the instance; the instance itself when left out'),
  by: oneOf(['object path', 'name', 'id']).default('object path').description('how `on` names it'),
  separator: targetForm.separator,
  part: source.description('the type of the part concerned; the object when left out'),
  values: selector.description('the object whose members are the changed values'),
  field: source.description('or one field'),
  value: selector.description('and its value'),
});

const pieceRule = shape({
  at: selector.required().description('selects them from the root; every node is one piece'),
  when: condition.description('only nodes for which this holds'),
  kind: oneOf(INNER_KINDS).required().description('what they are'),
  id: source.description('the identity, under which others refer to it'),
  named: source.default({ select: '$.name' }).description('the name'),
  space,
  parent: Joi.alternatives()
    .try(oneOf(['nesting']), shape({ field: source.required().description('the text that names it'), ...naming }))
    .default('nesting')
    .description('what holds it: the piece around it, or the one that a field names'),
  children: shape({ at: selector.required().description('texts that name the children'), ...naming }).description(
    'where the piece lists its children instead',
  ),
  madeFrom: fieldTarget('path').description('the prefab it is an instance of'),
  extends: bases('id').description('the piece or pieces it is derived from'),
  values: Joi.array()
    .items(valueRule)
    .single()
    .default([])
    .description('what it says, and what is derived from it has from it'),
  parts: Joi.array().items(partRule).single().default([]).description('what is attached to it'),
  overrides: Joi.array().items(overrideRule).single().default([]).description('what an instance changes of its prefab'),
  off: condition.description('when it is switched off at the start'),
  barred: condition.description('when a mode bars scripting, such as fixed scenery'),
  kept: condition.description('when a mark says that it keeps its state over scene changes'),
  labels: selector.description('the labels it carries'),
  repeat: shape({
    times: source.required().description('how many of it there are'),
    from: Joi.number().integer().min(0).default(0).description('the first number'),
    called: Joi.string()
      .pattern(/\{n\}/, 'a text with {n} in it')
      .default('{name}[{n}]')
      .description('what each is called'),
  }).description('it stands for several, which references may name'),
  details: Joi.object()
    .pattern(Joi.string().min(1), source)
    .default({})
    .description('further texts worth keeping, by name: the key of an input action, its context'),
});

const verb = oneOf(VERBS);
const referenceRule = shape({
  at: selector.required().description('selects the texts from the root'),
  when: condition.description('only texts for which this holds'),
  written: oneOf(['value', 'key'])
    .default('value')
    .description('whether the value is the reference or the name it stands under'),
  text: source.description('the text, seen from what was selected, where it is not that itself: a `join` of several'),
  every,
  role: oneOf(['build list', 'start scene']).description('what the list means to the game'),
  ...targetForm,
  by: targetForm.by.required(),
  verb: verb.default('uses').description('how the link reads'),
});

const happening = {
  scope: oneOf(SCOPES).default('unknown').description('whom it reaches'),
  moment: oneOf(MOMENTS).default('unknown').description('when it happens'),
  side: oneOf(SIDES).default('unknown').description('on which side it runs'),
};

const eventRule = shape({
  at: selector.required().description('selects the wires from the root'),
  when: condition.description('only wires for which this holds'),
  event: source.required().description('the name of the event'),
  from: source.description('the object that sends; nobody is said to send here when left out'),
  to: source.description('the object that listens'),
  handler: source.description('the function that is called'),
  target: shape(target('function')).description(
    'where that function is looked for; on the scripts of the object that listens when left out',
  ),
  order: source.description('the place in the order in which listeners are told'),
  ...naming,
  ...happening,
});

const connectionRule = shape({
  at: selector.required().description('selects the connections from the root'),
  when: condition.description('only connections for which this holds'),
  from: source.description('the piece it leads from; the piece it is written in when left out'),
  to: source.required().description('the piece it leads to'),
  ...naming,
  verb: verb.default('calls').description('how the link reads'),
  label: Joi.array()
    .items(oneSource)
    .single()
    .default([])
    .description('what flows there; several are joined by an arrow'),
});

const attachmentRule = shape({
  at: selector.required().description('selects the entries of the table'),
  script: fieldTarget('path').required().description('the script'),
  to: fieldTarget('path').description('what it runs on; the file itself when left out'),
});

const stepMeaning = Joi.alternatives().conditional(
  Joi.object({ verb: oneOf(['sends', 'listens to']).required() }).unknown(),
  {
    then: shape({
      verb: verb.required(),
      event: source.required().description('the name of the event'),
      handler: source.description('the function that is called'),
      ...happening,
    }),
    otherwise: shape({ verb: verb.required(), field: source.required(), ...target('path') }),
  },
);

const graphRule = shape({
  steps: Joi.string().required().description('the piece rule that finds the steps'),
  variables: Joi.string().description(
    'the piece rule that finds the variables that an instance assigns; one with a detail `default` may stay empty, and a detail `type` says what it takes',
  ),
  selfWhenEmpty: names.default([]).description('types of variables for which an empty one means the object itself'),
  kind: source.required().description('what kind a step is of'),
  means: Joi.object()
    .pattern(Joi.string().min(1), stepMeaning)
    .default({})
    .description('by kind: what a step does, as `verb` with `event`, or with `field` and a form'),
});

const content = {
  pieces: named(pieceRule).description('rules by name: what stands in the file'),
  references: named(referenceRule).description('rules by name: texts that refer to something'),
  events: named(eventRule).description('rules by name: wires saved in the file'),
  connections: named(connectionRule).description('rules by name: connections between pieces of the file'),
  attachments: named(attachmentRule).description('rules by name: tables that say which script runs where'),
};

const linesForm = shape({
  skip: pattern.description('lines that are passed over, such as comments'),
  kinds: named(
    shape({
      pattern: pattern
        .required()
        .description('its named groups are the members; `key` and `value` make a member of what is around'),
      holds: Joi.boolean().default(false).description('it holds what follows, up to the next of its kind'),
      until: pattern.description('it holds what follows, up to a line that matches this'),
    }),
  ).description('kinds of lines by name; the first that matches counts'),
  nested: oneOf(['indent']).description('a line holds those below it that stand further in'),
}).description('for text of none of the formats: how its lines become records');

const FORMAT = [...FORMATS, 'lines'];
const columns = names.description('for CSV whose first line is no head: what its columns are called');

const embeddedRule = shape({
  at: selector.description(
    'the texts that hold them, in structured files; the text of the file itself, as it is written, when left out',
  ),
  pattern: pattern
    .default('^[^]*$')
    .description('every match in the text, or its first group, is a document; the whole text when left out'),
  format: oneOf(FORMAT).description('what it is written in'),
  script: Joi.string().description('or, for code, the rule under `scripts` by which it is read; in structured files'),
  lines: linesForm,
  columns,
  ...content,
}).xor('format', 'script');

const fileRule = shape({
  match: globs.required().description('glob or list of globs'),
  as: oneOf(FILE_KINDS).required().description('what the files are; `media` are listed and not read'),
  format: oneOf(FORMAT).description('by the ending when left out; `lines` for text of the team’s own'),
  lines: linesForm,
  columns,
  id: source.description("the file's own identity"),
  named: source.default({ file: 'stem' }).description("the file's own name"),
  space,
  extends: bases('path').description('the file or files it is derived from: a base prefab, a parent record'),
  version: source.description('for packages: the version'),
  needs: Joi.array()
    .items(
      shape({
        at: selector.required().description('selects the entries'),
        id: source.required().description('the package that is needed'),
        version: source.description('the version that is needed'),
        pattern: pattern.description('when one text names several packages: what each match of this cuts out'),
      }),
    )
    .single()
    .default([])
    .description('for packages: those that must be there'),
  ...content,
  embedded: named(embeddedRule).description('rules by name: documents inside texts of the file'),
  graphs: named(graphRule).description('rules by name: what steps of behaviour graphs do'),
});

// Scripts -----------------------------------------------------------------------------------------------------------

const tableRule = shape({
  assigned: names.description(
    'what a name or field is given: `Limits`, `Harbour.limits`, `this.rows`, or `default` for what a file exports as such',
  ),
  calls: names.description('what is handed to these calls: their arguments, by position and name, are the document'),
  returned: Joi.array()
    .items(Joi.string().allow(''))
    .single()
    .default([])
    .description('what functions of this name return; empty for the file itself'),
  decorators: names.description('what these decorators or attributes are given'),
  through: names.description('calls that stand for what they are given, as `_` in `_("text")`'),
  files: globs
    .default([])
    .description('globs of the scripts in which they stand; in all that the rule reads when left out'),
  ...content,
}).custom((rule: Record<string, unknown[]>, helpers) =>
  ['assigned', 'calls', 'returned', 'decorators'].some((key) => rule[key]?.length)
    ? rule
    : helpers.error('glue.explained', {
        why: 'says of no literal that it is meant: give `assigned`, `calls`, `returned` or `decorators`.',
      }),
);

const scriptRule = shape({
  match: globs.required().description('glob or list of globs'),
  language: oneOf(LANGUAGES).required().description('the language'),
  exposed: shape({
    decorators: names.description('decorators, attributes and modifiers such as `public` that expose a field'),
    selfWhenEmpty: names.description('declared types for which an empty slot means the object itself'),
    types: names.description('types that expose a field'),
    comments: names.description('texts in a comment before the field, or behind it on its line, that expose it'),
    names: pattern.description('names of fields that are exposed'),
    required: Joi.boolean().default(true).description('whether a field without default must be filled'),
    mayBeEmpty: names.description('fields that may stay empty all the same, by name or as `Type.field`'),
  })
    .default({ decorators: [], types: [], comments: [], selfWhenEmpty: [], mayBeEmpty: [], required: true })
    .description('what makes a field one that people fill in'),
  hidden: shape({
    modifiers: Joi.array()
      .items(Joi.string())
      .single()
      .default(['private', 'protected'])
      .description('modifiers that hide a member'),
    unless: names.description('modifiers without one of which a member is hidden'),
    names: pattern.description('names of members that are hidden'),
  })
    .default({ modifiers: ['private', 'protected'], unless: [] })
    .description('members that code of other types is not meant to use'),
  belongsTo: shape({
    scene: source.required().description('which scene, from the path of the script'),
    by: oneOf(['id', 'name', 'path']).default('name').description('what that text is'),
  }).description('scripts that run in a scene without being attached'),
  imports: shape({ ...plainForm, by: plainForm.by.default('path') }).description(
    'how what an import names leads to a file, where it is not as the language has it: `roots`, `endings`, `schemes` such as `{ "@/": "scripts" }`; dots between names of Lua and Python stand for slashes',
  ),
  sees: oneOf(SEES).description(
    'how far a function without a receiver is seen: in files that are taken in (`imports`, the default but for Lua), in all that are connected by taking in (`together`), in the own `package` and those it needs, in the `project` (for Lua)',
  ),
  registers: names.description(
    'calls by which a table of functions becomes a type: its name is the text that is given, or what the call is assigned to; names that are given are its parents',
  ),
  asType: Joi.boolean().description(
    'whether a file of plain functions is a type, called as the file: its functions run on what it is attached to; with `belongsTo` it is unless this says `false`',
  ),
  typeNamed: oneOf(TYPE_NAMINGS).description(
    'how the type is named after its file, for broken/file-type-mismatch: `same`, `pascal` (`tow-rope` holds `TowRope`), or the same `letters` and digits',
  ),
  moments: shape({
    start: names.description('called at the start'),
    everyFrame: names.description('called every frame'),
    leave: names.description('called when the object leaves'),
  })
    .default({ start: [], everyFrame: [], leave: [] })
    .description(
      'names of the functions that the engine calls; those of `start` one after the other, each on all objects before the next',
    ),
  handlers: Joi.array()
    .items(
      shape({
        functions: pattern
          .required()
          .description('a pattern for the whole name; its first group is what stands for `*` in the event'),
        event: Joi.string().min(1).default('*').description('the event, with `*` in the place of what was cut out'),
        scope: happening.scope,
      }),
    )
    .single()
    .default([])
    .description('functions that hear an event by their name alone'),
  embedded: named(embeddedRule).description('rules by name: documents inside comments'),
  tables: named(tableRule).description(
    'rules by name: tables in the code that are documents, with the same keys as for files; `*` in names stands for any letters',
  ),
  side: oneOf(SIDES).default('unknown').description('on which side they run'),
  sided: shape({
    server: names.description('decorators and modifiers of types and functions that run on the server'),
    client: names.description('those of types and functions that run on the client'),
    shared: names.description('those of fields that both sides see change'),
  })
    .default({ server: [], client: [], shared: [] })
    .description('what in the code says on which side something runs'),
});

/** What a row says nothing of follows from what it means. */
const withTarget = (rule: { means: Meaning; call: string; target?: object }): object => ({
  ...rule,
  target: rule.target ?? defaultTarget(rule),
});

function defaultTarget({ means, call }: { means: Meaning; call: string }): object {
  if (means === 'call') return OWN_FUNCTION;
  return means === 'send' ? (/\$id\b/.test(call) ? BY_ID : BY_NAME) : DEFAULT_TARGET;
}

const callRule = shape({
  call: Joi.string().required().custom(explained(parseCallPattern)).description('the pattern; see below'),
  means: oneOf(MEANINGS).required().description('what it does; see below'),
  ...happening,
  target: shape(target('path')).description(
    'for `spawn`, `load`, `use file`, `refer` and `call`: how the text leads to its target; for `send` that names whom it reaches: how that is read (by name or identity, unless said); for `listen` with a text as `$handler`: where that function is; for `declare`: its `pattern` cuts the identity out',
  ),
  event: Joi.string()
    .min(1)
    .description('for `send`, `listen` and `let go`: always this event, or, with `*` in it, what is made of `$event`'),
  when: shape({
    role: oneOf(ROLES).required().description('which argument decides, as the pattern names it'),
    is: Joi.array()
      .items(Joi.string().allow(''))
      .single()
      .min(1)
      .required()
      .description('the texts for which it holds'),
  }).description('only calls in which a written text is one of these'),
  also: Joi.boolean()
    .default(false)
    .description('adds its reference beside what the first other row that matches says'),
  verb: verb.default('uses').description('for `refer`: how the link reads'),
  kind: oneOf(INNER_KINDS).default('record').description('for `declare`: what is made known'),
  space: space.description('for `declare`: the space of its identity'),
  becomes: Joi.string()
    .pattern(/\*/, 'a text with * in it')
    .default('*')
    .description('for `declare`: what the function makes of the text, with * in its place, such as "deck:*"'),
  puts: oneOf(['own object', 'holder', 'scene']).description(
    'for `spawn`: where the new object is put when the call names no `$parent`',
  ),
  under: Joi.string().description('only events that are types below this one'),
  on: oneOf(['object', 'below', 'above'])
    .default('object')
    .description('for `part` and `asks part`: parts of the object, of all below it, or of all above it'),
  reach: oneOf(['scene', 'project'])
    .default('scene')
    .description('for `find`: the scene with those loaded together with it, or all scenes'),
  wild: Joi.boolean().default(false).description('`*` in a name that is looked for stands for any letters'),
  gives: oneOf(['object', 'script'])
    .default('object')
    .description('for `spawn`: whether fields set on what it gives are fields of the script on it'),
}).custom(withTarget);

const literalRule = shape({
  every,
  ...targetForm,
  by: targetForm.by.required(),
  pattern: targetForm.pattern.required(),
  verb: verb.default('uses').description('how the link reads'),
});

const engine = {
  events: names.description('events that it sends'),
  objects: names.description('objects that it makes'),
  parts: names.description('types of parts'),
  types: names.description('other types'),
  files: names.description('paths of files'),
  labels: names.description('labels'),
  scenes: names.description('scenes'),
  ids: names.description('identities of anything else, such as input actions'),
  members: names.description(
    'members that its types and parts have; without any, what descends from them is not judged',
  ),
  repeats: names.description('those of its events that can come again and again in a moment, such as touches'),
  inputs: names.description('those of its events that a key, a button or a pointer sends'),
  toRoot: names.description('those of its events of which only the topmost object of a compound one is told'),
  functions: names.description('functions called without a receiver; without any, such calls are not judged'),
};
const startOrder = oneOf(START_ORDERS)
  .default('unknown')
  .description('in which order objects are told that play begins: `holders first`, `held first`, or not stated');
const takes = Joi.object()
  .pattern(Joi.string(), Joi.array().items(oneOf(PIECE_KINDS)).single().min(1))
  .default({})
  .description('by type: kinds of piece that a slot of this type takes');

/** The whole plan. `$schema` is for editors and is passed over. */
export const planSchema = shape({
  $schema: Joi.string().description('for editors; passed over'),
  version: Joi.number().valid(1).required().description('always 1'),
  name: Joi.string().min(1).required().description('the name of the project'),
  extends: Joi.array()
    .items(Joi.string().min(1))
    .single()
    .default([])
    .description(
      'plans this one builds on: `x3d`, `gltf`, or paths of plans that stand beside this one or below; what stands here counts first',
    ),
  ignore: Joi.array().items(glob).single().default([]).description('globs of files that are not part of the project'),
  files: named(fileRule).description('how structured files are read; the first rule that matches a file reads it'),
  scripts: named(scriptRule).description('how scripts are read; they come before `files`'),
  calls: Joi.array().items(callRule).default([]).description('the call table: what calls in scripts mean'),
  literals: named(literalRule).description('texts in scripts that are references wherever they stand'),
  holes: named(
    shape({
      texts: names.description('texts that may stand there'),
      from: Joi.number().integer().description('or numbers: the first'),
      to: Joi.number().integer().description('and the last'),
      digits: Joi.number().integer().min(1).max(12).default(1).description('with so many digits at least'),
      records: shape({
        kinds: plainForm.kinds,
        space: plainForm.space,
        by: oneOf(['id', 'name']).default('id').description('their identities or their names'),
      }).description('or what pieces are called'),
      must: names.description('those for which what is meant must be there; without any, one of all is enough'),
    }),
  ).description('marks in paths, names and identities, and what may stand in their place, such as "{port}"'),
  typeNames: Joi.object()
    .pattern(Joi.string(), Joi.string().min(1))
    .default({})
    .description('types by other names that files use for them'),
  globals: Joi.object()
    .pattern(Joi.string(), Joi.string().min(1))
    .default({})
    .description('names that stand for one object of a type wherever scripts use them, such as services'),
  together: Joi.array()
    .items(Joi.array().items(Joi.string().min(1)).min(2))
    .default([])
    .description('lists of scenes (identity, name or path) that are loaded together'),
  packages: shape({
    order: names.description('ids, first loaded first; others follow, after those they need'),
    overlay: Joi.boolean()
      .default(false)
      .description('a file of a later package replaces the file of the same path in an earlier one'),
  })
    .default({ order: [], overlay: false })
    .description('how packages are combined'),
  house: shape({
    capitals: oneOf(['matter', 'ignored'])
      .default('matter')
      .description('whether a path that differs in capitals alone is a fault'),
    places: Joi.array()
      .items(
        shape({
          scripts: globs.required().description('scripts of one kind'),
          in: globs.default([]).description('paths where they may stand; anywhere when left out'),
          carriedBy: globs
            .default([])
            .description('scenes and prefabs whose objects may carry them; any when left out'),
          because: Joi.string().default('').description('why, for whoever reads the finding'),
        }),
      )
      .single()
      .default([])
      .description('where which kind of script may live'),
    packages: Joi.array()
      .items(
        shape({
          id: Joi.string().required().description('the package'),
          version: Joi.string().default('').description('the versions that will do, such as ">=1.2"'),
        }),
      )
      .single()
      .default([])
      .description('packages that must be there'),
    startScene: Joi.string().description('the scene that play is meant to begin with: identity, name or path'),
    copiesFine: Joi.array()
      .items(glob)
      .single()
      .default([])
      .description('globs of scripts whose copies of one another are fine, such as tests and code that a tool writes'),
    leastRead: Joi.number()
      .min(0)
      .max(1)
      .description('the share of text files that must be read for a verdict, from 0 to 1; half of them unless given'),
    unattached: oneOf(['note', 'fine'])
      .default('note')
      .description('whether a script that nothing attaches or imports is worth a note'),
  })
    .default({ capitals: 'matter', places: [], packages: [], copiesFine: [], unattached: 'note' })
    .description('rules of the house'),
  engine: shape({ ...engine, startOrder, takes })
    .default({ ...Object.fromEntries(Object.keys(engine).map((key) => [key, []])), startOrder: 'unknown', takes: {} })
    .description('names that the engine provides; globs are allowed; never reported'),
  play: shape({
    means: Joi.object()
      .pattern(Joi.string(), Joi.string().max(2000).allow(''))
      .default({})
      .description('what an event means, by its name or a glob: shown beside the event in Play'),
    storms: Joi.object()
      .pattern(Joi.string(), Joi.number().positive())
      .default({})
      .description('how often an event may come within a second of play, by its name or a glob'),
    order: Joi.array()
      .items(Joi.array().items(Joi.string()).min(2))
      .default([])
      .description('events of which each comes in play only after the one before it has'),
  })
    .default({ means: {}, storms: {}, order: [] })
    .description('what play logs are held against, besides the map'),
  waived: names.description(
    'how a comment begins that accepts what is found on its line, or on the next where the line holds nothing else: `glue: fine`; a check, a reason and `until` a day may follow',
  ),
  learned: shape({
    rules: named(
      shape({
        sure: Joi.number().min(0).max(1).required().description('how sure it is that the rule is right, from 0 to 1'),
        of: Joi.number()
          .integer()
          .min(0)
          .required()
          .description('times that something stood there when it was learned'),
        leads: Joi.number().integer().min(0).required().description('and of them those that led somewhere'),
      }),
    ).description('rules by their key, such as "files.boats.references.crew" or "calls: stage.find($name)"'),
    refused: names.description('rules that people refused, by their key: they are not proposed again'),
  })
    .default({ rules: {}, refused: [] })
    .description('rules that were learned and that nobody has looked at yet: what rests on them is told less firmly'),
  checks: Joi.object()
    .pattern(Joi.string(), oneOf([...SEVERITIES, 'off']))
    .default({})
    .description('by id of a check: another severity, or "off"'),
}).messages({ 'glue.explained': '{#why}' });
