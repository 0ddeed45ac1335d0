/** What stands in the scripts of a project, gathered by itself: that can be done on another thread than the rest. */
import { LANGUAGES, type Language } from '../reading/plan/plan.js';
import { LANGUAGE } from '../reading/scripts/languages.js';
import { withOlderTypes } from '../reading/scripts/older-types.js';
import { addScript, joinCode, newCode, type Code } from './code.js';
import { CodeTables } from './code-tables.js';
import type { Kind } from './kinds.js';
import { below, type Shape } from './shapes.js';
import { Bag, Texts } from './texts.js';

const SCRIPTS: Record<string, Language> = Object.fromEntries(
  LANGUAGES.flatMap((language) => LANGUAGE[language].fileEndings.map((ending) => [ending, language] as const)),
);

/** The language of a script by its ending. */
export function languageOf(path: string): Language | undefined {
  return SCRIPTS[path.slice(path.lastIndexOf('.') + 1).toLowerCase()];
}

/** A script, with its position among all files of the project. */
export interface ScriptFile {
  at: number;
  path: string;
  text: string;
}

/** What was gathered: data alone, so that it can be sent from thread to thread. */
export interface Gathered {
  /** The texts that are meant by numbers. */
  texts: string[];
  code: Code;
  tables: Map<string, Kind>;
}

/** Scripts as they are read, one after the other. */
export class Scripts {
  constructor(
    private readonly texts: Texts,
    readonly code: Code = newCode(),
    readonly tables: CodeTables = new CodeTables(texts),
  ) {}

  /** Adds what later files say. */
  join({ code, tables }: Scripts): void {
    joinCode(this.code, code);
    this.tables.join(tables);
  }

  /** @param isInside whether it is code in a file of another kind, and so no script of its own */
  add(text: string, file: number, language: Language, isInside = false): void {
    try {
      const script = LANGUAGE[language].read(text);
      if (!isInside) this.tables.add(script, file, language);
      addScript(this.code, withOlderTypes(script, { language, registers: [] }), file, language, this.texts, isInside);
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
    }
  }
}

/** Gathers what scripts say. The grammars of their languages must have been prepared. */
export function gather(files: Iterable<ScriptFile>): Gathered {
  const texts = new Texts();
  const scripts = new Scripts(texts);
  for (const { at, path, text } of files) {
    const language = languageOf(path);
    if (language) scripts.add(text, at, language);
  }
  return { texts: texts.list(), code: scripts.code, tables: scripts.tables.kinds };
}

/** Scripts that were gathered elsewhere. @param texts those of the project: what was gathered is brought to their numbers */
export function scriptsFrom({ texts: own, code, tables }: Gathered, texts: Texts): Scripts {
  const numbers = own.map((text) => texts.number(text));
  for (const { given } of code.patterns.values())
    for (const one of given.values()) one.texts = Bag.from(one.texts, numbers);
  for (const { shape } of tables.values()) {
    const open: Shape[] = [shape];
    for (let at = open.pop(); at; at = open.pop()) {
      at.texts = Bag.from(at.texts, numbers);
      open.push(...below(at));
    }
  }
  return new Scripts(texts, code, new CodeTables(texts, tables));
}
