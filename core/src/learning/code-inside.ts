/**
 * Code inside data: texts of structured files, and blocks between marks in text of a team's own, that are written in one of
 * the languages. What they call is learned as what scripts call.
 */
import { push } from '../helpers/push.js';
import { LANGUAGES, type Language } from '../reading/plan/plan.js';
import { LANGUAGE } from '../reading/scripts/languages.js';
import { shapesIn, type Shape } from './shapes.js';
import type { Texts } from './texts.js';

export interface CodeInside {
  /** The texts that are code; undefined where the pattern finds it in the text of the file. */
  shape: Shape | undefined;
  pattern?: string;
  language: Language;
}

/** A stretch of code, with the file it stands in. */
export interface Stretch {
  text: string;
  file: number;
}

// Matched in time that grows with the text alone, whatever stands in it.
const CALL = /\w\(/;
const LIKE_CODE =
  /\w ?\(|^\s*(?:if|end|else|elseif|elif|for|while|return|local|def|var|let|const|function)\b|[;{}]\s*$|^\s*[\w.]+\s*[-+]?=[^=]/;
const COMMENT = /^\s*(?:--|#|\/\/)/;
/** So many of some texts must be code, and so many of those be read without a fault. */
const MOSTLY = 0.6;
const FEWEST = 2;
const MOST_TRIED = 20;

function looksLikeCode(text: string): boolean {
  if (!CALL.test(text)) return false;
  const lines = text.split('\n').filter((line) => line.trim() !== '' && !COMMENT.test(line));
  return lines.filter((line) => LIKE_CODE.test(line)).length >= lines.length * MOSTLY;
}

/** Whether a language reads a text without a fault. */
function isRead(text: string, language: Language): boolean {
  try {
    return LANGUAGE[language].read(text).problems.length === 0;
  } catch (error) {
    // Nested too deeply.
    if (!(error instanceof RangeError)) throw error;
    return false;
  }
}

/**
 * The language in which most of some texts are written; undefined where they are no code.
 * @param known languages of the project's scripts, which come first
 */
function languageOf(all: readonly string[], known: readonly Language[]): Language | undefined {
  const code = all.slice(0, MOST_TRIED).filter(looksLikeCode);
  if (code.length < FEWEST || code.length < Math.min(all.length, MOST_TRIED) * MOSTLY) return undefined;
  const rated = [...new Set([...known, 'lua' as const, ...LANGUAGES])].map((language) => {
    const read = code.filter((text) => isRead(text, language)).length;
    return { language, read };
  });
  const best = rated.reduce((one, other) => (other.read > one.read ? other : one));
  return best.read >= code.length * MOSTLY ? best.language : undefined;
}

/** Texts of a shape that are code, with the stretches. */
export function codeInTexts(
  root: Shape,
  texts: Texts,
  known: readonly Language[],
): { found: CodeInside[]; code: Stretches } {
  const found: CodeInside[] = [];
  const code: Stretches = new Map();
  for (const shape of shapesIn(root)) {
    if (shape.texts.size < FEWEST) continue;
    const all: Stretch[] = [];
    for (const number of shape.texts.numbers()) all.push({ text: texts.text(number), file: shape.texts.file(number) });
    if (!all.slice(0, MOST_TRIED).some(({ text }) => CALL.test(text))) continue;
    const language = languageOf(
      all.map(({ text }) => text),
      known,
    );
    const between = language ? undefined : codeBetweenSigns(all, known);
    if (language) {
      found.push({ shape, language });
      code.set(language, [...(code.get(language) ?? []), ...all]);
    } else if (between) {
      found.push({ ...between.found, shape });
      code.set(between.found.language, [...(code.get(between.found.language) ?? []), ...between.code]);
    }
  }
  return { found, code };
}

/** Doubled signs between which code stands inside of a text. */
const SIGNS: readonly [string, string][] = [
  ['<<', '>>'],
  ['{{', '}}'],
  ['[[', ']]'],
  ['<%', '%>'],
  ['{%', '%}'],
];
const literally = (text: string): string => text.replace(/[[\]{}]/g, '\\$&');

/** Code between doubled signs, in texts that are none as a whole. */
function codeBetweenSigns(
  all: readonly Stretch[],
  known: readonly Language[],
): { found: CodeInside & { pattern: string }; code: Stretch[] } | undefined {
  for (const [start, end] of SIGNS) {
    const some = all.filter(({ text }) => text.includes(start));
    if (some.length === 0) continue;
    const pattern = `${literally(start)}(.*?)${literally(end)}`;
    const between = new RegExp(pattern, 'g');
    const code = some.flatMap(({ text, file }) =>
      [...text.matchAll(between)].map(([, inner = '']): Stretch => ({ text: inner, file })),
    );
    // Names alone between them are places for texts.
    const calls = code.filter(({ text }) => CALL.test(text));
    const language = languageOf(
      calls.map(({ text }) => text),
      known,
    );
    if (language && calls.length >= code.length * MOSTLY)
      return { found: { shape: undefined, pattern, language }, code };
  }
  return undefined;
}

type Stretches = Map<Language, Stretch[]>;

const MARK = /<(\/?)([A-Za-z]\w*)>/g;
const FEWEST_BLOCKS = 3;

/** A block, with where it begins and ends with its marks. */
interface Block extends Stretch {
  start: number;
  end: number;
}

/** Blocks by their marks: from each mark to the next end of it, in one pass. */
function blocksIn(all: readonly Stretch[]): Map<string, Block[]> {
  const blocks = new Map<string, Block[]>();
  for (const { file, text } of all) {
    const open = new Map<string, number>();
    for (const { 0: whole, 1: ends, 2: mark = '', index } of text.matchAll(MARK)) {
      const start = open.get(mark);
      if (!ends) {
        if (start === undefined) open.set(mark, index);
      } else if (start !== undefined) {
        const end = index + whole.length;
        push(blocks, mark, { file, text: text.slice(start + mark.length + 2, index), start, end });
        open.delete(mark);
      }
    }
  }
  return blocks;
}

/** Blocks between marks that are code in text of a team's own, and the text without them. */
export function codeInBlocks(
  all: readonly Stretch[],
  known: readonly Language[],
): { found: CodeInside; code: Stretch[]; without: string[] } | undefined {
  const [most] = [...blocksIn(all)].sort((a, b) => b[1].length - a[1].length);
  const [mark, code] = most ?? ['', []];
  const language =
    code.length < FEWEST_BLOCKS
      ? undefined
      : languageOf(
          code.map(({ text }) => text),
          known,
        );
  if (!language) {
    const between = codeBetweenSigns(all, known);
    return between && { ...between, without: all.map(({ text }) => text) };
  }
  return {
    found: { shape: undefined, pattern: `<${mark}>([^]*?)</${mark}>`, language },
    code,
    without: all.map(({ file, text }) =>
      code
        .filter((one) => one.file === file)
        .reduceRight((rest, { start, end }) => rest.slice(0, start) + rest.slice(end), text),
    ),
  };
}
