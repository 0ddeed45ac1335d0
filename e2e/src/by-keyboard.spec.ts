/** A hundred findings by keyboard alone: opened one after the other, waived, repaired, taken back; nothing is looked for. */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { openStage, type Stage } from './stage.js';

describe('working through findings by keyboard alone', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
  });
  afterEach(() => stage.close());

  /** The finding that is open: its row is chosen and in sight, and the pane tells of it. */
  const opened = async (page: Page): Promise<string> => {
    await page.waitForFunction(() => {
      const row = document.querySelector('.row.on');
      const list = document.querySelector('cdk-virtual-scroll-viewport');
      const heading = document.querySelector('glue-finding-pane h1');
      if (!row || !list || !heading) return false;
      const [own, frame] = [row.getBoundingClientRect(), list.getBoundingClientRect()];
      const words = (element: Element): string => (element.textContent ?? '').replace(/\s+/g, ' ').trim();
      return (
        own.top >= frame.top - 1 &&
        own.bottom <= frame.bottom + 1 &&
        row.querySelector('.words')?.getAttribute('title') === words(heading)
      );
    });
    return page.url();
  };

  it('a hundred are gone through; what is waived or repaired makes room for the next one', async () => {
    const { page, address } = stage;
    // More faults than the sample has: pictures that are not there.
    for (let at = 0; at < 40; at++)
      writeFileSync(
        join(stage.sample, `data/hints/more-${at}.json`),
        JSON.stringify({
          hint: `More ${at}`,
          scene: 'lower-flight',
          steps: [{ text: 'x', picture: `pictures/${at}.svg` }],
        }),
      );
    await page.goto(`${address}/p/1/findings`);
    await page.getByRole('button', { name: 'Scan again' }).click();
    await page.getByRole('heading', { name: /Findings 1\d\d/ }).waitFor();
    await page.locator('.row[role=option]').first().waitFor();
    const seen = new Set<string>();
    let waived = 0;
    for (let at = 0; at < 100; at++) {
      // After a waiver the next one is open already.
      if (at === 0 || at % 25 !== 1) await page.keyboard.press('j');
      seen.add(await opened(page));
      if (at % 25 !== 0) continue;
      await page.keyboard.press('w');
      // The box for the reason has the focus by itself.
      await page.waitForFunction(() => document.activeElement?.tagName === 'TEXTAREA');
      await page.keyboard.type('Known since the spring');
      await page.keyboard.press('Control+Enter');
      await page.getByRole('dialog').waitFor({ state: 'detached' });
      await page.getByText('Waived: this finding.').waitFor();
      waived++;
      await page.waitForFunction((before) => location.href !== before, [...seen].at(-1));
    }
    expect([seen.size, waived]).toEqual([100, 4]);
    const [last] = [page.url()];
    const heading = await page.locator('glue-finding-pane h1').innerText();
    await page.keyboard.press('k');
    // The address changes before the pane does.
    await page.waitForFunction(
      (before) => document.querySelector<HTMLElement>('glue-finding-pane h1')?.innerText !== before,
      heading,
    );
    expect(await opened(page)).not.toBe(last);
    await page.keyboard.press('n');
    await page.keyboard.type('Ask the lock crew');
    await page.keyboard.press('Escape');
    await page.getByText('Saved.').waitFor();
    await page.locator('.row.on .noted').waitFor();
    await page.keyboard.press('j');
    expect(await opened(page)).toBe(last);
    await page.keyboard.press('k');
    await opened(page);
    // What it is about, and back to the same place of the list.
    const before = page.url();
    await page.keyboard.press('t');
    await page.getByRole('heading', { level: 1 }).first().waitFor();
    await page.waitForURL(/\/trace\?/);
    await page.goBack();
    expect(await opened(page)).toBe(before);
  });

  it('after a repair the next finding is open, and the filters are there again at the next visit', async () => {
    const { page, address } = stage;
    await page.goto(`${address}/p/1/findings?check=broken%2Fcase-only`);
    await page.locator('.row[role=option]').first().waitFor();
    await page.keyboard.press('j');
    const first = await opened(page);
    await page.keyboard.press('x');
    await page.getByRole('button', { name: /Write/ }).first().waitFor();
    await page.getByRole('button', { name: /Write/ }).first().press('Enter');
    await page.waitForFunction(
      (before) => location.href !== before && /open=/.test(location.href) && document.querySelector('.row.on') !== null,
      first,
    );
    await opened(page);
    await page.goto(`${address}/p/1/readiness`);
    await page.getByRole('link', { name: 'Findings', exact: true }).click();
    await page.waitForURL(/check=broken(%2F|\/)case-only/);
  });

  it('somebody who is here for the first time is shown around, and never asked again', async () => {
    const fresh = await openStage({ isFirstVisit: true });
    try {
      const { page, address } = fresh;
      await page.goto(`${address}/p/1/readiness`);
      await page.getByRole('button', { name: 'Show me around' }).click();
      for (const view of ['findings', 'trace', 'wiring', 'play']) {
        await page.getByRole('button', { name: 'Next' }).click();
        await page.waitForURL(new RegExp(`/p/1/${view}`));
      }
      await page.getByRole('button', { name: 'Done' }).click();
      await page.goto(`${address}/p/1/readiness`);
      await page.getByRole('heading', { level: 1 }).first().waitFor();
      expect(await page.getByText('New here?').count()).toBe(0);
    } finally {
      await fresh.close();
    }
  });
});
