/** Documents that a team keeps beside its plan, in version control: read as JSON with comments, checked, laid out for merging. */
import type Joi from 'joi';
import { itemAt } from '../helpers/at.js';
import { GlueError, type ErrorCode } from '../model/errors.js';
import { linesOf } from '../reading/lines.js';
import { mistakeOf } from '../reading/plan/mistakes.js';
import { readJson } from '../reading/tree/json.js';
import { plainValue } from '../reading/tree/node.js';

/**
 * Reads such a document; an empty text is an empty one.
 * @throws GlueError of the code given, with every mistake and its line
 */
export function readDocument<T>(text: string, file: string, schema: Joi.ObjectSchema<T>, code: ErrorCode): T {
  const lines = linesOf(text);
  if (text.trim() === '') return schema.validate({}).value as T;
  const { documents, problems } = readTolerant(text);
  const [problem] = problems;
  if (problem || documents.length === 0) {
    const start = problem?.start ?? 0;
    const mistake = {
      key: '',
      message: problem?.message ?? 'there is nothing in it',
      line: lines.lineOf(start),
      column: lines.columnOf(start),
    };
    throw new GlueError(code, `${file}, line ${mistake.line}, column ${mistake.column}: ${mistake.message}.`, [
      mistake,
    ]);
  }
  const root = itemAt(documents, 0);
  const checked: Joi.ValidationResult<unknown> = schema.validate(plainValue(root), {
    abortEarly: false,
    errors: { wrap: { label: false } },
  });
  if (!checked.error) return checked.value as T;
  const mistakes = checked.error.details.map((detail) => mistakeOf(detail, [{ file: '', root, lines }], file));
  const first = itemAt(mistakes, 0);
  const more = mistakes.length > 1 ? ` (and ${mistakes.length - 1} more)` : '';
  throw new GlueError(code, `${file}, line ${first.line}: ${first.key}: ${first.message}${more}`, mistakes);
}

/** What is nested too deeply is a mistake like any other. */
function readTolerant(text: string): ReturnType<typeof readJson> {
  try {
    return readJson(text);
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    return { documents: [], problems: [{ message: 'nested too deeply to be read', start: 0, end: 0 }] };
  }
}
