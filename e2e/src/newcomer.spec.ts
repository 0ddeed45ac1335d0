import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { plantedFaults } from '@glue-trace/core/planted-faults';
import { openStage, type Stage } from './stage.js';

const PLANTED = plantedFaults();

describe('a newcomer', () => {
  let stage: Stage;
  beforeEach(async () => (stage = await openStage()));
  afterEach(async () => {
    expect(stage.complaints).toEqual([]);
    await stage.close();
  });

  const heading = (): Promise<string> => stage.page.locator('h1').first().innerText();

  it('goes from the verdict to a finding, to Trace, and sees the finding go after a repair', async () => {
    const { page, address, sample } = stage;
    await page.goto(address);
    await page.getByRole('link', { name: 'Show' }).click();
    await page.getByRole('heading', { name: PLANTED.verdict }).waitFor();

    await page.getByRole('link', { name: `Go through all ${PLANTED.errors}` }).click();
    // The list shows what fits on the screen: the finding is looked for by a word.
    const words = page.getByRole('searchbox', { name: 'Words in the finding' });
    await words.fill('hull');
    await words.press('Enter');
    await page.getByRole('option').filter({ hasText: 'asks for hull' }).first().click();
    const evidence = page.locator('glue-finding-pane glue-evidence').first();
    await evidence.waitFor();
    expect(await evidence.innerText()).toContain('scripts/boats/tender.ts');
    expect(await evidence.locator('.hit').innerText()).toContain("this.child('hull')");

    await page.keyboard.press('t');
    await page.waitForURL(/\/trace\?piece=part/);
    await page.getByRole('heading', { name: 'Tender part' }).waitFor();
    await page.locator('.line.on', { hasText: 'written Hull there' }).waitFor();

    const file = join(sample, 'scripts/boats/tender.ts');
    writeFileSync(file, readFileSync(file, 'utf8').replace("child('hull')", "child('Hull')"));
    await page.getByRole('button', { name: 'Scan again' }).click();
    await page.locator('.line', { hasText: 'Hull' }).filter({ hasNotText: 'written' }).first().waitFor();
    // The list is narrowed as it was; nothing of that is left.
    await page.getByRole('link', { name: 'Findings', exact: true }).click();
    await page.getByText('No finding is like that.').waitFor();
    await page.getByRole('button', { name: 'Show all', exact: true }).first().click();
    await page.getByRole('heading', { name: `Findings ${PLANTED.faults.length - 1}` }).waitFor();
    expect(await page.getByText('asks for hull').count()).toBe(0);
    await page.getByRole('link', { name: 'Readiness', exact: true }).click();
    await page.locator('#main').getByText('0 new, 1 gone').waitFor();
  });

  it('sees the open view change by itself when a file is mended', async () => {
    const { page, address, sample } = stage;
    await page.goto(`${address}/p/1/findings`);
    await page.getByRole('heading', { name: `Findings ${PLANTED.faults.length}` }).waitFor();
    await stage.watching();
    const file = join(sample, 'scripts/keeper/crane.ts');
    writeFileSync(file, readFileSync(file, 'utf8').replace("bells.ring('crate.dropped', crate);", ''));
    await page.getByRole('heading', { name: `Findings ${PLANTED.faults.length - 1}` }).waitFor();
    await page.getByRole('status').getByText('0 new, 1 gone').waitFor();
  });

  it('sees what was read and what was not', async () => {
    const { page, address, sample } = stage;
    writeFileSync(join(sample, 'stray.txt'), 'x');
    await page.goto(`${address}/p/1/reading`);
    await page.getByRole('heading', { name: 'not fully read' }).waitFor();
    await page.getByRole('button', { name: 'Scan again' }).click();
    await page.getByRole('heading', { name: /^2 of \d+ files are not fully read/ }).waitFor();
    await page.getByRole('button', { name: 'read by nothing' }).click();
    await page.getByText('no rule of the plan matches it').waitFor();
  });

  it('follows links in both directions, hop by hop, with the keyboard alone', async () => {
    const { page, address } = stage;
    await page.goto(`${address}/p/1/readiness`);
    await page.getByRole('heading', { name: 'Not ready' }).waitFor();
    await page.keyboard.press('/');
    await page.keyboard.type('TowRope');
    await page.getByRole('listbox', { name: 'Pieces found' }).getByRole('option').first().waitFor();
    await page.keyboard.press('Enter');
    await page.getByRole('heading', { name: 'TowRope' }).waitFor();
    const chosen = page.locator('.line.on');
    await chosen.filter({ hasText: 'no such child' }).waitFor();

    for (const next of ['Cleat', 'MooringPoint', 'rope.tight']) {
      await page.keyboard.press('j');
      await chosen.filter({ hasText: next }).waitFor();
    }
    await page.keyboard.press('Enter');
    await page.locator('.hop', { hasText: 'relies on nothing further' }).waitFor();
    await page.keyboard.press('Enter');
    await page.locator('.hop').waitFor({ state: 'detached' });

    await page.keyboard.press('t');
    await page.getByRole('heading', { name: 'rope.tight' }).waitFor();
    await page.locator('.line', { hasText: 'LockChamber listens to' }).locator('button').click();
    await page.locator('.line.hop', { hasText: 'runs' }).first().waitFor();
    await page.goBack();
    await page.getByRole('heading', { name: 'TowRope' }).waitFor();
    expect(page.url()).toContain('TowRope');
  });

  it('walks the list with j and k, narrows it, and finds the same again by its address', async () => {
    const { page, address } = stage;
    await page.goto(`${address}/p/1/findings`);
    await page.locator('.row[role=option]').first().waitFor();
    await page.keyboard.press('j');
    await page.keyboard.press('j');
    await page.keyboard.press('k');
    await page.locator('glue-finding-pane', { hasText: 'pictures/cleat.svg' }).waitFor();
    await page.getByRole('combobox', { name: 'Check' }).selectOption('fragile/climb');
    await page.getByRole('heading', { name: 'Findings 2 shown' }).waitFor();
    await page.locator('.row[role=option]').first().click();
    await page.locator('glue-finding-pane', { hasText: 'climbs two steps up' }).waitFor();
    const url = page.url();
    await page.goto('about:blank');
    await page.goto(url);
    await page.locator('glue-finding-pane', { hasText: 'climbs two steps up' }).waitFor();
    await page.getByRole('searchbox', { name: 'Words in the finding' }).fill('nothing like it');
    await page.keyboard.press('Enter');
    await page.getByText('No finding is like that.').waitFor();
    await page.getByRole('button', { name: 'Show all', exact: true }).first().click();
    await page.getByRole('heading', { name: `Findings ${PLANTED.faults.length}` }).waitFor();
  });

  it('shows all keys and closes again', async () => {
    const { page, address } = stage;
    await page.goto(`${address}/p/1/findings`);
    await page.locator('.row[role=option]').first().waitFor();
    await page.keyboard.press('?');
    await page.getByRole('dialog').getByText('next finding').waitFor();
    await page.keyboard.press('Escape');
    await page.getByRole('dialog').waitFor({ state: 'detached' });
  });

  it('switches between light and dark and remembers it', async () => {
    const { page, address } = stage;
    await page.goto(`${address}/projects`);
    const ground = (): Promise<string> => page.evaluate(() => getComputedStyle(document.body).backgroundColor);
    const light = await ground();
    await page.getByRole('button', { name: 'Switch between light and dark' }).click();
    const dark = await ground();
    expect(dark).not.toBe(light);
    await page.reload();
    expect(await ground()).toBe(dark);
    expect(await heading()).toBe('Projects');
  });

  it('writes a rule by pointing at a value, shows the change, saves it and scans again', async () => {
    const { page, address, sample } = stage;
    await page.goto(`${address}/p/1/reading`);
    await page.getByRole('link', { name: 'data/tolls.json' }).click();
    await page.getByRole('heading', { name: 'The plan beside a file' }).waitFor();
    await page.locator('mark').first().waitFor();
    const line = page.locator('.row[role=option]', { hasText: '"name":' }).first();
    await line.locator('mark').last().click();
    await page.getByText('This is …').waitFor();
    await page.getByRole('button', { name: 'a label that is asked for' }).click();
    await page.getByRole('button', { name: 'Save…' }).click();
    await page.locator('mat-dialog-container .added').first().waitFor();
    await page.getByRole('button', { name: 'Write it and scan' }).click();
    await page.locator('mat-dialog-container').waitFor({ state: 'detached' });
    await page.getByText('not saved').waitFor({ state: 'detached' });
    const plan = readFileSync(join(sample, 'glue-trace.json'), 'utf8');
    expect(plan).toContain('"by": "label"');
    expect(plan).toContain('// How Sluicekeeper');
  });

  it('says what a call means by keyboard alone, and sees at once what that finds in the whole project', async () => {
    const { page, address, sample } = stage;
    await page.goto(`${address}/p/1/reading/plan?file=scripts/boats/tow-rope.ts`);
    await page.locator('mark').first().waitFor();
    const file = page.getByRole('listbox');
    await file.focus();
    for (let line = 1; line < 21; line++) await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    await page.getByRole('heading', { name: 'Given to a call' }).waitFor();
    // The second Enter goes to what can be said.
    await page.keyboard.press('Enter');
    const wanted = page.getByRole('button', { name: '… the identity of something', exact: true });
    while (!(await wanted.evaluate((button) => button === document.activeElement))) await page.keyboard.press('Tab');
    await page.keyboard.press('Enter');
    await page.getByText(/\*\.row\(\$id\) finds 3 places/).waitFor();
    await page.getByText('hemp').first().waitFor();
    await page.getByText(/^Pieces \d+ \(as before\), links \d+ \(\d+ more\)/).waitFor();
    await page.getByRole('button', { name: 'Take back' }).click();
    await page.getByText('not saved').waitFor({ state: 'detached' });
    expect(readFileSync(join(sample, 'glue-trace.json'), 'utf8')).not.toContain('*.row(');
  });
});
