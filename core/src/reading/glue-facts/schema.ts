/** What a line of a glue facts file may hold. `docs/glue-facts.md` and its JSON Schema come from here. */
import Joi from 'joi';
import {
  GRIPS,
  MOMENTS,
  SCOPES,
  SIDES,
  VERBS,
  type Grip,
  type Moment,
  type Scope,
  type Side,
  type Verb,
} from '../../model/link.js';
import { PIECE_KINDS, type PieceKind } from '../../model/piece.js';

interface Placed {
  file?: string;
  line?: number;
  column?: number;
}

export interface PieceLine extends Placed {
  fact: 'piece';
  id: string;
  kind: PieceKind;
  name?: string;
  in?: string;
  type?: string;
  script?: string;
  values?: Record<string, unknown>;
  labels?: string[];
  off?: boolean;
  barred?: boolean;
  kept?: boolean;
  space?: string;
}

export interface LinkLine extends Placed {
  fact: 'link';
  from: string;
  fromKind?: PieceKind;
  fromSpace?: string;
  to?: string;
  toKind?: PieceKind;
  toSpace?: string;
  verb: Verb;
  grip: Grip;
  label?: string;
  scope: Scope;
  moment: Moment;
  side: Side;
}

const text = Joi.string().allow('').max(4096);
const id = Joi.string().min(1).max(1024);
const kind = Joi.string().valid(...PIECE_KINDS);
const space = Joi.string().min(1).max(1024);
const placed = {
  file: text.description('the file of the project that it is written in'),
  line: Joi.number().integer().min(1).description('1-based'),
  column: Joi.number().integer().min(1).description('1-based, in UTF-16 units'),
};

export const pieceLine = Joi.object<PieceLine>({
  fact: Joi.string().valid('piece').required().description('a thing on the map'),
  id: id.required().description('its identity: links name it, and so may the files of the project'),
  kind: kind.required().description('what it is'),
  name: text.description('its name'),
  in: id.description('the identity of the piece that holds it; a line above this one'),
  type: text.description('for parts: the type'),
  script: text.description('for parts: the path of the script it runs'),
  values: Joi.object().pattern(Joi.string(), Joi.any()).description('for parts: the saved values of exposed fields'),
  labels: Joi.array().items(text).description('labels that it carries'),
  off: Joi.boolean().description('switched off at the start'),
  barred: Joi.boolean().description('its mode bars scripting'),
  kept: Joi.boolean().description('it keeps its state over scene changes'),
  space: space.description('the space of its identity, as the reading plan names it'),
  ...placed,
});

export const linkLine = Joi.object<LinkLine>({
  fact: Joi.string().valid('link').required().description('one piece leading to another'),
  from: id.required().description('the identity of a piece, of this file or of any other, or the path of a file'),
  fromKind: kind.description('of several pieces of this identity the one of this kind'),
  fromSpace: space.description('and of this space'),
  to: id.description('the same; left out when it leads nowhere'),
  toKind: kind.description('the same for where it leads'),
  toSpace: space.description('the same for where it leads'),
  verb: Joi.string()
    .valid(...VERBS)
    .required()
    .description('how the link reads'),
  grip: Joi.string()
    .valid(...GRIPS)
    .default('fixed')
    .description('how firmly it holds'),
  label: text.description('what else it says: the slot, the handler, the name that was looked for'),
  scope: Joi.string()
    .valid(...SCOPES)
    .default('unknown')
    .description('whom it reaches'),
  moment: Joi.string()
    .valid(...MOMENTS)
    .default('unknown')
    .description('when it happens'),
  side: Joi.string()
    .valid(...SIDES)
    .default('unknown')
    .description('on which side it runs'),
  ...placed,
});
