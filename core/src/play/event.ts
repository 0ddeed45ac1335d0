/**
 * A line of a play log: an event of CloudEvents 1.0 in its JSON format, with attributes of our own (docs/play.md).
 * https://github.com/cloudevents/spec/blob/v1.0/spec.md
 */
import Joi from 'joi';

/** What happened: `sent` unless said. `listening`: somebody begins to hear the event; `ended`: and hears it no more. */
const HAPPENINGS = [
  'sent',
  'heard',
  'handled',
  'listening',
  'ended',
  'spawned',
  'destroyed',
  'switched',
  'moved',
  'loaded',
  'flag set',
  'value changed',
  'failed',
] as const;
export type Happening = (typeof HAPPENINGS)[number];

export interface PlayEvent {
  specversion: '1.0';
  id: string;
  /** The event; for spawns and the like the kind of happening. */
  type: string;
  /** Who sends, as a URI reference: a path, an identity or a name as the plan knows it. */
  source: string;
  subject?: string;
  /** RFC 3339. */
  time?: string;
  /** The payload, as it came. */
  data?: unknown;
  /** The payload, where it is no text. */
  data_base64?: string;
  happening: Happening;
  /** The function that hears it, such as `Gate.open`. */
  handler?: string;
  frame?: number;
  side?: string;
  /** The id of the event that led to it. */
  cause?: string;
  /** Where in the code, such as `scripts/gate.ts:12`. */
  place?: string;
  /** Attributes that are not ours. */
  others: Record<string, unknown>;
}

/** In letters: a longer line is not read. */
export const LONGEST_LINE = 1_000_000;
const words = (most: number): Joi.StringSchema => Joi.string().min(1).max(most);

export const playEventSchema = Joi.object<Record<string, unknown>>({
  specversion: Joi.string().valid('1.0').required().description('the version of the standard'),
  id: words(1000).required().description('tells it apart from the others of its source'),
  type: words(1000).required().description('the event; for spawns and the like the kind of happening'),
  source: words(4096).required().description('who sends, as a URI reference: a path, an identity or a name'),
  subject: words(4096).description('who is addressed'),
  time: Joi.string()
    .pattern(/^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(?:\.\d+)?(?:Z|[+-]\d\d:\d\d)$/i)
    .description('when, as RFC 3339 has it'),
  datacontenttype: words(1000).description('what the payload is; JSON unless given'),
  dataschema: words(4096).description('where the form of the payload is described'),
  data: Joi.any().description('the payload'),
  data_base64: Joi.string().base64().description('the payload, where it is no text'),
  happening: Joi.string()
    .valid(...HAPPENINGS)
    .default('sent')
    .description('what happened'),
  handler: words(1000).description('the function that hears it, such as Gate.open'),
  frame: Joi.number().integer().description('the frame in which it happened'),
  side: words(100).description('the side on which it happened, such as server'),
  cause: words(1000).description('the id of the event that led to it'),
  place: words(4096).description('where in the code: a path, and after a colon the line, such as scripts/gate.ts:12'),
})
  // The standard's form of names of attributes that others add.
  .pattern(/^[a-z0-9]+$/, Joi.any());

const OWN = new Set(
  'specversion id type source subject time data data_base64 happening handler frame side cause place'.split(' '),
);

/** An event, or what is wrong with what was to be one. */
export type Read = { event: PlayEvent } | { problem: string };

/** Reads a line. What is wrong with it is told in words, and never thrown. */
export function readPlayLine(line: string): Read {
  if (line.length > LONGEST_LINE) return { problem: `the line is longer than ${LONGEST_LINE} letters` };
  let written: unknown;
  try {
    written = JSON.parse(line);
  } catch {
    return { problem: 'it is no JSON' };
  }
  return readPlayEvent(written);
}

/** Reads what JSON gave. */
export function readPlayEvent(written: unknown): Read {
  const result = playEventSchema.validate(written, { convert: false });
  if (result.error) return { problem: result.error.message };
  const value = Object.entries(result.value);
  const others = Object.fromEntries(value.filter(([name]) => !OWN.has(name)));
  const own = Object.fromEntries(value.filter(([name]) => OWN.has(name)));
  return { event: { ...own, others } as unknown as PlayEvent };
}
