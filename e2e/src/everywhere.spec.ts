/** From 320 px on without scrolling sideways; a server that stops, and what was typed when it does. */
import { openStage, type Stage } from './stage.js';
import { isSettled, VIEWS, withPlay } from './views.js';

describe('the interface everywhere', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
    await withPlay(stage);
  });
  afterEach(() => stage.close());

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

  it('takes the focus along to another view, back to where it was, and to the row whose pane is closed', async () => {
    const { page, address } = stage;
    const has = (what: string): Promise<unknown> =>
      page.waitForFunction((wanted) => {
        const one = document.activeElement;
        return (one?.getAttribute('aria-label') ?? (one?.id || one?.textContent.trim())) === wanted;
      }, what);
    await page.goto(`${address}/p/1/findings`);
    await page.locator('.row[role=option]').first().click();
    await page.locator('glue-finding-pane h1').waitFor();
    await has('Findings');
    // A box that was written into does not take the keys that come later.
    await page.keyboard.press('n');
    await page.keyboard.press('Escape');
    await page.keyboard.press('t');
    await page.locator('glue-trace h1').waitFor();
    await has('main');
    await page.goBack();
    await has('Findings');

    await page.getByRole('link', { name: 'Wiring', exact: true }).focus();
    await page.keyboard.press('Enter');
    await has('main');
    const event = page.getByRole('button', { name: 'rope.tight', exact: true });
    await event.focus();
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'Close', exact: true }).focus();
    await page.keyboard.press('Enter');
    await has('rope.tight');

    // From piece to piece the view stays, and what led on is gone.
    await page.goto(`${address}/p/1/trace?piece=type:scripts%2Fboats%2Ftow-rope.ts%23TowRope`);
    const next = page.locator('[data-list] a').first();
    const name = (await next.textContent())?.trim() ?? '';
    await next.focus();
    await page.keyboard.press('Enter');
    await page.waitForURL(/piece=part/);
    await has('main');
    await page.goBack();
    await has(name);
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
