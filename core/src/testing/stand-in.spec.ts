/** What the tool calls an error, held against what happens when the sample is played (docs/sluicekeeper-engine.md). */
import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { mkdirSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { readPlayEvent } from '../play/event.js';
import { seenInPlay, type MetName } from '../play/seen.js';
import { viewFinding } from '../trace/finding-view.js';
import { mended, mends } from './mends.js';
import { useGrammars } from './project.js';
import { analyseTexts, sampleFiles } from './sample.js';

const ROOT = fileURLToPath(new URL('../../..', import.meta.url));
const SAMPLE = join(ROOT, 'samples/sluicekeeper');
const PAGE = join(ROOT, 'docs/sluicekeeper-engine.md');

interface Failure {
  place: string;
  source: string;
  message: string;
}
interface Game {
  start(scene: string): Promise<void>;
  step(): void;
  end(): void;
}
interface StandIn {
  tryAll(folder: string, scenes?: readonly string[]): AsyncIterable<{ scene: string; failures: Failure[] }>;
  createGame(options: { folder: string; seed: number; tell: (event: object) => void }): Game;
}

describe('the stand-in of the sample’s engine', () => {
  let play: StandIn;
  let base: string;
  beforeAll(async () => {
    await useGrammars();
    const at = (name: string): string => new URL(`../../../samples/sluicekeeper-play/${name}`, import.meta.url).href;
    const [{ tryAll }, { createGame }] = (await Promise.all([import(at('try-all.mjs')), import(at('game.mjs'))])) as [
      StandIn,
      StandIn,
    ];
    play = { tryAll, createGame };
    base = mkdtempSync(join(tmpdir(), 'glue-stand-in-'));
  });
  afterAll(() => rmSync(base, { recursive: true, force: true }));

  /** The table of the page. */
  const rows = [
    ...readFileSync(PAGE, 'utf8').matchAll(/^\| `([^`]+)`\s+\|\s*([\w-]*)\s+\| (`[^`]+`|nothing: .+?)\s+\|$/gm),
  ].map(([, fault = '', scene = '', shows = '']) => ({ fault, scene, shows }));
  const errors = (): string[] => {
    const { plan, texts } = sampleFiles();
    return analyseTexts(plan, texts)
      .findings.filter(({ severity }) => severity === 'error')
      .map(({ check, evidence: [{ file, range }] }) => `${check} ${file}:${range.line}`);
  };
  /** The sample with all its errors mended but one. */
  const folderWith = (name: string, fault: string, among: readonly string[]): string => {
    const folder = join(base, name);
    cpSync(SAMPLE, folder, { recursive: true });
    const { texts } = sampleFiles();
    let after: ReadonlyMap<string, string> = texts;
    for (const mend of mends()) {
      if (!among.includes(mend.fault) || mend.fault === fault || mend.also?.includes(fault)) continue;
      // Another mend may have changed the same words.
      try {
        after = mended(after, mend);
      } catch {
        continue;
      }
    }
    for (const file of texts.keys()) if (!after.has(file)) rmSync(join(folder, file));
    for (const [file, text] of after)
      if (texts.get(file) !== text) {
        mkdirSync(dirname(join(folder, file)), { recursive: true });
        writeFileSync(join(folder, file), text);
      }
    return folder;
  };
  const failuresIn = async (folder: string, scenes?: readonly string[]): Promise<string[]> => {
    const found: string[] = [];
    for await (const { failures } of play.tryAll(folder, scenes))
      for (const { place, source, message } of failures) found.push(`${place} ${source}: ${message}`);
    return [...new Set(found)];
  };

  it('has a word to each error of the sample', () => {
    expect(rows.map(({ fault }) => fault).sort()).toEqual(errors().sort());
  });

  it('fails with each of them as the finding says, and not without', async () => {
    const among = errors();
    for (const [at, { fault, scene, shows }] of rows.filter((row) => row.scene !== '').entries()) {
      const wanted = shows.slice(1, -1);
      const failures = await failuresIn(folderWith(`one-${at}`, fault, among), [scene]);
      expect(failures.some((one) => one.includes(wanted)))
        .withContext(`${fault} in ${scene}: ${failures.join('; ')}`)
        .toBeTrue();
    }
    const left = await failuresIn(folderWith('none', '', among));
    expect(left.map((one) => one.replace(/:.*$/, '')).sort()).toEqual([
      'scripts/basin/landing.ts',
      'scripts/bells/echo.ts',
      'scripts/bells/echo.ts',
    ]);
  });

  it('shows at most findings of errors that they failed, with all of them there at once', async () => {
    const met: MetName[] = [];
    for await (const { failures } of play.tryAll(SAMPLE))
      for (const { place, source, message } of failures)
        met.push({ as: 'failed', name: [place, source, message].join('\n'), times: 1 });
    const { plan, texts } = sampleFiles();
    const { linked, findings } = analyseTexts(plan, texts);
    const views = findings.map((finding) => viewFinding(linked.graph, finding));
    const seen = seenInPlay(linked.graph, met, 1, views);
    const failed = views.filter(({ fingerprint }) => (seen.get(fingerprint)?.failed ?? 0) > 0);
    const shown = new Set(rows.filter(({ scene }) => scene !== '').map(({ fault }) => fault));
    const errors = failed
      .filter(({ severity }) => severity === 'error')
      .map(({ check, evidence: [first] }) => `${check} ${first?.file}:${first?.range.line}`);
    // Some are hidden by others that fail before them; none is said to have failed that cannot.
    expect(errors.length).toBeGreaterThanOrEqual(22);
    expect(errors.filter((one) => !shown.has(one))).toEqual([]);
    // Hardly anything is said of findings that are none of the errors.
    expect(failed.length - errors.length).toBeLessThanOrEqual(5);
  });

  it('tells the same for the same seed, and nothing that is no event', async () => {
    const log = async (seed: number): Promise<string[]> => {
      const told: string[] = [];
      const game = play.createGame({ folder: SAMPLE, seed, tell: (event) => told.push(JSON.stringify(event)) });
      await game.start('scenes/upper-flight.scene.json');
      for (let frame = 0; frame < 300; frame++) game.step();
      game.end();
      return told;
    };
    const [first, again, other] = [await log(1), await log(1), await log(2)];
    expect(again).toEqual(first);
    expect(other).not.toEqual(first);
    expect(first.length).toBeGreaterThan(50);
    for (const line of first)
      expect(readPlayEvent(JSON.parse(line))).toEqual(jasmine.objectContaining({ event: jasmine.anything() }));
  });
});
