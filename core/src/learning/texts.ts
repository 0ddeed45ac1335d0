/** Texts of a project, each once, under a number; and what each is made like. */
import { itemAt } from '../helpers/at.js';

/** How a text is made. Which of them lead somewhere by chance is told apart by this. */
export const MAKES = [
  'small number',
  'number',
  'word for nothing',
  'path',
  'file name',
  'several words',
  'Capitalised',
  'lower',
  'UPPER',
  'camelCase',
  'mixed',
] as const;
export type Make = (typeof MAKES)[number];

/** Longer texts are prose: nothing is called so. */
const LONGEST = 200;
const NOTHING = /^(?:|none|null|nil|nothing|undefined|n\/a|-+|true|false|yes|no|y|n|on|off|%[a-z]|\{\d*\})$/i;

export function makeOf(text: string): Make {
  if (NOTHING.test(text)) return 'word for nothing';
  if (/^\d{1,2}$/.test(text)) return 'small number';
  if (/^[-+*/]?\d[\d.,:%eE+-]*$|^[-+]?[.,]\d+$/.test(text)) return 'number';
  if (text.length > LONGEST) return 'several words';
  if (/[/\\]/.test(text) && !/\s/.test(text)) return 'path';
  if (/^[^\s]+\.[A-Za-z]\w{0,7}$/.test(text)) return 'file name';
  if (/\s/.test(text)) return 'several words';
  if (/^\p{Lu}[\p{Ll}\d]*$/u.test(text)) return 'Capitalised';
  if (/^\p{Ll}+$/u.test(text)) return 'lower';
  if (/^[\p{Lu}\d_]+$/u.test(text)) return 'UPPER';
  if (/^[\p{L}\d]+$/u.test(text)) return 'camelCase';
  return 'mixed';
}

/** Whether a text is made as numbers are. */
export const isNumber = (make: Make): boolean => make === 'number' || make === 'small number';

/** Amounts, such as `0.5`, `-3` and `*1.2`: nothing is known by one. */
export const isAmount = (text: string): boolean => /^[-+*/]|[.,%eE]/.test(text);

/** Texts under numbers, counted from 0 in the order in which they came. */
export class Texts {
  private readonly numbers = new Map<string, number>();
  private readonly all: string[] = [];
  private readonly makes: number[] = [];

  /** The number of a text, new or known. */
  number(text: string): number {
    let number = this.numbers.get(text);
    if (number === undefined) {
      number = this.all.length;
      this.numbers.set(text, number);
      this.all.push(text);
      this.makes.push(MAKES.indexOf(makeOf(text)));
    }
    return number;
  }

  /** All of them, by their numbers. */
  list(): string[] {
    return this.all;
  }

  /** The number of a text that has come before. */
  known(text: string): number | undefined {
    return this.numbers.get(text);
  }

  text(number: number): string {
    return itemAt(this.all, number);
  }

  make(number: number): Make {
    return itemAt(MAKES, itemAt(this.makes, number));
  }
}

/** Texts with how often each stands there and the file in which it stood last. */
export class Bag {
  /** Packed: count and file. */
  private readonly of = new Map<number, number>();
  /** Further files in which a text stands, a few. */
  private readonly more = new Map<number, number[]>();
  /** Times that a text stood again in a file in which it stood before. */
  again = 0;
  total = 0;

  add(text: number, file: number, times = 1): void {
    const known = this.of.get(text);
    if (known !== undefined && known % FILES === file) this.again += times;
    else if (known !== undefined) this.remember(text, known % FILES);
    this.of.set(text, (known === undefined ? 0 : Math.floor(known / FILES) * FILES) + times * FILES + file);
    this.total += times;
  }

  addAll(other: Bag): void {
    for (const [text, packed] of other.of) {
      const known = this.of.get(text);
      if (known !== undefined && known % FILES === packed % FILES) this.again++;
      else if (known !== undefined) this.remember(text, known % FILES);
      this.of.set(text, (known === undefined ? 0 : Math.floor(known / FILES) * FILES) + packed);
    }
    for (const [text, files] of other.more) for (const file of files) this.remember(text, file);
    this.again += other.again;
    this.total += other.total;
  }

  private remember(text: number, file: number): void {
    const known = this.more.get(text);
    if (!known) {
      if (this.more.size < MOST_REMEMBERED) this.more.set(text, [file]);
    } else if (known.length < MOST_FILES && !known.includes(file)) known.push(file);
  }

  /** Files in which a text stands: the last, and a few of the others. */
  files(text: number): number[] {
    const last = this.file(text);
    return [last, ...(this.more.get(text) ?? []).filter((file) => file !== last)];
  }

  /** A bag of texts that had other numbers, perhaps sent here from another thread. @param numbers theirs now */
  static from(other: Bag, numbers: readonly number[]): Bag {
    const bag = new Bag();
    for (const [text, packed] of other.of) bag.of.set(itemAt(numbers, text), packed);
    for (const [text, files] of other.more) bag.more.set(itemAt(numbers, text), files);
    bag.again = other.again;
    bag.total = other.total;
    return bag;
  }

  get size(): number {
    return this.of.size;
  }

  has(text: number): boolean {
    return this.of.has(text);
  }

  numbers(): IterableIterator<number> {
    return this.of.keys();
  }

  count(text: number): number {
    return Math.floor((this.of.get(text) ?? 0) / FILES);
  }

  file(text: number): number {
    return (this.of.get(text) ?? 0) % FILES;
  }
}

/** Texts, and files of each, that are remembered beside the last. */
const MOST_REMEMBERED = 20_000;
const MOST_FILES = 5;

/** More files than a project has. */
const FILES = 2 ** 22;
