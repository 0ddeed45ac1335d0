import { TestBed } from '@angular/core/testing';
import type { FindingView, Remembered, Stops } from '@glue-trace/core';
import type { ExcerptView, FindingDetail, ReadingPage, ReadinessPage, ScanView } from '@glue-trace/server/api';
import { Store } from '@ngrx/store';
import { routeActions } from './route/route.state';
import { findingPage, line, openPage, openPageAgain, piece, project, row, tracePage, type Page } from './testing/page';

const EXCERPT: ExcerptView = {
  file: 'scripts/rope.ts',
  firstLine: 4,
  lines: ["this.child('Cleat')"],
  from: 4,
  to: 4,
  isChanged: false,
};
const STOPS: Stops = {
  stops: [{ key: 'scene:u', title: 'Upper Flight', steps: 0, counts: { error: 1, warning: 2, note: 0 } }],
  ways: [],
  more: 0,
};
const PROBLEM = {
  code: 'scan/none',
  title: 'This project has not been scanned',
  detail: 'Scan it first.',
  mistakes: [],
};

describe('Projects', () => {
  const open = async (...list: ReturnType<typeof project>[]): Promise<Page> => {
    const page = await openPage('/projects');
    await page.answer('/api/about', { version: '1', starts: [] });
    await page.answer('/api/projects', list);
    return page;
  };

  it('says that it is looking, then that there is none', async () => {
    const page = await openPage('/projects');
    expect(page.text('[role=status]')).toBe('Looking for projects …');
    await page.answer('/api/about', { version: '1', starts: [] });
    await page.answer('/api/projects', []);
    expect(page.text('glue-empty b')).toBe('No project is open yet.');
  });

  it('shows the verdict of each, and leads to it', async () => {
    const page = await open(project());
    expect(page.text('.list p')).toBe('Not ready to play: 1 thing will fail.');
    expect(page.element.querySelector('.title')!.getAttribute('href')).toBe('/p/1/readiness');
  });

  it('says what each needs: a plan, a mended plan, its folder, a scan that works', async () => {
    const planError = {
      title: 'x',
      detail: 'why',
      mistakes: [{ key: 'filse', message: 'Did you mean “files”?', line: 3 }],
    };
    const failed = {
      ...project().lastScan!,
      state: 'failed' as const,
      error: { code: 'x', title: 'x', detail: 'disk full', mistakes: [] },
    };
    const page = await open(
      project({ id: 1, plan: 'learned' }),
      project({ id: 2, plan: 'broken', planError }),
      project({ id: 3, plan: 'folder gone', planError: { ...planError, mistakes: [] } }),
      project({ id: 4, lastScan: failed }),
      project({ id: 5, lastScan: null, verdict: null }),
      project({ id: 6, plan: 'broken', planError: { ...planError, mistakes: [] } }),
    );
    expect(page.texts('.need .tag')).toEqual([
      'plan has mistakes',
      'folder gone',
      'scan failed',
      'plan cannot be read',
    ]);
    expect(page.text('.mistakes')).toBe('line 3 filse Did you mean “files”?');
    expect(page.texts('.list > li:first-child .actions a')).toEqual(['Look through the learned plan', 'Show']);
    expect(page.text('.list > li:nth-child(5) p')).toBe('Not scanned yet.');
  });

  it('opens a folder and shows its verdict', async () => {
    const page = await open();
    page.element.querySelector<HTMLInputElement>('#folder')!.value = ' /games/x ';
    await page.click('button[type=submit]');
    await page.answer('/api/projects', project({ id: 7 }));
    expect(page.url()).toBe('/p/7/readiness');
  });

  it('stays and says why a folder cannot be opened', async () => {
    const page = await open();
    page.element.querySelector<HTMLInputElement>('#folder')!.value = '/nowhere';
    await page.click('button[type=submit]');
    await page.answer('/api/projects', { ...PROBLEM, title: 'The folder does not exist' }, 404);
    expect(page.text('[role=alert] b')).toBe('The folder does not exist');
    expect(page.url()).toBe('/projects');
  });
});

describe('Findings', () => {
  const open = async (url: string, ...rows: ReturnType<typeof row>[]): Promise<Page> => {
    const page = await openPage(url);
    await page.answer('/api/projects/1/findings', findingPage(rows));
    await page.answer('/api/checks', [
      { id: 'broken/missing-object', title: 'An object is not there', severity: 'error', why: '', decides: '' },
    ]);
    return page;
  };
  const finding: FindingDetail = {
    ...row('f1', 'Rope looks for Cleat'),
    sure: 'All steps are fixed.',
    pieces: [piece('part', 'A / Rope'), piece('object', 'A / Tender')],
    evidence: [
      { file: 'scripts/rope.ts', range: { line: 4, column: 1, endLine: 4, endColumn: 9 }, shows: 'the look-up' },
    ],
    walk: [{ asks: 'child “Cleat”', finds: 'there is none', grip: 'lost' }],
    repairs: [{ title: 'Fill a slot', words: 'It survives renames.' }],
    note: '',
    beside: [],
  } as unknown as FindingDetail;

  it('lists what is wrong and how many there are', async () => {
    const page = await open('/p/1/findings', row('f1', 'Rope looks for Cleat'), row('f2', 'Gauge is empty'));
    expect(page.text('h1')).toBe('Findings 2');
    expect(page.element.querySelectorAll('select option').length).toBe(13);
  });

  it('leads to the view in which a finding appears beside others', async () => {
    const link = async (check: string, pieces = finding.pieces): Promise<string | undefined> => {
      TestBed.resetTestingModule();
      const page = await open('/p/1/findings?open=f1', row('f1', 'Rope looks for Cleat'));
      await page.answer('/api/projects/1/findings/f1', { ...finding, check, pieces });
      await page.answer('/api/projects/1/excerpt', EXCERPT);
      const found = [...page.element.querySelectorAll('.actions a')].find((one) => one.textContent.includes('See in'));
      return found && decodeURIComponent(found.getAttribute('href')!);
    };
    const piece = (key: string, kind: string): FindingView['pieces'][number] =>
      ({ key, kind, name: key, title: key }) as FindingView['pieces'][number];
    expect(await link('twin/copied-code')).toContain('/p/1/twins?text=');
    expect(await link('fragile/silent-override', [piece('type:a', 'type'), piece('type:b', 'type')])).toBe(
      '/p/1/families?family=type:b',
    );
    expect(await link('fragile/unheard', [piece('rope.tight', 'event')])).toBe('/p/1/wiring?event=rope.tight');
    expect(await link('broken/missing-object')).toBeUndefined();
  });

  it('opens a finding with evidence, walk, why it is sure, and what to do', async () => {
    const page = await open('/p/1/findings?open=f1', row('f1', 'Rope looks for Cleat'));
    await page.answer('/api/projects/1/findings/f1', finding);
    await page.answer('/api/projects/1/excerpt', EXCERPT);
    expect(page.text('glue-finding-pane h1')).toBe('Rope looks for Cleat');
    expect(page.text('glue-finding-pane .hit')).toContain("this.child('Cleat')");
    expect(page.text('glue-finding-pane table')).toContain('child “Cleat” there is none');
    expect(page.text('glue-finding-pane')).toContain('All steps are fixed.');
    expect(page.text('glue-finding-pane ul')).toBe('Fill a slot. It survives renames.');
  });

  it('shows what else is wrong with the same piece, and leads there', async () => {
    const page = await open('/p/1/findings?open=f1', row('f1', 'Rope looks for Cleat'));
    const beside = [{ fingerprint: 'f2', severity: 'warning', text: 'Rope is copied' }];
    await page.answer('/api/projects/1/findings/f1', { ...finding, beside });
    await page.answer('/api/projects/1/excerpt', EXCERPT);
    expect(page.text('.beside')).toBe('warningRope is copied');
    await page.click('.beside button');
    expect(page.url()).toContain('open=f2');
  });

  it('takes a note on a finding, keeps what is not saved yet, and shows in the list that there is one', async () => {
    sessionStorage.clear();
    const shown = async (note = ''): Promise<Page> => {
      TestBed.resetTestingModule();
      const page = await open('/p/1/findings?open=f1', row('f1', 'Rope looks for Cleat'));
      await page.answer('/api/projects/1/findings/f1', { ...finding, note });
      await page.answer('/api/projects/1/excerpt', EXCERPT);
      return page;
    };
    const type = async (page: Page, event: string, text: string): Promise<void> => {
      const box = page.element.querySelector('textarea')!;
      box.value = text;
      box.dispatchEvent(new Event(event));
      await page.settle();
    };
    await type(await shown(), 'input', 'Ask Ada');
    const page = await shown();
    expect([page.element.querySelector('textarea')!.value, page.text('glue-finding-note [role=status]')]).toEqual([
      'Ask Ada',
      'It is saved when you leave the box.',
    ]);
    await type(page, 'input', ' Ask Ada ');
    await type(page, 'change', ' Ask Ada ');
    const problem = { code: 'store/busy', title: 'x', detail: 'Try again.', mistakes: [] };
    await page.answer('/api/projects/1/findings/f1/note', problem, 503);
    expect(page.text('glue-finding-note [role=status]')).toBe('Not saved: Try again. Save it');
    await page.click('glue-finding-note button');
    expect(await page.answer('/api/projects/1/findings/f1/note', null)).toEqual({ note: 'Ask Ada' });
    expect([page.text('glue-finding-note [role=status]'), page.text('.row .noted')]).toEqual(['Saved.', 'noted']);
    expect(sessionStorage.length).toBe(0);
    const again = await shown('Ask Bob');
    expect(again.element.querySelector('textarea')!.value).toBe('Ask Bob');
  });

  it('stands in the order that is chosen, and keeps it when all is shown again', async () => {
    const page = await open('/p/1/findings?severity=note', row('f1', 'a'));
    const [, , , order] = [...page.element.querySelectorAll<HTMLSelectElement>('glue-filter-bar select')];
    order.value = 'places';
    order.dispatchEvent(new Event('change'));
    await page.settle();
    expect(page.url()).toBe('/p/1/findings?severity=note&order=places');
    await page.answer('/api/projects/1/findings', findingPage([row('f1', 'a')]));
    await page.click('glue-filter-bar > button.small');
    expect(page.url()).toBe('/p/1/findings?order=places');
    await page.answer('/api/projects/1/findings', findingPage([row('f1', 'a')]));
    // An order narrows nothing.
    expect(page.element.querySelector('glue-filter-bar > button.small')).toBeNull();
  });

  it('is narrowed by scene, folder and person, each told and taken away by a click', async () => {
    const page = await open('/p/1/findings?severity=error', row('f1', 'Rope looks for Cleat'));
    const pick = async (...words: string[]): Promise<void> => {
      await page.click('glue-narrow-by button');
      for (const word of words) {
        [...document.querySelectorAll<HTMLElement>('[role=menuitem]')]
          .find((one) => one.textContent.includes(word))!
          .click();
        await page.settle();
        page.answerIfAsked('/api/projects/1/stops', STOPS);
        page.answerIfAsked('/api/projects/1/owners', [{ by: 'Ada', count: 3 }]);
        await page.settle();
      }
    };
    const again = (): Promise<unknown> => page.answer('/api/projects/1/findings', findingPage([row('f1', 'a')]));
    await pick('Scene', 'Upper Flight');
    await again();
    await pick('Who touched', 'Ada');
    await again();
    await pick('Folder', 'scripts');
    await again();
    await pick('rests', 'Learned');
    await again();
    expect(page.url()).toBe('/p/1/findings?severity=error&scene=scene:u&owner=Ada&folder=scripts&rests=learned');
    expect(page.texts('.chip')).toEqual([
      ...['with Upper Flight ✕', 'in scripts ✕', 'touched by Ada ✕', 'by learned rules ✕'],
    ]);
    await page.click('.chip');
    expect(page.url()).toBe('/p/1/findings?severity=error&owner=Ada&folder=scripts&rests=learned');
  });

  it('are narrowed as they were at the last visit, unless an address says otherwise', async () => {
    await open('/p/1/findings?severity=note&folder=scripts');
    const visit = async (url: string): Promise<string> => {
      TestBed.resetTestingModule();
      return (await openPageAgain(url)).url();
    };
    expect(await visit('/p/1/findings')).toBe('/p/1/findings?severity=note&folder=scripts');
    expect(await visit('/p/1/findings?severity=error')).toBe('/p/1/findings?severity=error');
    expect(await visit('/p/1/findings')).toBe('/p/1/findings?severity=error');
  });

  it('says what play showed of a finding, and narrows the list to it', async () => {
    const said = async (failed: number, came: number): Promise<string> => {
      TestBed.resetTestingModule();
      const play = { sessions: 2, failed, came };
      const page = await open('/p/1/findings?open=f1', { ...row('f1', 'Rope looks for Cleat'), play });
      await page.answer('/api/projects/1/findings/f1', { ...finding, play });
      await page.answer('/api/projects/1/excerpt', EXCERPT);
      expect(page.texts('.failed')).toEqual(failed > 0 ? ['failed in play'] : []);
      return page.text('.played');
    };
    expect(await said(1, 0)).toBe('In play: failed once in 2 sessions');
    expect(await said(0, 14)).toContain('came up 14 times in 2 sessions, and the log tells of no failure');
    expect(await said(0, 0)).toBe('In play: what it speaks of never came up in 2 sessions');
    TestBed.resetTestingModule();
    const page = await open('/p/1/findings?played=never');
    expect(page.text('.list .card b')).toBe('No finding is like that.');
  });

  it('shows a line once that is evidence for several things', async () => {
    const page = await open('/p/1/findings?open=f1', row('f1', 'x'));
    const [first] = finding.evidence;
    const evidence = [first, { ...first, shows: 'what holds it' }, { ...first, shows: 'the look-up' }];
    await page.answer('/api/projects/1/findings/f1', { ...finding, evidence });
    await page.answer('/api/projects/1/excerpt', EXCERPT);
    expect(page.texts('glue-evidence .head .dim')).toEqual(['the look-up; what holds it']);
  });

  it('shows a finding whose file is gone, without the excerpt', async () => {
    const page = await open('/p/1/findings?open=f1', row('f1', 'x'));
    await page.answer('/api/projects/1/findings/f1', finding);
    await page.answer('/api/projects/1/excerpt', PROBLEM, 404);
    expect(page.text('glue-finding-pane p code')).toBe('scripts/rope.ts:4');
  });

  it('moves with j and k, never past the ends, and traces with t', async () => {
    const page = await open('/p/1/findings', row('f1', 'a'), row('f2', 'b'));
    for (const [key, at] of [
      ['j', 'f1'],
      ['j', 'f2'],
      ['j', 'f2'],
      ['k', 'f1'],
      ['k', 'f1'],
    ]) {
      await page.press(key);
      expect(page.url()).toBe(`/p/1/findings?open=${at}`);
    }
    await page.answer('/api/projects/1/findings/f1', finding);
    await page.answer('/api/projects/1/excerpt', EXCERPT);
    await page.press('t');
    expect(page.url()).toBe('/p/1/trace?piece=part:A / Rope');
  });

  it('keeps filters in the address and offers a way back when nothing is left', async () => {
    const page = await open('/p/1/findings?severity=note&folder=scripts');
    expect(page.text('.list .card b')).toBe('No finding is like that.');
    await page.click('.chip');
    expect(page.url()).toBe('/p/1/findings?severity=note');
    await page.click('glue-filter-bar > button.small');
    expect(page.url()).toBe('/p/1/findings');
  });

  it('says that nothing was found, and what went wrong', async () => {
    expect((await open('/p/1/findings')).text('.list .card b')).toBe('Nothing was found.');
  });

  it('says what went wrong', async () => {
    const page = await openPage('/p/1/findings');
    expect(page.text('[role=status]')).toBe('Loading …');
    await page.answer('/api/projects/1/findings', PROBLEM, 409);
    expect(page.text('[role=alert] b')).toBe('This project has not been scanned');
  });
});

describe('Trace', () => {
  const rope = piece('type', 'Rope');
  const event = piece('event', 'rope.tight');
  const cleat = piece('object', 'A / Cleat');
  const part = piece('part', 'A / Tender / Rope');
  const loss = {
    sought: 'object' as const,
    wanted: 'Cleat',
    otherCapitals: '',
    lastObject: 2,
    among: [],
    elsewhere: [],
  };
  const page0 = tracePage(rope, {
    reliesOn: [
      {
        verb: 'uses',
        count: 2,
        lines: [
          line('uses', part, cleat),
          line('uses', part, null, {
            loss,
            walk: [{ asks: 'child “Cleat”', finds: 'there is none', piece: -1, grip: 'lost' }],
          }),
        ],
      },
      { verb: 'sends', count: 150, lines: [line('sends', rope, event)] },
    ],
  });
  const open = async (): Promise<Page> => {
    const page = await openPage('/p/1/trace?piece=type:Rope');
    await page.answer('/api/projects/1/trace', page0);
    await page.answer('/api/projects/1/excerpt', EXCERPT).catch(() => undefined);
    return page;
  };

  it('asks which piece when the address names none', async () => {
    expect((await openPage('/p/1/trace')).text('glue-empty b')).toBe('Which piece?');
  });

  it('groups lines by verb, says what it left out, and begins at what is lost', async () => {
    const page = await open();
    expect(page.texts('h3')).toEqual(['uses · 2', 'sends · 150']);
    expect(page.text('.line.on')).toContain('no such child');
    expect(page.text('aside table')).toContain('there is none');
    expect(page.text('.hop')).toBe('and 149 more');
    expect(page.text('.none')).toBe('Nothing on the map relies on it.');
  });

  it('opens the next hop in place with Enter, and closes it again', async () => {
    const page = await open();
    await page.press('j');
    expect(page.text('.line.on')).toContain('sends rope.tight');
    await page.press('Enter');
    expect(page.texts('.hop')).toContain('Following …');
    await page.answer(
      '/api/projects/1/trace',
      tracePage(event, { reliesOn: [{ verb: 'uses', count: 1, lines: [line('uses', event, cleat)] }] }),
    );
    expect(page.text('.line.hop')).toContain('uses Cleat');
    await page.press('Enter');
    expect(page.texts('.line.hop')).toEqual([]);
  });

  it('says when a hop leads no further, or could not be followed', async () => {
    const page = await open();
    await page.press('j');
    await page.press('Enter');
    await page.answer('/api/projects/1/trace', tracePage(event, {}));
    expect(page.texts('.hop')).toContain('rope.tight – relies on nothing further');
    await page.press('Enter');
    await page.press('Enter');
    await page.answer('/api/projects/1/trace', PROBLEM, 409);
    expect(page.texts('.hop')).toContain('This project has not been scanned. Scan it first.');
  });

  it('makes the chosen line’s end the heading with t', async () => {
    const page = await open();
    await page.press('j');
    await page.press('t');
    expect(page.url()).toBe('/p/1/trace?piece=event:rope.tight');
  });

  it('says when the piece is not on the map any more', async () => {
    const page = await openPage('/p/1/trace?piece=type:Gone');
    await page.answer('/api/projects/1/trace', { ...PROBLEM, title: 'There is no such piece on the map' }, 404);
    expect(page.text('[role=alert] b')).toBe('There is no such piece on the map');
  });

  it('says when a piece is off at the start or cannot be scripted', async () => {
    const page = await openPage('/p/1/trace?piece=object:Gate');
    const shown = tracePage(piece('object', 'Gate'), {});
    await page.answer('/api/projects/1/trace', { ...shown, piece: { ...shown.piece, isOff: true, isBarred: true } });
    expect(page.texts('h1 .tag')).toEqual(['object', 'switched off at the start', 'cannot be scripted']);
  });
});

describe('Readiness', () => {
  const none = { error: 0, warning: 0, note: 0 };
  const ready = (changes: object = {}): ReadinessPage => ({
    scan: { id: 2, startedAt: '2026-01-01T00:00:00Z', milliseconds: 90, reused: 0 },
    readiness: {
      isReady: false,
      verdict: 'Not ready to play: 1 thing will fail',
      bySeverity: { ...none, error: 1 },
      houseErrors: 0,
      byFamily: [{ family: 'broken', counts: { ...none, error: 1 } }],
      byGrip: { fixed: 4, path: 2, name: 1, built: 0, lost: 1 },
      byVerb: {},
      wouldHurt: [{ ...piece('event', 'rope.tight'), loose: 9, all: 12 }],
      pieces: 10,
      links: 8,
      waived: 0,
    },
    blockers: [row('f1', 'Rope looks for Cleat')],
    change: null,
    idleWaivers: 0,
    history: [],
    files: {
      all: 10,
      read: 8,
      listed: 1,
      troubled: [{ path: 'a.json', status: 'partly', reason: 'line 2: comma expected' }],
      troubledCount: 1,
    },
    ...changes,
  });
  const open = async (page0: ReadinessPage): Promise<Page> => {
    const page = await openPage('/p/1/readiness');
    await page.answer('/api/projects/1/readiness', page0);
    return page;
  };

  it('gives the verdict first, then what blocks it', async () => {
    const page = await open(ready());
    expect(page.text('h1')).toBe('Not ready to play: 1 thing will fail');
    expect(page.text('a.row glue-sentence')).toBe('Rope looks for Cleat');
    expect(page.element.querySelector('a.row')!.getAttribute('href')).toBe('/p/1/findings?open=f1');
    expect(page.text('.dim')).toContain('90 % of 10 files accounted for');
  });

  it('names what was not fully read and what would hurt most', async () => {
    const page = await open(ready());
    expect(page.text('.files')).toBe('a.json line 2: comma expected');
    expect(page.texts('.hurts td')).toEqual(['rope.tightevent', '9', '12']);
  });

  it('draws the scenes when that is wanted, and says the same in words', async () => {
    const page = await open(ready());
    const scenes = page.element.querySelector<HTMLDetailsElement>('.scenes')!;
    scenes.open = true;
    scenes.dispatchEvent(new Event('toggle'));
    await page.settle();
    const stop = (key: string, steps: number, counts: object): object => ({
      ...{ key, title: key, steps, counts: { ...none, ...counts } },
    });
    const stops = [stop('Quay', 0, { error: 2, note: 1 }), stop('Weir', 1, {})];
    stops.push(stop('Attic', 0, {}));
    await page.answer('/api/projects/1/stops', { stops, ways: [{ from: 0, to: 1, grip: 'name' }], more: 2 });
    expect(page.texts('glue-route-drawing li')).toEqual([
      'Quay (a beginning): 2 errors, 1 note, leads to Weir',
      'Weir: nothing found',
    ]);
    expect(page.text('glue-route-drawing p')).toContain(
      'To or from 1 more scene the map knows no way. 2 more scenes are not drawn.',
    );
    for (let n = 0; n < 100 && !page.element.querySelector('glue-piece-sheet svg'); n++) {
      await new Promise((resolve) => setTimeout(resolve, 50));
      await page.settle();
    }
    expect(page.texts('glue-piece-sheet .piece title')).toEqual([
      'Quay (a beginning): 2 errors, 1 note',
      'Weir: nothing found',
    ]);
    expect(page.element.querySelector('polyline')!.getAttribute('stroke-dasharray')).toBe('4 4');
    const [quay, weir] = [...page.element.querySelectorAll('.piece rect')].map((one) => Number(one.getAttribute('x')));
    expect(quay).toBeLessThan(weir);
    page.element.querySelector('glue-piece-sheet .piece')!.dispatchEvent(new MouseEvent('click'));
    await page.settle();
    expect(page.url()).toBe('/p/1/trace?piece=Quay');
  });

  it('says what the first scan cannot know, and compares later ones', async () => {
    expect((await open(ready())).text('section')).toContain('This is the first scan.');
  });

  it('compares with the scan before', async () => {
    const history = [1, 2].map((id) => ({
      id,
      startedAt: '2026-01-01T00:00:00Z',
      bySeverity: { ...none, error: 3 - id },
    }));
    const page = await open(ready({ change: { since: 1, appeared: 0, gone: 1 }, history }));
    expect(page.text('section')).toContain('0 new, 1 gone');
    expect(page.element.querySelector('canvas')!.getAttribute('aria-label')).toContain(
      '2 errors and 0 warnings, then 1 errors',
    );
  });

  it('speaks for a route that was chosen, and says what lies off it and what is waived', async () => {
    localStorage.setItem('glue-route-1', 'Friday');
    try {
      const page = await openPage('/p/1/readiness');
      TestBed.inject(Store).dispatch(routeActions.load({ project: 1 }));
      await page.settle();
      const route = { name: 'Friday', note: '', from: [], isDefault: false, pieces: 4 };
      await page.answer('/api/projects/1/routes', [route]);
      const { readiness } = ready();
      const request = page.answer(
        '/api/projects/1/readiness',
        ready({
          readiness: { ...readiness, waived: 2 },
          route: { off: 3, unknown: ['Attic'], pieces: 40 },
          idleWaivers: 1,
        }),
      );
      await request;
      expect(page.text('.dim')).toContain('On the route “Friday” · 10 of 40 pieces');
      expect(page.text('p')).toContain('3 more findings lie off it.');
      expect(page.text('p')).toContain('Nothing on the map is called Attic.');
      expect(page.text('p')).toContain('2 findings are waived, and not counted.');
      expect(page.text('button')).toContain('1 waiver matches nothing any more');
    } finally {
      localStorage.removeItem('glue-route-1');
    }
  });

  it('offers a scan when there is none', async () => {
    const page = await openPage('/p/1/readiness');
    await page.answer('/api/projects/1/readiness', PROBLEM, 409);
    expect(page.text('[role=alert]')).toContain('Scan now');
  });
});

describe('Reading', () => {
  const counts = { read: 8, partly: 1, listed: 2, unread: 1 };
  const reading: ReadingPage = {
    total: counts,
    folders: [
      { name: '', counts },
      { name: 'data', counts: { read: 3, partly: 0, listed: 0, unread: 0 } },
    ],
    endings: [{ name: '.json', counts }],
    rules: [
      { rule: 'files.scenes', files: 2, pieces: 2, links: 0, lost: 0 },
      { rule: 'files.scenes.references.slots', files: 0, pieces: 0, links: 4, lost: 1 },
      { rule: 'calls: *.holder', files: 0, pieces: 0, links: 0, lost: 0 },
    ],
  };
  const files = {
    total: 12,
    offset: 0,
    rows: [{ path: 'a.txt', status: 'unread' as const, rule: '', reason: 'no rule of the plan matches it', size: 3 }],
  };
  const open = async (url = '/p/1/reading'): Promise<Page> => {
    const page = await openPage(url);
    await page.answer('/api/projects/1/reading', reading);
    await page.answer('/api/projects/1/files', files);
    return page;
  };

  it('says how much is not read, and why', async () => {
    const page = await open();
    expect(page.text('h1')).toBe('2 of 12 files are not fully read');
    expect(page.texts('.total')).toEqual([
      '8 read fully',
      '1 read with faults',
      '2 known by name',
      '1 read by nothing',
    ]);
    expect(page.text('.why')).toBe('no rule of the plan matches it');
    expect(page.text('glue-filter-bar .dim')).toBe('12');
    expect(page.text('glue-left-out')).toBe('and 11 more: narrow the list to see them');
  });

  it('marks rules that found nothing and sets inner rules in', async () => {
    const page = await open();
    expect(page.text('h2 .tag')).toBe('1 found nothing');
    expect(page.texts('.idle td:first-child')).toEqual(['calls: *.holder']);
    expect(page.texts('.rules td:first-child')).toContain('references · slots');
  });

  it('narrows by status and folder through the address, and widens again', async () => {
    const page = await open();
    await page.click('.total:last-child');
    expect(page.url()).toBe('/p/1/reading?status=unread');
    await page.click('.coverage tr:last-child button');
    expect(page.url()).toBe('/p/1/reading?status=unread&folder=data');
    await page.click('glue-filter-bar button');
    expect(page.url()).toBe('/p/1/reading');
  });

  it('says what went wrong', async () => {
    const page = await openPage('/p/1/reading');
    await page.answer('/api/projects/1/reading', PROBLEM, 409);
    expect(page.text('[role=alert] b')).toBe('This project has not been scanned');
  });
});

describe('Scans', () => {
  const none = { error: 0, warning: 0, note: 0 };
  const scan = (id: number, changes: Partial<ScanView> = {}): ScanView => ({
    ...{
      id,
      startedAt: '2026-01-01T00:00:00Z',
      milliseconds: 90,
      note: '',
      isSeen: true,
      waived: 0,
      pieces: 9,
      links: 8,
    },
    bySeverity: { ...none, error: id },
    byFamily: [{ family: 'broken', counts: { ...none, error: id } }],
    byFolder: [{ folder: 'scripts', count: id }],
    byWho: null,
    ...changes,
  });
  const remembered = (fingerprint: string): Remembered => ({
    ...{
      fingerprint,
      check: 'broken/loop',
      severity: 'error',
      file: 'data/a.json',
      line: 3,
      text: `${fingerprint} turns`,
    },
  });
  const open = async (url: string, ...scans: ScanView[]): Promise<Page> => {
    const page = await openPage(url);
    await page.answer('/api/projects/1/scans', scans);
    return page;
  };

  it('says how findings went from scan to scan, and which nobody has looked at', async () => {
    const page = await open('/p/1/scans', scan(2, { isSeen: false, note: 'play test' }), scan(1, { isSeen: false }));
    expect(page.text('h1')).toBe('Scans 2 kept');
    expect(page.element.querySelector('canvas')!.getAttribute('aria-label')).toContain(
      '1 broken, 0 fragile, 0 twin; 2 broken, 0 fragile, 0 twin',
    );
    await page.click('.head .plain:nth-of-type(2)');
    expect(page.element.querySelector('canvas')!.getAttribute('aria-label')).toContain('1 scripts; 2 scripts');
    expect(page.text('.history .tag')).toBe('unseen');
    expect(page.element.querySelector<HTMLInputElement>('.history input')!.value).toBe('play test');
  });
  it('asks who last touched the lines when somebody wants to see it, and not again', async () => {
    const page = await open('/p/1/scans', scan(2), scan(1));
    await page.click('.head .plain:last-child');
    await page.answer('/api/projects/1/scans/touched', [scan(2, { byWho: [{ by: 'Ada', count: 2 }] }), scan(1)]);
    expect(page.element.querySelector('canvas')!.getAttribute('aria-label')).toContain('no Ada; 2 Ada');
    await page.click('.head .plain:last-child');
    expect(page.answerIfAsked('/api/projects/1/scans/touched', [])).toBeFalse();
  });
  it('keeps a mark, once it is left', async () => {
    const page = await open('/p/1/scans', scan(1));
    const box = page.element.querySelector<HTMLInputElement>('.history input')!;
    box.value = ' play test of Friday ';
    box.dispatchEvent(new Event('change'));
    await page.settle();
    expect(await page.answer('/api/projects/1/scans/1', null)).toEqual({ note: 'play test of Friday' });
  });
  it('shows what came and went since a scan, by key and by address', async () => {
    const page = await open('/p/1/scans', scan(2), scan(1));
    await page.press('c');
    expect(page.url()).toBe('/p/1/scans?from=scan:1');
    const links = {
      came: [
        { from: 'part:a', verb: 'uses', to: 'asset:b' },
        { from: 'part:c', verb: 'sends' },
      ],
      went: [{ from: 'part:a', verb: 'uses', isLost: true }],
    };
    const map = {
      pieces: { came: ['scene:a'], went: [], cameCount: 1, wentCount: 0 },
      links: { ...links, cameCount: 1, wentCount: 1 },
    };
    await page.answer('/api/projects/1/comparison', {
      ...{ from: 'scan 1', to: 'scan 2', appeared: [remembered('f1')], gone: [remembered('f2'), remembered('f3')] },
      ...{ moved: [], same: 7, waived: 1, map, isOtherPlan: true, touched: [{ by: 'Ada', count: 1 }] },
    });
    expect(page.text('section')).toContain('The plan, or the version of Glue Trace, was another one.');
    expect(page.text('.lists')).toMatch(
      /Links that camepart:a uses asset:bpart:c sends something that is not knownLinks that wentpart:a uses what is not there/,
    );
    expect(page.text('section p')).toContain('From scan 1 to scan 2: 1 new, 2 gone, 7 the same, 1 waived.');
    expect(page.text('section p')).toContain('Who last touched the lines of what is new: Ada (1)');
    expect(page.texts('.lists li a')).toEqual(['f1 turns', 'scene:a']);
    expect(page.text('.lists li')).toContain('f2 turns data/a.json:3');
  });
  it('says what is wrong with a revision, and what to do before the first scan', async () => {
    const page = await open('/p/1/scans?from=nowhere', scan(1));
    await page.answer('/api/projects/1/comparison', PROBLEM, 404);
    expect(page.text('[role=alert]')).toContain(PROBLEM.title);
    TestBed.resetTestingModule();
    expect((await open('/p/1/scans')).text('.card')).toContain('No scan has finished yet.');
  });
});

describe('Findings that are waived', () => {
  it('say so, and are taken back by the same key', async () => {
    const page = await openPage('/p/1/findings?waived=only&open=f1');
    await page.answer('/api/projects/1/findings', findingPage([{ ...row('f1', 'a'), waived: 1 }]));
    expect(page.text('.row .tag')).toBe('waived');
    const waived = { reason: 'The quay is rebuilt.', by: 'Ada', until: '2999-12-31' };
    await page.answer('/api/projects/1/findings/f1', {
      ...{
        check: 'broken/loop',
        severity: 'error',
        sentence: ['a'],
        text: 'a',
        sure: 'It is.',
        pieces: [],
        evidence: [],
      },
      ...{ walk: [], repairs: [], places: 1, files: [], fingerprint: 'f1', waived, note: '', beside: [] },
    });
    expect(page.text('.decided')).toBe('Waived by Ada until 2999-12-31: The quay is rebuilt.');
    await page.press('w');
    expect(await page.answer('/api/projects/1/waivers', { waived: 0 })).toEqual({ findings: ['f1'] });
  });
  it('are waived with a reason alone, in a dialog that says what is meant', async () => {
    const page = await openPage('/p/1/findings?check=broken%2Floop');
    await page.answer('/api/projects/1/findings', findingPage([row('f1', 'a'), row('f2', 'b')]));
    await page.click('.list > .head button');
    [...document.querySelectorAll<HTMLElement>('[role=menuitem]')]
      .find((one) => one.textContent?.includes('Waive all 2'))!
      .click();
    await page.settle();
    const dialog = document.querySelector<HTMLElement>('glue-waive-dialog')!;
    const [submit] = [...dialog.querySelectorAll<HTMLButtonElement>('[type=submit]')];
    expect([dialog.textContent?.includes('all 2 that are shown'), submit.disabled]).toEqual([true, true]);
    const why = dialog.querySelector('textarea')!;
    why.value = ' Later. ';
    why.dispatchEvent(new Event('input'));
    await page.settle();
    submit.click();
    await page.settle();
    expect(await page.answer('/api/projects/1/waivers', { waived: 2 })).toEqual({
      ...{ findings: [], reason: 'Later.', shown: { check: ['broken/loop'] } },
    });
    await page.settle();
    expect(page.text('.told')).toContain('Waived: all 2 that are shown.');
  });
});
