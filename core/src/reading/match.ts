import picomatch from 'picomatch';

const matchers = new Map<string, (path: string) => boolean>();

/** Whether a project-relative path (forward slashes) matches any of the globs. `*` stays within a folder, `**` does not. */
export function isMatch(path: string, globs: string[]): boolean {
  const key = globs.join('\n');
  let matcher = matchers.get(key);
  if (!matcher) matchers.set(key, (matcher = picomatch(globs, { dot: true })));
  return matcher(path);
}
