import { compileGlob } from './glob.js';

const matchers = new Map<string, (path: string) => boolean>();

/** Whether a project-relative path (forward slashes) matches any of the globs. `*` stays within a folder, `**` does not. */
export function isMatch(path: string, globs: string[]): boolean {
  const key = globs.join('\n');
  let matcher = matchers.get(key);
  if (!matcher) {
    const all = globs.map(compileGlob);
    matchers.set(key, (matcher = (one) => all.some((fits) => fits(one))));
  }
  return matcher(path);
}
