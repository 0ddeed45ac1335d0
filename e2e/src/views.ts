/** Every view, at an address or more; and when it is there. */
import { fileURLToPath } from 'node:url';
import type { Page } from 'playwright-core';
import type { Stage } from './stage.js';

const LOG = fileURLToPath(new URL('../../samples/sluicekeeper-play/friday.play.ndjson', import.meta.url));

export const VIEWS = [
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
  ...['/p/1/play?map=1', '/p/1/scans', '/p/1/trace?piece=nobody', '/p/1/wiring?event=event:engine.key&drawn=yes'],
];

export async function isSettled(page: Page): Promise<void> {
  await page.locator('main h1, main h2, main [role=alert]').first().waitFor();
  await page.waitForFunction(() => !document.querySelector('main glue-waiting'));
}

/** A session of play, for the views that tell of it. */
export async function withPlay({ page, address }: Stage): Promise<void> {
  await page.emulateMedia({ reducedMotion: 'reduce' });
  await page.goto(`${address}/p/1/play`);
  await page.locator('input[type=file]').setInputFiles(LOG);
  await page.locator('.row').first().waitFor();
}
