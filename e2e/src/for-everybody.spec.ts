/** Open to everybody: every view without a finding of axe (WCAG 2.2 AA), in light, dark and forced colours. */
import { rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import axe from 'axe-core';
import type { Page } from 'playwright-core';
import { openStage, type Stage } from './stage.js';
import { isSettled, VIEWS, withPlay } from './views.js';

/** @param rules those alone that are asked; all of WCAG 2.2 AA unless given */
async function faultsOf(page: Page, rules?: string[]): Promise<string[]> {
  if (!(await page.evaluate(() => 'axe' in globalThis))) {
    // What fades in has no contrast yet.
    await page.addStyleTag({ content: '* { transition: none !important; animation: none !important; }' });
    await page.evaluate(axe.source);
  }
  await page.evaluate(() => new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve))));
  const { violations } = await page.evaluate(
    (only) =>
      (globalThis as unknown as { axe: typeof axe }).axe.run(document, {
        // What is right need not be told, node by node.
        resultTypes: ['violations'],
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
    await withPlay(stage);
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
    // Some sixty looks with axe.
  }, 150_000);

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
    await page.getByRole('button', { name: 'Narrow by' }).click();
    await page.getByRole('menuitem', { name: 'Scene' }).click();
    await page.getByRole('menuitem', { name: /Upper Flight/ }).waitFor();
    await isFaultless('the menus');
    await page.getByRole('menuitem', { name: /Upper Flight/ }).click();
    await page.getByRole('button', { name: 'More' }).click();
    await page.getByRole('menuitem', { name: /Repair what is sure/ }).click();
    await page.locator('glue-repair-all glue-patch').first().waitFor();
    await isFaultless('the repairs of all that is shown');
    await page.keyboard.press('Escape');
    await page.getByRole('dialog').waitFor({ state: 'detached' });
    for (const item of ['Waivers …', 'Repairs written …']) {
      await page.getByRole('button', { name: 'More' }).click();
      await page.getByRole('menuitem', { name: item }).click();
      await page.getByRole('dialog').waitFor();
      await isFaultless(item);
      await page.keyboard.press('Escape');
      await page.getByRole('dialog').waitFor({ state: 'detached' });
    }
    await page.getByRole('button', { name: 'Settings' }).click();
    await page.getByRole('dialog').waitFor();
    await isFaultless('settings');
    await page.keyboard.press('Escape');
    await page.getByRole('dialog').waitFor({ state: 'detached' });
    await page.getByLabel('What the views speak for').selectOption({ label: 'routes …' });
    await page.getByRole('dialog').waitFor();
    await isFaultless('routes');
  });

  it('has none where nobody wrote a plan, nor where nothing can be read', async () => {
    const { page, address, sample } = stage;
    const views = ['projects', 'p/1/reading', 'p/1/reading/learn', 'p/1/reading/plan', 'p/1/readiness', 'p/1/findings'];
    for (const state of ['without a plan', 'with a plan that has a mistake']) {
      if (state === 'without a plan') rmSync(join(sample, 'glue-trace.json'));
      else writeFileSync(join(sample, 'glue-trace.json'), '{ "version": 1, "filse": {} }');
      await page.goto(`${address}/p/1/readiness`);
      // A plan that cannot be read cannot be scanned by.
      if (state === 'without a plan') await page.getByRole('button', { name: 'Scan again' }).click();
      for (const view of views) {
        await page.goto(`${address}/${view}`);
        await isSettled(page);
        expect(await faultsOf(page))
          .withContext(`${view} ${state}`)
          .toEqual([]);
      }
    }
  });
});
