/** A real git for specs. */
import { execFileSync } from 'node:child_process';

/** Runs git in a folder, as somebody whom commits name. @throws Error with what git says of it */
export function gitIn(folder: string, by = 'Ada'): (...args: string[]) => void {
  return (...args) =>
    void execFileSync('git', ['-C', folder, '-c', `user.name=${by}`, '-c', 'user.email=somebody@flight', ...args], {
      stdio: ['ignore', 'ignore', 'pipe'],
    });
}
