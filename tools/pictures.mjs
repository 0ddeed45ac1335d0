// Takes the pictures of docs/screenshots from the sample: node tools/pictures.mjs [FOLDER] [NAME …]
import { execFileSync } from 'node:child_process';
import { cpSync, mkdtempSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
import { playAt, sendRecorded } from './play.mjs';
import { ensureBuilt, ensureChromium, ensureInstalled, root } from './ready.mjs';

ensureInstalled();
ensureBuilt();
const executablePath = ensureChromium();
const { chromium } = await import('playwright-core');
const { createServer, listen } = await import(pathToFileURL(join(root, 'server/dist/index.js')).href);

const folder = resolve(process.argv[2] ?? join(root, 'docs/screenshots'));
const only = process.argv.slice(3);
mkdirSync(folder, { recursive: true });
const data = mkdtempSync(join(tmpdir(), 'glue-pictures-'));
const SAMPLE = join(root, 'samples/sluicekeeper');
// The same without its plan, for what is learned.
const bare = join(data, 'bare', 'sluicekeeper');
cpSync(SAMPLE, bare, { recursive: true });
rmSync(join(bare, 'glue-trace.json'));
// A copy with a history, in which something came and something was mended.
const played = join(data, 'played', 'sluicekeeper');
cpSync(SAMPLE, played, { recursive: true });
const git = (...args) =>
  execFileSync('git', ['-c', 'user.name=Ada', '-c', 'user.email=ada@lock', ...args], { cwd: played });
git('init', '-q', '-b', 'main');
git('add', '-A');
git('commit', '-q', '-m', 'before the fair');
const serving = async (name, project) => {
  const app = await createServer({
    storePath: join(data, `${name}.db`),
    folders: [{ folder: project }],
    startFolder: project,
    webFolder: join(root, 'web/dist/browser'),
    version: '0.1.0',
  });
  return { app, address: await listen(app, 0) };
};
const whole = await serving('whole', SAMPLE);
const planless = await serving('bare', bare);
const fair = await serving('played', played);
const browser = await chromium.launch({
  executablePath,
  args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
});

const VIEWS = [
  [
    'projects',
    '/projects',
    // Where the checkout lies on this machine is nobody's business.
    async (page) => {
      await page.locator('.mono.dim').evaluate((at) => (at.textContent = '/home/you/sluicekeeper'));
    },
  ],
  ['reading', '/p/1/reading'],
  [
    'plan',
    `/p/1/reading/plan?file=${encodeURIComponent('scripts/boats/tow-rope.ts')}`,
    async (page) => {
      await page.locator('mark').first().waitFor();
      await page.getByRole('listbox').focus();
      for (let line = 1; line < 21; line++) await page.keyboard.press('ArrowDown');
      await page.keyboard.press('Enter');
      await page.getByRole('button', { name: '… the identity of something' }).first().click();
      await page.getByText('3 places').waitFor();
    },
  ],
  [
    'guide',
    '/docs/learning',
    async (page) => {
      await page.locator('article img').waitFor();
    },
  ],
  [
    'learned',
    '/p/1/reading/learn',
    async (page) => {
      await page.getByText('“slots” in scene names one').click();
    },
    'light',
    planless,
  ],
  [
    'readiness',
    '/p/1/readiness',
    async (page) => {
      await page.getByLabel('What the views speak for').selectOption('start');
      await page.getByText('On the way from the start').waitFor();
    },
    'light',
    fair,
  ],
  [
    'scans',
    '/p/1/scans?from=main',
    async (page) => {
      await page.getByText('From main to scan').waitFor();
      await page.getByLabel('A mark for scan 1').fill('play test of Friday');
      await page.keyboard.press('Tab');
      await page.waitForTimeout(400);
    },
    'light',
    fair,
  ],
  [
    'findings',
    '/p/1/findings',
    async (page) => {
      await page.getByText('looks for a child called').first().click();
      await page.locator('glue-finding-pane pre').first().waitFor();
    },
  ],
  [
    'trace',
    `/p/1/trace?piece=${encodeURIComponent('type:scripts/boats/tow-rope.ts#TowRope')}`,
    async (page) => {
      await page.locator('glue-evidence pre').first().waitFor();
      await page
        .locator('.line', { hasText: 'extends' })
        .first()
        .waitFor({ timeout: 2000 })
        .catch(() => undefined);
    },
  ],
  [
    'repair',
    '/p/1/findings?check=broken%2Fcase-only',
    async (page) => {
      await page.locator('cdk-virtual-scroll-viewport .row').nth(1).click();
      await page.getByRole('button', { name: 'Show the change' }).first().click();
      await page.locator('glue-patch pre').first().waitFor();
      await page.locator('glue-patch').scrollIntoViewIfNeeded();
    },
  ],
  [
    'trace-object',
    `/p/1/trace?piece=${encodeURIComponent('object:scenes/lower-flight.scene.json#Weir/Gauges/Gauge 5')}`,
    async (page) => {
      await page.locator('glue-values table').first().waitFor();
    },
  ],
  [
    'trace-chains',
    `/p/1/trace?piece=${encodeURIComponent('type:scripts/boats/tow-rope.ts#TowRope')}&to=${encodeURIComponent('type:scripts/locks/gate.ts#Gate')}`,
    async (page) => {
      await page.locator('glue-chains ol').first().waitFor();
    },
  ],
  [
    'trace-drawing',
    `/p/1/trace?piece=${encodeURIComponent('type:scripts/boats/tow-rope.ts#TowRope')}&draw=20x2`,
    async (page) => {
      await page.locator('glue-drawing svg').waitFor();
    },
  ],
  [
    'wiring',
    `/p/1/wiring?event=${encodeURIComponent('event:lift.called')}&drawn=yes`,
    async (page) => {
      await page.locator('glue-piece-sheet svg .piece').first().waitFor();
    },
  ],
  [
    'play',
    '/p/1/play',
    async (page) => {
      await page.locator('.row', { hasText: 'handled' }).first().click();
      await page.getByText('What led to it').waitFor();
    },
  ],
  [
    'families',
    `/p/1/families?family=${encodeURIComponent('type:scripts/basin/lift-part.ts#LiftPart')}`,
    async (page) => {
      await page.getByRole('button', { name: 'replaced', exact: true }).click();
      await page.locator('glue-evidence').nth(1).waitFor();
    },
  ],
  [
    'twins',
    '/p/1/twins',
    async (page) => {
      await page.getByRole('button', { name: 'Dredger.onScrape()' }).click();
      await page.locator('glue-evidence').nth(1).waitFor();
    },
  ],
  [
    'structure',
    '/p/1/structure',
    async (page) => {
      await page.locator('.runs-back li button').first().click();
      await page.locator('aside glue-link').first().waitFor();
    },
  ],
  [
    'findings-dark',
    '/p/1/findings',
    async (page) => {
      await page.getByText('is empty on').first().click();
      await page.locator('glue-finding-pane pre').first().waitFor();
    },
    'dark',
  ],
];

/** Something is mended and something comes, with a scan after each. */
async function changeAndScan() {
  const page = await browser.newPage();
  await page.addInitScript(() => location.protocol === 'http:' && localStorage.setItem('glue-visited', 'yes'));
  const scan = async (number) => {
    await page.getByRole('button', { name: 'Scan again' }).click();
    await page.getByText(`${number} kept`).waitFor();
  };
  await page.goto(`${fair.address}/p/1/scans`);
  await page.getByText('1 kept').waitFor();
  const tender = join(played, 'scripts/boats/tender.ts');
  writeFileSync(tender, readFileSync(tender, 'utf8').replace("child('hull')", "child('Hull')"));
  await scan(2);
  const steps = [{ text: 'Mind the lamp.', picture: 'pictures/lamp-post.svg' }];
  writeFileSync(join(played, 'data/hints/late.json'), JSON.stringify({ hint: 'Late', scene: 'lower-flight', steps }));
  await scan(3);
  await page.close();
}

try {
  // Two scans, so that Readiness has something to compare.
  await settled(planless);
  await settled(fair);
  await changeAndScan();
  await settled(whole);
  await fetch(`${whole.address}/api/projects/1/scans`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: '{}',
  });
  await settled(whole);
  await sendRecorded(await playAt(whole.address, 5));
  for (const [name, path, prepare, colorScheme = 'light', { address } = whole] of VIEWS) {
    if (only.length > 0 && !only.includes(name)) continue;
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme });
    await page.addInitScript(() => location.protocol === 'http:' && localStorage.setItem('glue-visited', 'yes'));
    page.on('console', (message) => message.type() === 'error' && process.stderr.write(`${name}: ${message.text()}\n`));
    await page.goto(address + path);
    await page.locator('h1').first().waitFor();
    await page.waitForTimeout(400);
    await prepare?.(page);
    await page.waitForTimeout(300);
    await page.screenshot({ path: join(folder, `${name}.png`) });
    await page.close();
    process.stdout.write(`${name}.png\n`);
  }
} finally {
  await browser.close();
  await whole.app.close();
  await planless.app.close();
  await fair.app.close();
  rmSync(data, { recursive: true, force: true });
}

async function settled({ address }) {
  for (;;) {
    const project = await (await fetch(`${address}/api/projects/1`)).json();
    if (!project.running && project.lastScan?.state !== 'running') return;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
}
