import { writeFileSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { openStage, type Stage } from './stage.js';

interface Happened {
  type: string;
  source: string;
  [more: string]: unknown;
}

describe('play logs, while a game runs', () => {
  let stage: Stage;
  let last = 0;
  beforeEach(async () => {
    stage = await openStage();
    last = 0;
  });
  afterEach(() => stage.close());

  const written = (happened: Happened): object => ({ specversion: '1.0', id: `e${++last}`, frame: last, ...happened });
  /** As a game does: with the token that the view shows. */
  const send = async (...all: Happened[]): Promise<void> => {
    const { token, path } = (await (await fetch(`${stage.address}/api/projects/1/play`)).json()) as {
      token: string;
      path: string;
    };
    const response = await fetch(`${stage.address}${path}?session=friday`, {
      method: 'POST',
      headers: { authorization: `Bearer ${token}`, 'content-type': 'application/cloudevents-batch+json' },
      body: JSON.stringify(all.map(written)),
    });
    expect(response.status).toBe(202);
  };
  const bell: Happened = { type: 'bell.rung', source: 'scenes/upper-flight.scene.json', data: { times: 3 } };
  const tide: Happened = { type: 'tide.turned', source: 'TideGauge', side: 'server' };
  const shows = (count: number): Promise<void> =>
    stage.page
      .locator('.row')
      .nth(count - 1)
      .waitFor();

  it('what comes is shown at once; kinds are muted, the list is held, begun anew, and narrowed to one channel', async () => {
    const { page } = stage;
    await page.goto(`${stage.address}/p/1/play`);
    await page.getByText('Nothing has been played yet.').waitFor();
    await send(bell, tide, tide);
    // A session that is new to the page is found by itself.
    await shows(3);
    await page.getByRole('button', { name: 'Mute tide.turned' }).click();
    await page.getByText('2 events muted').waitFor();
    await page.locator('.row').nth(1).waitFor({ state: 'detached' });
    await page.keyboard.press('a');
    await shows(3);

    await page.keyboard.press('p');
    await send(bell, bell);
    await page.getByText('Paused: 2 came since, and none of them is lost.').waitFor();
    expect(await page.locator('.row').count()).toBe(3);
    await page.keyboard.press('p');
    await shows(5);

    await page.keyboard.press('x');
    await page.getByText('Nothing of that here.').waitFor();
    await send(tide, bell);
    await shows(2);
    await page.getByRole('searchbox', { name: 'Words in the event or its payload' }).fill('tide.turned');
    await page.keyboard.press('Enter');
    await page.locator('.row').nth(1).waitFor({ state: 'detached' });
    expect(await page.locator('.row').first().innerText()).toContain('tide.turned');
  });

  it('an event tells what led to it and what it led to, and the session stands beside the map', async () => {
    const { page } = stage;
    await send(
      bell,
      { type: 'bell.rung', source: 'Quay Bell', happening: 'handled', handler: 'SluiceBell.ring', cause: 'e1' },
      { type: 'gate.oepned', source: 'Upper Gate', cause: 'e2' },
    );
    await page.goto(`${stage.address}/p/1/play`);
    await shows(3);
    await page.keyboard.press('j');
    await page.keyboard.press('j');
    const pane = page.getByRole('complementary', { name: 'The event' });
    await pane.getByText('SluiceBell.ring', { exact: true }).waitFor();
    await pane.getByRole('button', { name: 'gate.oepned' }).waitFor();
    await pane.getByRole('link', { name: 'bell.rung' }).waitFor();
    await pane.getByRole('textbox', { name: 'A mark on this event' }).fill('too late');
    await page.keyboard.press('Tab');
    await page.locator('.row .tag', { hasText: 'marked' }).waitFor();

    await page.keyboard.press('c');
    const map = page.locator('glue-play-map');
    await map.getByText(/\d+ of \d+ scenes loaded/).waitFor();
    await map.getByText('gate.oepned came once, and the map does not know it').waitFor();
    const drawing = map.locator('glue-route-drawing');
    const [picture] = await Promise.all([
      page.waitForEvent('download'),
      drawing.getByRole('button', { name: 'Save as SVG' }).click(),
    ]);
    expect(readFileSync(await picture.path(), 'utf8')).toContain('never loaded');
    await map.getByRole('button', { name: 'event 3' }).first().click();
    await page.getByRole('complementary', { name: 'The event' }).getByText('Upper Gate').first().waitFor();
    await page.keyboard.press('c');
    await shows(3);
  });

  it('findings of the scan say what failed in play', async () => {
    const { page } = stage;
    await send({
      ...{ type: 'engine.failed', happening: 'failed', source: 'Quay Bell', place: 'scripts/boats/tow-rope.ts:14' },
      data: { message: 'there is none' },
    });
    await page.goto(`${stage.address}/p/1/findings?played=failed`);
    await page.getByRole('option').filter({ hasText: 'TowRope' }).first().click();
    await page.getByText(/In play: failed once in one session/).waitFor();
  });

  it('a log is read of a file, and leaves as it came', async () => {
    const { page } = stage;
    const log = join(stage.base, 'friday.play.ndjson');
    writeFileSync(log, `${JSON.stringify(written(bell))}\n{ broken\n${JSON.stringify(written(tide))}\n`);
    await page.goto(`${stage.address}/p/1/play`);
    await page.locator('input[type=file]').setInputFiles(log);
    await shows(2);
    await page.getByText('1 line could not be read.').waitFor();
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('link', { name: 'All of it as a log' }).click(),
    ]);
    const lines = readFileSync(await download.path(), 'utf8')
      .trim()
      .split('\n');
    expect(lines.map((line) => (JSON.parse(line) as Happened).type)).toEqual(['bell.rung', 'tide.turned']);
    await page.getByRole('button', { name: 'Throw away …' }).click();
    await page.getByRole('button', { name: 'Throw it away for good' }).click();
    await page.getByText('Nothing has been played yet.').waitFor();
  });
});
