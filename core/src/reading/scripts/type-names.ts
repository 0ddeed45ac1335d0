/** How types are named after the files that they stand in. */
import type { TypeNaming } from '../plan/plan.js';

/** `tow-rope` as the name of a type: `TowRope`. */
export function pascal(name: string): string {
  return name.replace(/(?:^|[^A-Za-z0-9]+)([A-Za-z0-9])/g, (_whole, letter: string) => letter.toUpperCase());
}

const letters = (name: string): string => name.toLowerCase().replace(/[^a-z0-9]/g, '');

/** @param file the file's name without endings */
export function isNamedAfter(naming: TypeNaming, file: string, type: string): boolean {
  if (naming === 'same') return type === file;
  return naming === 'pascal' ? type === pascal(file) : letters(type) === letters(file);
}
