/**
 * Code inside data: texts of structured files, and blocks between marks in text of a team's own, that are written in one of
 * the languages. What they call is learned as what scripts call.
 */
import { LANGUAGES, type Language } from '../reading/plan/plan.js';
import { LANGUAGE } from '../reading/scripts/languages.js';
import type { ScriptSyntax } from '../reading/scripts/syntax.js';
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

const CALL = /[A-Za-z_][\w.:]*\(/;
const LIKE_CODE =
  /[A-Za-z_][\w.:]*\s*\(|^\s*(?:if|end|else|elseif|elif|for|while|return|local|def|var|let|const|function)\b|[;{}]\s*$|^\s*[\w.]+\s*[-+]?=[^=]/;
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

/** The syntax of a text, or undefined where the language cannot read it, or its grammar is not at hand. */
export function syntaxOf(text: string, language: Language): ScriptSyntax | undefined {
  try {
    return LANGUAGE[language].read(text);
  } catch {
    return undefined;
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
    const read = code.filter((text) => syntaxOf(text, language)?.problems.length === 0).length;
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
    if (!language) continue;
    found.push({ shape, language });
    code.set(language, [...(code.get(language) ?? []), ...all]);
  }
  return { found, code };
}

type Stretches = Map<Language, Stretch[]>;

const BLOCK = /<([A-Za-z]\w*)>([^]*?)<\/\1>/g;
const FEWEST_BLOCKS = 3;

/** Blocks between marks that are code in text of a team's own, and the text without them. */
export function codeInBlocks(
  all: readonly { file: number; text: string }[],
  known: readonly Language[],
): { found: CodeInside; code: Stretch[]; without: string[] } | undefined {
  const byMark = new Map<string, Stretch[]>();
  for (const { file, text } of all)
    for (const [, mark = '', inner = ''] of text.matchAll(BLOCK)) {
      const blocks = byMark.get(mark);
      if (blocks) blocks.push({ text: inner, file });
      else byMark.set(mark, [{ text: inner, file }]);
    }
  const [most] = [...byMark].sort((a, b) => b[1].length - a[1].length);
  if (!most || most[1].length < FEWEST_BLOCKS) return undefined;
  const [mark, code] = most;
  const language = languageOf(
    code.map(({ text }) => text),
    known,
  );
  if (!language) return undefined;
  const pattern = `<${mark}>([^]*?)</${mark}>`;
  const blocks = new RegExp(pattern, 'g');
  return {
    found: { shape: undefined, pattern, language },
    code,
    without: all.map(({ text }) => text.replace(blocks, '')),
  };
}
