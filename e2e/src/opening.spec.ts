import { existsSync, mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { plantedFaults } from '@glue-trace/core/planted-faults';
import { openStage, type Stage } from './stage.js';

describe('opening a project', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage({ withSample: false });
    await stage.page.goto(stage.address);
  });
  afterEach(() => stage.close());

  async function open(folder: string): Promise<void> {
    await stage.page.getByRole('textbox', { name: 'Folder of a project' }).fill(folder);
    await stage.page.getByRole('button', { name: 'Open', exact: true }).click();
  }

  it('says what to do when there is none yet', async () => {
    await stage.page.getByText('No project is open yet.').waitFor();
  });

  it('scans a folder with a plan and shows the verdict', async () => {
    await open(stage.sample);
    await stage.page.getByRole('heading', { name: plantedFaults().verdict }).waitFor();
  });

  it('offers a plan for a folder without one, learned from what it finds', async () => {
    const { page, sample } = stage;
    rmSync(join(sample, 'glue-trace.json'));
    await open(sample);
    await page.getByText('needs a plan').waitFor();
    await page.getByRole('button', { name: 'Learn a plan…' }).click();
    const plan = page.getByRole('textbox', { name: 'The plan' });
    await plan.waitFor();
    expect(await plan.inputValue()).toContain('**/*.scene.json');
    expect(existsSync(join(sample, 'glue-trace.json'))).toBeFalse();
    await page.getByRole('button', { name: 'Write glue-trace.json and scan' }).click();
    await page.waitForURL(/readiness/);
    await page.getByText('How the glue holds').waitFor();
    expect(existsSync(join(sample, 'glue-trace.json'))).toBeTrue();
  });

  it('names the mistakes of a broken plan, and goes on once they are mended', async () => {
    const { page, sample } = stage;
    const mended = '{"version": 1, "name": "Small", "files": {}}';
    writeFileSync(join(sample, 'glue-trace.json'), mended.replace('"files"', '"filse"'));
    await open(sample);
    await page.getByText('plan has mistakes').waitFor();
    await page.locator('.mistakes').getByText('Did you mean “files”?').waitFor();
    writeFileSync(join(sample, 'glue-trace.json'), mended);
    await page.getByRole('button', { name: 'Try again' }).click();
    await page.getByRole('heading', { name: 'Nothing can be said: the plan reads none of the files here' }).waitFor();
  });

  it('says that a folder does not exist, or may not be opened', async () => {
    const { page, base } = stage;
    await open(join(base, 'nowhere'));
    await page.getByRole('alert').getByText('The folder does not exist').waitFor();
    await open('/etc');
    await page.getByRole('alert').getByText('This folder was not opened').waitFor();
  });

  it('lets one choose a folder by walking through them', async () => {
    const { page, base } = stage;
    mkdirSync(join(base, 'games'));
    await page.getByRole('button', { name: 'Choose a folder…' }).click();
    await page.getByRole('button', { name: 'sluicekeeper has a plan' }).click();
    await page.getByRole('button', { name: 'Open this folder' }).click();
    await page.getByRole('heading', { name: 'Not ready to play' }).waitFor();
  });

  it('shows what to do at addresses that lead nowhere', async () => {
    const { page, address } = stage;
    await page.goto(`${address}/p/99/findings`);
    await page.getByRole('alert').getByText('There is no such project').waitFor();
    await page.goto(`${address}/p/99/trace?piece=object:gone`);
    await page.getByRole('alert').getByText('There is no such project').waitFor();
    await page.goto(`${address}/nothing/here`);
    await page.getByRole('heading', { name: 'Projects' }).waitFor();
  });
});
