import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { gitIn } from '@glue-trace/core/git-in';
import { openStage, type Stage } from './stage.js';

describe('a lead who looks for copies', () => {
  let stage: Stage;
  beforeEach(async () => (stage = await openStage()));
  afterEach(async () => {
    expect(stage.complaints).toEqual([]);
    await stage.close();
  });

  it('goes from a finding to Twins, mends one copy, and is told that the other was left', async () => {
    const { page, address, sample } = stage;
    const git = gitIn(sample);
    git('init', '-q');
    git('add', '.');
    git('commit', '-qm', 'The flight as it was');
    await page.goto(`${address}/p/1/findings?check=twin%2Fcopied-code`);
    await page.getByRole('option').filter({ hasText: 'RainLog.mean()' }).click();
    await page.getByRole('link', { name: 'See in Twins' }).click();
    await page.waitForURL(/twins\?text=/);
    await page.getByRole('button', { name: 'RainLog.mean() and WindLog.mean()' }).click();
    const pane = page.locator('aside');
    await pane.getByText('a new parent between them and theirs').waitFor();
    expect(await pane.locator('glue-evidence').count()).toBe(2);

    const file = join(sample, 'scripts/basin/rain-log.ts');
    const mended = readFileSync(file, 'utf8').replace(
      '    const depth',
      '    if (sum < 0) return this.dry;\n    const depth',
    );
    writeFileSync(file, mended);
    await page.getByRole('button', { name: 'Scan again' }).click();
    await page.getByText('RainLog.mean() was changed since the last commit, and the other not.').waitFor();
    expect(await pane.locator('.gap').count()).toBe(1);
  });

  it('sees what each child has of its parent, compares two, and asks whom an edit reaches', async () => {
    const { page, address } = stage;
    await page.goto(`${address}/p/1/families`);
    await page.getByRole('button', { name: 'LiftPart' }).click();
    await page.getByRole('button', { name: 'never set' }).waitFor();
    await page.getByRole('button', { name: 'replaced' }).click();
    await page.getByText('An edit of LiftPart’s reaches 2 of its 3 members: 2 objects in scenes.').waitFor();
    await page.keyboard.press('Escape');
    await page.getByLabel('Compare LiftHook').check();
    await page.getByLabel('Compare LiftRope').check();
    await page.getByText('LiftHook and LiftRope differ in 2 of 3').waitFor();
    await page.goBack();
    await page.getByLabel('Order').waitFor();
  });
});
