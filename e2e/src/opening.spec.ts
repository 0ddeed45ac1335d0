import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
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

  it('reads a folder without a plan by what it learns, and writes the plan as it is looked through, by keyboard alone', async () => {
    const { page, sample } = stage;
    const plan = join(sample, 'glue-trace.json');
    rmSync(plan);
    const folder = page.getByRole('textbox', { name: 'Folder of a project' });
    await folder.focus();
    await page.keyboard.insertText(sample);
    await page.keyboard.press('Enter');
    await page.getByText('How the glue holds').waitFor();
    await page.getByText('fee-board').first().waitFor();
    expect(existsSync(plan)).toBeFalse();
    await page.getByRole('link', { name: 'Look through what was learned' }).focus();
    await page.keyboard.press('Enter');
    const heading = page.getByRole('heading', { level: 1 });
    await page.getByText(/\d+ learned rules to look at/).waitFor();
    const left = async (): Promise<number> => parseInt(await heading.innerText(), 10);
    const before = await left();
    const gone = async (count: number): Promise<void> => {
      await page.getByRole('heading', { level: 1, name: `${before - count} learned rules to look at` }).waitFor();
    };
    for (let answer = 1; answer <= 9; answer++) {
      await page.keyboard.press('y');
      await gone(answer);
    }
    await page.keyboard.press('j');
    await page.keyboard.press('n');
    await gone(10);
    expect(existsSync(plan)).toBeTrue();
    const { learned } = JSON.parse(readFileSync(plan, 'utf8').replace(/^\s*\/\/.*$/gm, '')) as {
      learned: { rules: object; refused: string[] };
    };
    expect([Object.keys(learned.rules).length, learned.refused.length]).toEqual([before - 10, 1]);
    await page.keyboard.press('u');
    await gone(9);
    await page.keyboard.press('a');
    await page.getByText(/^Taken: \d+ rules that are surer than 95 %$/).waitFor();
    expect(await left()).toBeLessThan(before - 9);
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

  it('says of a folder with nothing in it that nothing can be learned, and not that it is read', async () => {
    const { page, base } = stage;
    mkdirSync(join(base, 'bare'));
    await open(join(base, 'bare'));
    await page.getByText('no file that one could be learned from').waitFor();
    expect(await page.getByText('it is read by one that was learned').count()).toBe(0);
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
