import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { gitIn } from '@glue-trace/core/git-in';
import { plantedFaults } from '@glue-trace/core/planted-faults';
import { openStage, type Stage } from './stage.js';

const { faults, verdict } = plantedFaults();

describe('deciding, comparing and handing over', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
  });
  afterEach(() => stage.close());

  const at = (view: string): string => `${stage.address}/p/1/${view}`;
  const waivers = (): string => join(stage.sample, 'glue-trace.waivers.json');
  const count = (number: number, words = ''): Promise<void> =>
    stage.page.getByRole('heading', { level: 1, name: `Findings ${number}${words}` }).waitFor();

  it('two windows on one project agree on what was decided and noted', async () => {
    const { page } = stage;
    const other = await page.context().newPage();
    await page.goto(at('findings'));
    await other.goto(at('findings'));
    for (const one of [page, other]) {
      await one.getByRole('heading', { level: 1, name: `Findings ${faults.length}` }).waitFor();
      await one.keyboard.press('j');
      await one.locator('glue-finding-pane h1').waitFor();
    }
    await page.keyboard.press('n');
    await page.keyboard.type('Ask the lock crew');
    await page.keyboard.press('Escape');
    await other.locator('.row.on .noted').waitFor();
    await other.waitForFunction(
      () => document.querySelector<HTMLTextAreaElement>('glue-finding-note textarea')?.value === 'Ask the lock crew',
    );
    await other.keyboard.press('w');
    await other.getByRole('textbox', { name: 'Why' }).fill('The quay is rebuilt');
    await other.keyboard.press('Control+Enter');
    await count(faults.length - 1);
    await page.getByText('Waived: The quay is rebuilt').waitFor();
    await other.close();
  });

  it('a finding is waived by keyboard, the next one opens, and it can be taken back; what ended counts again', async () => {
    const { page } = stage;
    await page.goto(at('findings'));
    await count(faults.length);
    await page.keyboard.press('j');
    const first = await page.locator('glue-finding-pane h1').innerText();
    await page.keyboard.press('w');
    await page.getByRole('textbox', { name: 'Why' }).fill('The quay is rebuilt');
    // What was typed is there again when the dialog was left.
    await page.keyboard.press('Escape');
    await page.getByRole('dialog').waitFor({ state: 'detached' });
    await page.keyboard.press('w');
    await page.waitForFunction(
      () =>
        document.querySelector<HTMLTextAreaElement>('mat-dialog-container textarea')?.value === 'The quay is rebuilt',
    );
    await page.getByLabel('Until').fill('2999-12-31');
    await page.getByRole('button', { name: 'Waive Ctrl Enter' }).click();
    await count(faults.length - 1);
    await page.getByRole('status').getByText('Waived: this finding.').waitFor();
    await page.waitForFunction((text) => {
      const heading = document.querySelector('glue-finding-pane h1');
      return heading !== null && heading.textContent.trim() !== text;
    }, first);
    const written = JSON.parse(readFileSync(waivers(), 'utf8')) as { waivers: { reason: string; until: string }[] };
    expect(written.waivers.map(({ reason, until }) => [reason, until])).toEqual([
      ['The quay is rebuilt', '2999-12-31'],
    ]);

    await page.goto(at('findings?waived=only'));
    await count(1, ' shown');
    await page.keyboard.press('j');
    await page.getByText('Waived until 2999-12-31: The quay is rebuilt').waitFor();
    await page.keyboard.press('w');
    await page.getByText('No finding is like that.').waitFor();

    const [one] = written.waivers;
    writeFileSync(waivers(), JSON.stringify({ waivers: [{ ...one, until: '2020-01-31' }] }));
    await page.goto(at('findings'));
    await page.getByRole('button', { name: 'Show all', exact: true }).first().click();
    await page.getByRole('button', { name: 'Scan again' }).click();
    await count(faults.length);
    await page.keyboard.press('j');
    await page.getByText('It was waived until 2020-01-31, and counts again: The quay is rebuilt').waitFor();
  });

  it('all that is shown is waived at once, and taken back together', async () => {
    const { page } = stage;
    await page.goto(at('findings?check=fragile%2Fpolling'));
    const shown = faults.filter((fault) => fault.startsWith('fragile/polling ')).length;
    await count(shown, ' shown');
    await page.getByRole('button', { name: 'More' }).click();
    await page.getByRole('menuitem', { name: `Waive all ${shown} that are shown` }).click();
    await page.getByRole('textbox', { name: 'Why' }).fill('Later');
    await page.getByRole('button', { name: 'Waive Ctrl Enter' }).click();
    await page.goto(at('readiness'));
    await page.getByRole('link', { name: new RegExp(`^${shown} findings? (is|are) waived`) }).click();
    await count(shown, ' shown');
    await page.getByRole('button', { name: 'More' }).click();
    await page.getByRole('menuitem', { name: 'Waivers' }).click();
    for (let left = shown; left > 0; left--) {
      await page.getByRole('button', { name: 'Take it back' }).first().click();
      await page.waitForFunction(
        (most) => document.querySelectorAll('glue-waivers-dialog .waiver').length < most,
        left,
      );
    }
    await page.getByText('Nothing is waived yet.').waitFor();
  });

  it('a route is saved, chosen in the bar, and Readiness and Findings speak for it', async () => {
    const { page } = stage;
    await page.goto(at('readiness'));
    await page.getByRole('heading', { name: verdict }).waitFor();
    const box = page.getByLabel('What the views speak for');
    await box.selectOption({ label: 'routes …' });
    await page.waitForFunction(() => document.activeElement?.getAttribute('name') === 'name');
    await page.getByRole('textbox', { name: 'Name' }).fill('Friday');
    await page.getByRole('combobox', { name: 'Add a scene or another piece' }).fill('summit basin');
    await page.getByRole('option').filter({ hasText: 'scene' }).first().click();
    await page.getByRole('button', { name: 'Save the route' }).click();
    await page.getByText('On the route “Friday”').waitFor();
    await page.getByRole('button', { name: 'Close' }).click();
    expect(existsSync(join(stage.sample, 'glue-trace.routes.json'))).toBeTrue();
    const off = parseInt(await page.getByText(/more finding(s lie| lies) off it/).innerText(), 10);
    expect(off).toBeGreaterThan(0);
    await page.getByRole('navigation').getByRole('link', { name: 'Findings' }).click();
    await count(faults.length - off);
    // It is remembered.
    await page.reload();
    await count(faults.length - off);
    await box.selectOption({ label: 'the whole project' });
    await count(faults.length);
  });

  it('the last scan is compared with a commit, and a report of what is new opens from its file', async () => {
    const { page, sample, base } = stage;
    const git = gitIn(sample);
    git('init', '-q', '-b', 'main');
    git('add', '-A');
    git('commit', '-q', '-m', 'before');
    await page.goto(at('scans'));
    await page.getByText('1 kept').waitFor();
    const text =
      '{ "hint": "Late", "scene": "lower-flight", "steps": [{ "text": "x", "picture": "pictures/none.svg" }] }';
    writeFileSync(join(sample, 'data/hints/late.json'), text);
    await page.getByRole('button', { name: 'Scan again' }).click();
    await page.getByText('2 kept').waitFor();
    await page.getByRole('searchbox', { name: 'A branch, tag or commit to compare with' }).fill('main');
    await page.keyboard.press('Enter');
    await page.getByText('From main to scan').waitFor();
    await page.getByText('1 new', { exact: true }).waitFor();
    await page.getByRole('link', { name: 'data asset:data/hints/late.json' }).waitFor();
    await page.getByLabel('A mark for scan 2').fill('play test of Friday');
    await page.keyboard.press('Tab');
    await page.getByRole('searchbox', { name: 'A branch, tag or commit to compare with' }).fill('nowhere');
    await page.keyboard.press('Enter');
    await page.getByText('“nowhere” is no branch, tag or commit').waitFor();

    await page.goto(at('findings?since=1'));
    await count(1, ' shown');
    await page.getByRole('button', { name: 'More' }).click();
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('menuitem', { name: 'Report of these: page (HTML)' }).click(),
    ]);
    const file = join(base, 'report.html');
    await download.saveAs(file);
    expect(download.suggestedFilename()).toBe('sluicekeeper-scan-2.html');
    await page.goto(pathToFileURL(file).href);
    await page.getByText('1 of 1').waitFor();
    expect(await page.locator('article h2').allInnerTexts()).toEqual([
      'Late names the file pictures/none.svg in picture; it does not exist',
    ]);
    await page.getByRole('searchbox', { name: 'Words' }).fill('nothing like that');
    await page.getByText('Nothing is left by these filters.').waitFor();
  });
});
