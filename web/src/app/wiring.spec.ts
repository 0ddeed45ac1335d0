import type { WireEnd, Wiring } from '@glue-trace/core';
import { line, openPage, piece } from './testing/page';

const end = (name: string, label: string): WireEnd => ({
  piece: piece('type', name),
  objects: 2,
  link: {
    label,
    grip: 'name',
    moment: 'start',
    scope: 'all',
    side: 'unknown',
    file: 'scripts/rope.ts',
    range: { line: 4, column: 1, endLine: 4, endColumn: 2 },
  },
});
const PAGE: Wiring = {
  rows: [
    {
      what: piece('event', 'tight'),
      state: 'joined',
      area: 'scripts',
      senders: [end('Rope', 'with 1 value')],
      senderCount: 1,
      listeners: [end('Lock', '→ hold()')],
      listenerCount: 1,
    },
    {
      what: piece('event', 'parted'),
      state: 'unheard',
      area: 'scripts',
      senders: [end('Rope', 'parted')],
      senderCount: 3,
      listeners: [],
      listenerCount: 0,
    },
    {
      what: piece('event', 'dusk'),
      state: 'engine',
      area: 'scenes',
      senders: [],
      senderCount: 0,
      listeners: [end('Lamp', '')],
      listenerCount: 1,
    },
  ],
  total: 3,
  sends: { unknown: 0, start: 2, 'every frame': 1, 'on an event': 0, leave: 0 },
};

describe('Wiring', () => {
  it('shows senders, event and listeners by area, and who is missing', async () => {
    const page = await openPage('/p/1/wiring');
    expect(page.text('[role=status]')).toBe('Gathering …');
    await page.answer('/api/projects/1/wiring', PAGE);
    expect(page.texts('.area')).toEqual(['scripts', 'scenes']);
    expect(page.texts('.event')).toEqual(['tight', 'parted', 'dusk']);
    expect(page.texts('td .none')).toEqual(['nobody', 'the engine']);
    expect(page.text('td .lost')).toBe('nobody');
    expect(page.texts('glue-wire-end')[0]).toContain('Rope with 1 value · start · on 2 objects in scenes · rope.ts:4');
    expect(page.texts('td > glue-left-out').filter(Boolean)).toEqual(['and 2 more']);
    expect(page.text('.scroll > p')).toBe('Places that send one of them: 2 start, 1 every frame.');
  });

  it('tells what happens when an event fires, and what can lead to it', async () => {
    const page = await openPage('/p/1/wiring');
    await page.answer('/api/projects/1/wiring', PAGE);
    await page.press('j');
    expect(page.url()).toContain('event=event:tight');
    const told = {
      depth: 1,
      who: 'Lock',
      key: 'type:Lock',
      does: 'sends',
      what: 'hold',
      whatKey: 'event:hold',
      mark: 'round in a circle',
      file: 'scripts/lock.ts',
      range: null,
    };
    await page.answer('/api/projects/1/wiring/story', { lines: [told] });
    expect(page.text('.told')).toBe('Lock sends hold round in a circle');
    await page.click('aside .draw');
    expect(page.url()).toContain('drawn=yes');
    for (let n = 0; n < 100 && !page.element.querySelector('glue-piece-sheet svg'); n++) {
      await new Promise((resolve) => setTimeout(resolve, 50));
      await page.settle();
    }
    expect([...page.element.querySelectorAll('polyline title')].map((one) => one.textContent)).toEqual([
      'Lock → hold: sends round in a circle',
    ]);
    await page.click('aside .draw');
    expect(page.element.querySelector('glue-piece-sheet')).toBeNull();
    await page.click('aside .choice[aria-pressed=false]');
    expect(page.url()).toContain('way=backward');
    await page.answer('/api/projects/1/wiring/story', { lines: [] });
    expect(page.text('aside p')).toBe('Nothing further is known of it.');
    await page.press('Escape');
    expect(page.element.querySelector('aside')).toBeNull();
  });

  it('is narrowed, and says when nothing is like that', async () => {
    const page = await openPage('/p/1/wiring?state=unheard');
    await page.answer('/api/projects/1/wiring', { ...PAGE, rows: [], total: 0 });
    expect(page.text('.card b')).toBe('No event is like that.');
    await page.click('.card button');
    expect(page.url()).not.toContain('state');
    await page.answer('/api/projects/1/wiring', { ...PAGE, rows: [], total: 0 });
    expect(page.text('.card b')).toBe('No events.');
  });

  it('shows what comes and goes', async () => {
    const page = await openPage('/p/1/wiring?show=life');
    await page.answer('/api/projects/1/life-cycle', {
      groups: [{ verb: 'spawns', count: 1, lines: [line('spawns', piece('type', 'Crane'), piece('prefab', 'Crate'))] }],
      resets: [{ flag: piece('flag', 'isMended'), objects: [piece('object', 'Bridge')], objectCount: 3 }],
    });
    expect(page.text('.life')).toContain('Crane');
    expect(page.texts('h2')).toEqual(['spawns · 1', 'set back by a scene change · 1']);
    expect(page.texts('.life').at(-1)).toBe('isMended on Bridge and 2 more');
  });

  it('shows who sets a flag and who asks for it', async () => {
    const page = await openPage('/p/1/wiring?show=flags');
    const [row] = PAGE.rows;
    const flag = { ...row, what: piece('flag', 'isLevel'), senders: [end('Gate', 'set on in level()')] };
    await page.answer('/api/projects/1/wiring', { ...PAGE, rows: [flag], total: 1 });
    expect(page.text('h1')).toBe('Flags 1 flag');
    expect(page.texts('thead th')).toEqual(['Set by', 'Flag', 'Read by']);
    expect(page.texts('glue-wire-end')[0]).toContain('Gate set on in level()');
    await page.press('j');
    expect(page.element.querySelector('aside')).toBeNull();
    await page.click('.choice:first-child');
    expect(page.url()).not.toContain('show');
  });

  it('says what is wrong when there is no map', async () => {
    const page = await openPage('/p/1/wiring');
    await page.answer(
      '/api/projects/1/wiring',
      { code: 'scan/none', title: 'Not scanned', detail: '', mistakes: [] },
      409,
    );
    expect(page.text('[role=alert] b')).toBe('Not scanned');
  });
});
