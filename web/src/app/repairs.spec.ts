import type { FindingDetail, RepairPreview, RepairView, SureRepairs } from '@glue-trace/server/api';
import { findingPage, openPage, piece, row, type Page } from './testing/page';

const PATCH = `diff --git a/scripts/rope.ts b/scripts/rope.ts
--- a/scripts/rope.ts
+++ b/scripts/rope.ts
@@ -4,1 +4,1 @@
-cleet
+cleat
`;
const PREVIEW: RepairPreview = {
  title: 'Write “cleat”',
  patch: PATCH,
  files: ['scripts/rope.ts'],
  count: 1,
  left: [],
  notes: [],
};
const WRITTEN: RepairView = {
  id: 7,
  writtenAt: '',
  title: 'Write “cleat”',
  files: ['scripts/rope.ts'],
  isUndone: false,
};

function finding(): FindingDetail {
  return {
    check: 'broken/missing-object',
    severity: 'error',
    sentence: ['lost'],
    text: 'lost',
    sure: 'sure',
    pieces: [piece('type', 'Rope')],
    evidence: [{ file: 'scripts/rope.ts', range: { line: 4, column: 1, endLine: 4, endColumn: 6 }, shows: 'it' }],
    walk: [],
    places: 1,
    repairs: [
      { title: 'In words', words: 'Do it by hand.' },
      { title: 'Write “cleat”', words: 'It is there.', changes: [] },
    ],
    fingerprint: 'f1',
    files: ['scripts/rope.ts'],
    note: '',
    beside: [],
  };
}

/** The list with a finding open. */
async function open(): Promise<Page> {
  const page = await openPage('/p/1/findings?open=f1');
  await page.answer('/api/projects/1/findings', findingPage([row('f1', 'lost')]));
  await page.answer('/api/projects/1/findings/f1', finding());
  await page.answer('/api/projects/1/excerpt', {}, 404);
  return page;
}

describe('Repairs', () => {
  it('are words, and a button where a change can be written', async () => {
    const page = await open();
    expect(page.texts('glue-repairs li').map((one) => one.split('.')[0])).toEqual(['In words', 'Write “cleat”']);
    expect(page.element.querySelectorAll('glue-repairs li button').length).toBe(1);
  });

  it('show what they come to, write it, and take it back', async () => {
    const page = await open();
    await page.press('x');
    expect(page.text('.preview [role=status]')).toBe('Working out the change …');
    await page.answer('/api/projects/1/repairs/preview', PREVIEW);
    expect(page.texts('glue-patch span')).toEqual(['line 4', '-cleet', '+cleat']);
    await page.click('.preview .actions button');
    await page.answer('/api/projects/1/repairs', WRITTEN);
    expect(page.text('glue-written')).toContain('Written: Write “cleat” (scripts/rope.ts)');
    expect(page.element.querySelector('.preview')).toBeNull();
    await page.click('glue-written button');
    await page.answer('/api/projects/1/repairs/7', { ...WRITTEN, isUndone: true });
    expect(page.text('glue-written')).toContain('Taken back');
    await page.click('glue-written button');
    expect(page.element.querySelector('.note')).toBeNull();
  });

  it('say why they cannot be written, and can be left', async () => {
    const page = await open();
    await page.press('x');
    const problem = {
      code: 'repair/changed',
      title: 'A file has changed since the scan',
      detail: 'Scan again.',
      mistakes: [],
    };
    await page.answer('/api/projects/1/repairs/preview', problem, 409);
    expect(page.text('.preview [role=alert]')).toBe('A file has changed since the scanScan again.');
    await page.press('x');
    expect(page.element.querySelector('.preview')).toBeNull();
  });

  it('stay in sight when a finding has many places: the others are folded away', async () => {
    const [place] = finding().evidence;
    const page = await openPage('/p/1/findings?open=f1');
    await page.answer('/api/projects/1/findings', findingPage([row('f1', 'lost')]));
    await page.answer('/api/projects/1/findings/f1', {
      ...finding(),
      places: 59,
      evidence: Array.from({ length: 9 }, (_, at) => ({
        ...place,
        range: { ...place.range, line: at + 1 },
        shows: `place ${at}`,
      })),
    });
    await page.answer('/api/projects/1/excerpt', {}, 404);
    expect(page.text('details summary')).toBe('5 more of 59 places');
    expect(page.texts('glue-finding-pane p .dim').filter((one) => one.startsWith('place'))).toEqual(
      Array.from({ length: 9 }, (_, at) => `place ${at}`),
    );
    expect(page.element.querySelectorAll('details .dim').length).toBe(5);
  });

  it('that are sure are tried in memory when the finding has been open a moment, and say what came of it', async () => {
    const sure: FindingDetail = {
      ...finding(),
      repairs: ['one', 'other'].map((title) => ({ title, words: 'It is there.', changes: [], sure: true as const })),
    };
    const page = await openPage('/p/1/findings?open=f1');
    await page.answer('/api/projects/1/findings', findingPage([row('f1', 'lost')]));
    await page.answer('/api/projects/1/findings/f1', sure);
    await page.answer('/api/projects/1/excerpt', {}, 404);
    expect(page.texts('glue-repairs li [role=status]')).toEqual([
      'It is being tried in memory …',
      'It is being tried in memory …',
    ]);
    await new Promise((resolve) => setTimeout(resolve, 450));
    await page.answer('/api/projects/1/findings/f1/trial', {
      trials: [{ repair: 0 }, { repair: 1, reason: 'the finding would stay.' }],
    });
    expect(page.texts('glue-repairs li [role=status]')).toEqual([
      'Tried in memory: the finding goes, and nothing comes.',
      'Look before you write it. Tried in memory: the finding would stay.',
    ]);
  });

  it('are shown together, with what is left out', async () => {
    const page = await open();
    await page.press('x');
    await page.answer('/api/projects/1/repairs/preview', {
      ...PREVIEW,
      count: 2,
      left: [{ name: 'third', reason: 'it differs' }],
      notes: ['a.ts stands under other names as well (hard links): these keep what it holds now.'],
    });
    expect(page.text('.preview')).toContain('2 repairs in 1 file.');
    expect(page.text('.preview .dim')).toContain('Left out: third – it differs');
    expect(page.text('.preview .note')).toContain('hard links');
  });

  it('that are sure are written for all that is shown, after one preview', async () => {
    const page = await openPage('/p/1/findings?severity=error');
    await page.answer(
      '/api/projects/1/findings',
      findingPage([row('f1', 'lost'), row('f2', 'gone'), row('f3', 'bent')]),
    );
    const ask = async (sure: SureRepairs): Promise<HTMLElement> => {
      await page.click('.list > .head button');
      [...document.querySelectorAll<HTMLElement>('[role=menuitem]')]
        .find((one) => one.textContent.includes('Repair what is sure of all 3'))!
        .click();
      await page.settle();
      expect(await page.answer('/api/projects/1/repairs/sure', sure)).toEqual({ shown: { severity: ['error'] } });
      return document.querySelector<HTMLElement>('glue-repair-all')!;
    };
    const none = await ask({ findings: [], left: [], unsure: 2, without: 1 });
    expect(none.textContent).toContain('Nothing of what is shown can be repaired surely');
    expect(none.querySelector('glue-repair-preview')).toBeNull();
    none.querySelector<HTMLElement>('button')!.click();
    // A dialog goes after a moment.
    for (let n = 0; n < 100 && document.querySelector('glue-repair-all'); n++)
      await new Promise((resolve) => setTimeout(resolve, 20));
    await page.settle();
    const findings = [{ fingerprint: 'f1', repair: 1 }];
    const dialog = await ask({ findings, left: [{ name: 'Write “gone”', reason: 'no' }], unsure: 1, without: 0 });
    expect(dialog.textContent).toContain('1 has a repair that somebody has to look at');
    expect(dialog.textContent).toContain('Left out: Write “gone” – no');
    expect(await page.answer('/api/projects/1/repairs/preview', PREVIEW)).toEqual({ findings });
    dialog.querySelector<HTMLElement>('.actions button')!.click();
    expect(await page.answer('/api/projects/1/repairs', WRITTEN)).toEqual({ findings });
    await page.settle();
    expect(page.text('glue-written')).toContain('Written: Write “cleat”');
  });
});

describe('Structure', () => {
  const GRID = {
    groups: [
      { name: 'scenes', pieces: 4, inner: 2, lost: 1, inCircle: true, layer: 1 },
      { name: 'scripts', pieces: 3, inner: 0, lost: 0, inCircle: true, layer: 2 },
    ],
    cells: [
      { from: 0, to: 1, links: 12, weakest: 'path', inCircle: true, runsBack: false },
      { from: 1, to: 0, links: 1, weakest: 'name', inCircle: true, runsBack: true },
    ],
    circles: [[0, 1]],
    together: 0,
    folders: ['scenes', 'scripts'],
  };

  it('shows who relies on whom, and opens a cell', async () => {
    const page = await openPage('/p/1/structure');
    expect(page.text('[role=status]')).toBe('Counting links …');
    await page.answer('/api/projects/1/coupling', GRID);
    expect(page.texts('tbody th')).toEqual(['1scenes', '2scripts']);
    expect(page.texts('.cell').map((text) => text.split(' ').slice(0, 2).join(' '))).toEqual(['12 path:', '1', '↑ 1']);
    expect(page.text('.circles')).toContain(
      '2 of 2 rely on themselves by way of others, such as scenes → scripts → scenes',
    );
    expect(page.text('.runs-back summary')).toBe('1 of 13 links between these run back, against the order');
    expect(page.element.querySelector('.cell.back')!.getAttribute('aria-label')).toContain('against the order');
    await page.click('.runs-back li button');
    expect(page.url()).toContain('from=scripts&to=scenes');
    await page.answer('/api/projects/1/coupling/links', { lines: [], count: 0 });
    expect(page.text('aside')).toContain('No link runs there any more.');
    await page.click('.cell');
    expect(page.url()).toContain('from=scenes&to=scripts');
    await page.answer('/api/projects/1/coupling/links', { lines: [], count: 12 });
    expect(page.text('aside')).toContain('scenes → scripts');
    await page.press('Escape');
    expect(page.element.querySelector('aside')).toBeNull();
  });

  it('goes down into a folder and back, and tells scenes apart', async () => {
    const page = await openPage('/p/1/structure');
    await page.answer('/api/projects/1/coupling', GRID);
    await page.click('.down');
    expect(page.url()).toContain('below=scenes');
    await page.answer('/api/projects/1/coupling', { ...GRID, groups: [], cells: [], circles: [] });
    expect(page.text('.card b')).toBe('Nothing stands here.');
    await page.click('.card button');
    expect(page.url()).not.toContain('below');
  });

  it('says what is wrong when there is no map', async () => {
    const page = await openPage('/p/1/structure');
    await page.answer(
      '/api/projects/1/coupling',
      { code: 'scan/none', title: 'Not scanned', detail: 'Scan it.', mistakes: [] },
      409,
    );
    expect(page.text('[role=alert] b')).toBe('Not scanned');
  });
});
