/**
 * Open to everybody: every view without a finding of axe (WCAG 2.2 AA) in light, dark and forced colours, from 320 px on
 * without scrolling sideways; a server that stops, and what was typed when it does.
 */
import { fileURLToPath } from 'node:url';
import axe from 'axe-core';
import type { Page } from 'playwright-core';
import { openStage, type Stage } from './stage.js';

const LOG = fileURLToPath(new URL('../../samples/sluicekeeper-play/friday.play.ndjson', import.meta.url));

const VIEWS = [
  ...[
    '/projects',
    '/docs/first-plan',
    '/docs/play',
    '/p/1/reading',
    '/p/1/reading/plan',
    '/p/1/readiness',
    '/p/1/trace',
  ],
  ...[
    '/p/1/trace?piece=type:scripts%2Fboats%2Ftow-rope.ts%23TowRope',
    '/p/1/structure',
    '/p/1/wiring',
    '/p/1/families',
  ],
  ...['/p/1/twins', '/p/1/findings', '/p/1/findings?text=nothing-like-that', '/p/1/play', '/p/1/play?at=4'],
  ...['/p/1/play?map=1', '/p/1/scans', '/p/1/trace?piece=nobody'],
];

async function isSettled(page: Page): Promise<void> {
  await page.locator('main h1, main h2, main [role=alert]').first().waitFor();
  await page.waitForFunction(() => !/Loading …|Going through all events …/.test(document.body.innerText));
}

/** @param rules those alone that are asked; all of WCAG 2.2 AA unless given */
async function faultsOf(page: Page, rules?: string[]): Promise<string[]> {
  // What fades in has no contrast yet.
  await page.waitForTimeout(250);
  await page.evaluate(axe.source);
  const { violations } = await page.evaluate(
    (only) =>
      (globalThis as unknown as { axe: typeof axe }).axe.run(document, {
        runOnly: only
          ? { type: 'rule', values: only }
          : { type: 'tag', values: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'] },
      }),
    rules,
  );
  return violations.map(({ id, nodes }) => `${id}: ${nodes[0]?.html.slice(0, 200) ?? ''}`);
}

describe('the interface for everybody', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
    await stage.page.emulateMedia({ reducedMotion: 'reduce' });
    await stage.page.goto(`${stage.address}/p/1/play`);
    await stage.page.locator('input[type=file]').setInputFiles(LOG);
    await stage.page.locator('.row').first().waitFor();
  });
  afterEach(() => stage.close());

  it('has no fault that axe knows, on any view, in light, dark and forced colours', async () => {
    const { page, address } = stage;
    for (const view of VIEWS) {
      await page.goto(address + view);
      await isSettled(page);
      for (const colours of ['light', 'dark', 'forced'] as const) {
        await page.emulateMedia({
          colorScheme: colours === 'dark' ? 'dark' : 'light',
          forcedColors: colours === 'forced' ? 'active' : 'none',
          reducedMotion: 'reduce',
        });
        expect(await faultsOf(page, colours === 'light' ? undefined : ['color-contrast']))
          .withContext(`${view} ${colours}`)
          .toEqual([]);
      }
    }
  });

  it('has none in its dialogs and panes either', async () => {
    const { page, address } = stage;
    const isFaultless = async (what: string): Promise<void> =>
      expect(await faultsOf(page))
        .withContext(what)
        .toEqual([]);
    await page.goto(`${address}/p/1/findings`);
    await isSettled(page);
    await page.keyboard.press('j');
    await page.locator('glue-finding-pane h1').waitFor();
    await isFaultless('a finding');
    for (const key of ['w', '?']) {
      await page.keyboard.press(key);
      await page.getByRole('dialog').waitFor();
      await isFaultless(`the dialog of ${key}`);
      await page.keyboard.press('Escape');
      await page.getByRole('dialog').waitFor({ state: 'detached' });
    }
    await page.getByLabel('What the views speak for').selectOption({ label: 'routes …' });
    await page.getByRole('dialog').waitFor();
    await isFaultless('routes');
  });

  it('is whole from 320 px on: only tables and code scroll sideways, in frames of their own', async () => {
    const { page, address } = stage;
    for (const view of VIEWS) {
      await page.setViewportSize({ width: 320, height: 700 });
      await page.goto(address + view);
      await isSettled(page);
      for (const width of [320, 640, 1024]) {
        await page.setViewportSize({ width, height: 700 });
        const { beyond, whole } = await page.evaluate(() => {
          const isFramed = (element: Element): boolean => {
            for (let at = element.parentElement; at && at.tagName !== 'MAIN'; at = at.parentElement)
              if (getComputedStyle(at).overflowX !== 'visible' && at.getBoundingClientRect().right <= innerWidth + 1)
                return true;
            return false;
          };
          const reaches = (element: Element): boolean => element.getBoundingClientRect().right > innerWidth + 1;
          return {
            beyond: Array.from(document.querySelectorAll('body *'))
              .filter((element) => reaches(element) && !isFramed(element))
              .map((element) => element.outerHTML.slice(0, 120)),
            whole: document.documentElement.scrollWidth,
          };
        });
        expect(beyond).withContext(`${view} at ${width}`).toEqual([]);
        expect(whole).withContext(`${view} at ${width}`).toBeLessThanOrEqual(width);
      }
    }
    // What is opened below the list is brought into sight.
    await page.setViewportSize({ width: 320, height: 500 });
    await page.goto(`${address}/p/1/findings?severity=error`);
    await page.locator('.row[role=option]').first().click();
    await page.locator('glue-finding-pane h1').waitFor();
    await page.waitForFunction(() => {
      const top = document.querySelector('glue-finding-pane')?.getBoundingClientRect().top ?? Infinity;
      return top < innerHeight / 2;
    });
    // What is folded away is one press off.
    await page.setViewportSize({ width: 320, height: 700 });
    await page.getByRole('button', { name: 'Views' }).click();
    await page.getByRole('link', { name: 'Wiring' }).click();
    await page.getByRole('heading', { name: /Wiring/ }).waitFor();
  });

  it('says that the server has stopped, asks anew when it is back, and keeps what was typed in the plan', async () => {
    const { page, address } = stage;
    await page.goto(`${address}/p/1/reading/plan`);
    await page.locator('.cm-content').click();
    await page.keyboard.press('Control+Home');
    await page.keyboard.type('// mine');
    await page.getByText('not saved').waitFor();
    await page.getByRole('link', { name: 'Back to Reading' }).click();
    await stage.stop();
    await page.getByRole('link', { name: 'Wiring' }).click();
    const bar = page.getByText('The server does not answer.').first();
    await bar.waitFor();
    await stage.again();
    await bar.waitFor({ state: 'detached' });
    await page.getByText(/\d+ events/).waitFor();
    expect(await page.title()).toBe('Wiring · Sluicekeeper · Glue Trace');
    await page.goto(`${address}/p/1/reading/plan`);
    await page.getByText('What you typed and did not save is here again').waitFor();
    expect(await page.locator('.cm-line').first().innerText()).toContain('// mine');
    // A server that was begun anew takes changes from this page, too.
    await page.goto(`${address}/p/1/readiness`);
    await isSettled(page);
    await stage.stop();
    await page.getByRole('link', { name: 'Scans' }).click();
    await bar.waitFor();
    await stage.again();
    await bar.waitFor({ state: 'detached' });
    await page.getByRole('button', { name: 'Scan again' }).click();
    await page.getByText(/Scanned/).waitFor();
  });
});
