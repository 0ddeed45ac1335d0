/** What stands in the interface: the words of docs/words.md, as in what checks say and in the guide; and no colour of its own. */
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const ROOT = fileURLToPath(new URL('../../..', import.meta.url));
const textOf = (path: string): string => readFileSync(join(ROOT, path), 'utf8');
const files = (folder: string, ending: RegExp): string[] =>
  readdirSync(join(ROOT, folder), { recursive: true })
    .map((path) => join(folder, String(path)))
    .filter((path) => ending.test(path) && !/\.spec\./.test(path));

/** Words that stand for nothing here, with the one that is used. */
function avoided(): { word: string; other: string }[] {
  const rows = textOf('docs/words.md').matchAll(/^\| ([\w ]+?) +\|[^|]*\| ([\w, ]*?) *\|$/gm);
  return [...rows].flatMap(([, word = '', others = '']) =>
    others.split(', ').flatMap((other) => (other && word !== 'word' ? [{ word, other }] : [])),
  );
}

/** What somebody reads of a file: of a page its prose; else text between tags, titles, labels, and words of the code. */
function readIn(path: string): string {
  const text = textOf(path);
  if (path.endsWith('.md')) return text.replace(/```[^]*?```|`[^`]*`|\]\([^)]*\)|<!--[^]*?-->/g, ' ');
  const template = path.endsWith('.html')
    ? text
    : [...text.matchAll(/template: `([^]*?)`,\n/g)].map(([, one]) => one).join('\n');
  const shown = [
    ...template.matchAll(/>([^<>]+)</g),
    ...template.matchAll(/(?:title|aria-label|placeholder|words|says|hint|name|way)="([^"]+)"/g),
    ...text.matchAll(/\b(?:words|title|why|decides|does|detail|sure): ?'([^'\n]+)'/g),
  ];
  return shown.map(([, one = '']) => one.replace(/\{\{[^]*?\}\}|@\w+ \([^]*?\) \{/g, ' ')).join('\n');
}

describe('the words that people read', () => {
  it('are the same in the interface, the checks and the guide', () => {
    const read = [
      ...files('web/src/app', /\.(?:html|ts)$/),
      ...files('core/src/checks', /\.ts$/),
      ...files('core/src/play/checks', /\.ts$/),
      ...files('docs', /^docs\/[\w-]+\.md$/).filter((path) => !/words|licences/.test(path)),
      ...['core/src/model/errors.ts', 'README.md'],
    ];
    const words = avoided();
    expect([read.length > 120, words.length > 10]).toEqual([true, true]);
    const wrong = read.flatMap((path) => {
      const text = readIn(path);
      return words
        .filter(({ other }) => new RegExp(`\\b${other}s?\\b`, 'i').test(text))
        .map(({ word, other }) => `${path}: “${other}” is called ${word}`);
    });
    expect(wrong).toEqual([]);
    // It would see one.
    expect(readIn('web/src/app/findings/findings.html')).toContain('No finding is like that.');
  });
});

describe('the look of the interface', () => {
  it('has its colours from the tokens alone', () => {
    const styled = [...files('web/src/app', /\.(?:scss|ts)$/), 'web/src/styles/styles.scss'];
    const own = styled.filter((path) =>
      /:[^;{}'"`]*(?:#[0-9a-f]{3,8}\b|\b(?:rgb|hsl)a?\()[^;{}'"`]*;/i.test(textOf(path).replace(/url\([^)]*\)/g, '')),
    );
    expect(own).toEqual([]);
    expect(textOf('web/src/styles/_tokens.scss')).toMatch(/--brick: #[0-9a-f]{6};/);
  });
});
