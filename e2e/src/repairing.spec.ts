import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { openStage, type Stage } from './stage.js';

describe('the lead', () => {
  let stage: Stage;
  beforeEach(async () => (stage = await openStage()));
  afterEach(async () => {
    expect(stage.complaints).toEqual([]);
    await stage.close();
  });

  it('looks at a repair, writes it for all places of one cause, sees them go, and takes it back', async () => {
    const { page, address, sample } = stage;
    const tender = (): string => readFileSync(join(sample, 'scripts/boats/tender.ts'), 'utf8');
    const before = tender();
    await page.goto(`${address}/p/1/findings?check=broken%2Fcase-only`);
    await page.getByRole('heading', { name: 'Findings 2 shown' }).waitFor();
    await page.locator('.row[role=option]', { hasText: 'hull' }).click();
    await page.getByRole('button', { name: 'Show the change' }).first().click();
    await page.locator('glue-patch .added', { hasText: "child('Hull')" }).waitFor();
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: 'Download .patch' }).click(),
    ]);
    expect(readFileSync(await download.path(), 'utf8')).toContain('diff --git a/scripts/boats/tender.ts');
    await page.getByRole('button', { name: 'Write it' }).click();
    await page.getByRole('heading', { name: 'Findings 1 shown' }).waitFor();
    expect(tender()).not.toBe(before);
    await page.getByRole('button', { name: 'Take it back' }).click();
    await page.getByText('Taken back:').waitFor();
    await page.getByRole('heading', { name: 'Findings 2 shown' }).waitFor();
    expect(tender()).toBe(before);
    await page.getByRole('button', { name: 'Close this note' }).click();
    await page.getByRole('button', { name: 'More' }).click();
    await page.getByRole('menuitem', { name: 'Repairs written' }).click();
    await page.getByRole('dialog').getByText('taken back').waitFor();
    await page.getByRole('button', { name: 'Close', exact: true }).click();
  });

  it('is told when a file changed under a repair', async () => {
    const { page, address, sample } = stage;
    await page.goto(`${address}/p/1/findings?check=broken%2Fmissing-call`);
    await page.locator('.row[role=option]').first().click();
    await page.locator('glue-repairs li').first().waitFor();
    await page.keyboard.press('x');
    await page.locator('glue-patch').waitFor();
    // Nobody looks at the project by another window, so that it is not scanned again at once.
    await page.route('**/api/projects/1/progress', (route) => route.abort());
    const file = join(sample, 'scripts/locks/wheel.ts');
    writeFileSync(file, `${readFileSync(file, 'utf8')}\n`);
    await page.getByRole('button', { name: 'Write it' }).click();
    await page.getByRole('alert').or(page.getByText('Written:')).first().waitFor();
    // The browser notes the answer of the server itself.
    stage.complaints.length = 0;
  });

  it('asks how one piece reaches another, draws what stands around it, and sees values in force', async () => {
    const { page, address } = stage;
    await page.goto(`${address}/p/1/trace?piece=${encodeURIComponent('type:scripts/boats/tow-rope.ts#TowRope')}`);
    await page.getByRole('heading', { name: 'TowRope' }).waitFor();
    const picker = page.getByRole('combobox', { name: 'How does it reach …' });
    await picker.fill('Gate type');
    await page
      .getByRole('listbox', { name: 'Pieces found' })
      .getByRole('option', { name: 'Gate type' })
      .first()
      .click();
    await page.locator('glue-chains li', { hasText: 'rope.tight is listened to by LockChamber' }).waitFor();
    await page.goBack();
    await page.locator('glue-chains').waitFor({ state: 'detached' });
    await page.getByRole('button', { name: 'Draw what stands around it' }).click();
    await page.locator('glue-drawing svg .piece').first().waitFor();
    const [svg] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: 'Save as SVG' }).click(),
    ]);
    expect(readFileSync(await svg.path(), 'utf8')).toMatch(
      /^<\?xml[^]*<svg xmlns="http:\/\/www.w3.org\/2000\/svg"[^]*TowRope/,
    );
    const [png] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: 'Save as PNG' }).click(),
    ]);
    expect(
      readFileSync(await png.path())
        .subarray(1, 4)
        .toString(),
    ).toBe('PNG');
    await page.locator('glue-drawing .piece', { hasText: 'rope.tight' }).click();
    await page.getByRole('heading', { name: 'rope.tight' }).waitFor();

    await page.goto(
      `${address}/p/1/trace?piece=${encodeURIComponent('object:scenes/upper-flight.scene.json#Quay/Quay Bell')}`,
    );
    await page.locator('glue-values .force', { hasText: '3-1' }).waitFor();
    expect(await page.locator('glue-values tr', { hasText: 'code' }).innerText()).toContain('scene Upper Flight');
  });

  it('reads the ledger of events and the story of one, both ways', async () => {
    const { page, address } = stage;
    await page.goto(`${address}/p/1/wiring`);
    await page.getByRole('button', { name: 'rope.tight' }).click();
    await page.locator('.told', { hasText: 'Gate hears it hold()' }).waitFor();
    await page.getByRole('button', { name: 'What can lead to it' }).click();
    await page.locator('.told', { hasText: 'TowRope sends it in pull()' }).waitFor();
    await page.getByRole('combobox', { name: 'Ends' }).selectOption('unheard');
    await page.getByRole('heading', { name: 'Wiring 2 events' }).waitFor();
    await page.getByRole('button', { name: 'What comes and goes' }).click();
    await page.getByText('spawns · ').waitFor();
  });

  it('sees who relies on whom, opens a cell and goes down into a folder', async () => {
    const { page, address } = stage;
    await page.goto(`${address}/p/1/structure`);
    await page.getByRole('button', { name: 'scripts relies on prefabs' }).click();
    await page.locator('aside glue-link').first().waitFor();
    await page.keyboard.press('Escape');
    await page.locator('aside').waitFor({ state: 'detached' });
    await page.getByRole('button', { name: 'scripts', exact: true }).click();
    await page.getByRole('rowheader', { name: 'locks' }).waitFor();
    await page.getByLabel('Told apart by').selectOption('scene');
    await page.getByRole('rowheader', { name: 'Upper Flight (scene)' }).waitFor();
  });
});
