import { TestBed } from '@angular/core/testing';
import { startCompletion } from '@codemirror/autocomplete';
import { EditorView } from '@codemirror/view';
import type { PlanTrial, PointedCodeView, Preview } from '@glue-trace/core';
import type { PlanPage } from '@glue-trace/server/api';
import { openPage, type Page } from '../testing/page';
import { markedLines, offsetOf } from './marked-lines';

const PLAN: PlanPage = {
  path: '/games/small/glue-trace.json',
  text: '{\n  "version": 1, // ours\n  "name": "Small",\n  "files": { "scenes": { "match": "*.json", "as": "scene" } }\n}\n',
  hash: 'a'.repeat(64),
  origin: 'own',
  bases: {},
};
const SCENE = '{\n  "objects": [\n    { "name": "Tender" },\n    { "name": "Barge" }\n  ]\n}\n';

/** Waits until the worker has answered and its answer is drawn. */
async function until(page: Page, holds: () => boolean): Promise<void> {
  for (let tries = 0; tries < 100; tries++) {
    if (holds()) return page.settle();
    await new Promise((resolve) => setTimeout(resolve, 30));
    await page.settle();
  }
  throw new Error('it never came to be');
}

describe('The plan beside a file', () => {
  beforeEach(() => sessionStorage.clear());
  const open = async (changes: Partial<PlanPage> = {}): Promise<Page> => {
    const page = await openPage('/p/1/reading/plan?file=a.json');
    const rows = ['a.json', 'b.json'].map((path) => ({ path, status: 'read', rule: '', reason: '', size: 1 }));
    await page.answer('/api/projects/1/plan', { ...PLAN, ...changes });
    await page.answer('/api/projects/1/files', { total: 2, offset: 0, rows });
    await page.answer('/api/projects/1/text', { path: 'a.json', text: SCENE, isCut: false });
    await until(page, () => page.text('.side').includes('Read by'));
    return page;
  };
  const editor = (page: Page): EditorView => EditorView.findFromDOM(page.element.querySelector('.cm-editor')!)!;
  const draft = (page: Page): string => editor(page).state.doc.toString();
  const type = async (page: Page, text: string): Promise<void> => {
    const view = editor(page);
    view.dispatch({ changes: { from: 0, to: view.state.doc.length, insert: text } });
    await page.settle();
  };
  /** Points with the keyboard at the value of a line. */
  const point = async (page: Page, line: number): Promise<void> => {
    const file = page.element.querySelector('.text')!;
    const press = (key: string): boolean => file.dispatchEvent(new KeyboardEvent('keydown', { key }));
    for (let at = 1; at < line; at++) press('ArrowDown');
    press('Enter');
    await until(page, () => page.text('.side').includes('This is'));
  };

  it('has what was typed and not saved in an earlier visit, says so, and leads back to the plan as it stands', async () => {
    const page = await open();
    await type(page, `// mine\n${PLAN.text}`);
    const visit = async (changes: Partial<PlanPage> = {}): Promise<Page> => {
      TestBed.resetTestingModule();
      return open(changes);
    };
    const again = await visit();
    expect(draft(again)).toContain('// mine');
    expect(again.text('.found')).toContain('is here again. Take back leads to the plan as it stands.');
    const changed = await visit({ text: `${PLAN.text}// theirs`, hash: 'b'.repeat(64) });
    expect(changed.text('.found')).toContain('the plan itself was changed meanwhile');
    await changed.click('header button');
    expect([draft(changed), changed.text('.found')]).toEqual([`${PLAN.text}// theirs`, '']);
    expect((await visit()).text('.found')).toBe('');
  });

  it('shows the plan, the file, and that nothing is found yet', async () => {
    const page = await open();
    expect(draft(page)).toBe(PLAN.text);
    expect(page.text('.side')).toContain('Read by files.scenes');
    expect(page.text('.side')).toContain('finds nothing in the file yet');
    expect(page.texts('datalist option')).toEqual(['a.json', 'b.json']);
  });

  it('writes a rule for a value that is pointed at, marks what it finds, and takes it back', async () => {
    const page = await open();
    await point(page, 3);
    expect(page.text('.what')).toBe('Tender under name$.objects[*].name2 values in this file');
    await page.click('.sayings button');
    await until(page, () => page.texts('mark').length === 2);
    expect(page.texts('mark')).toEqual(['"Tender"', '"Barge"']);
    expect(draft(page)).toContain('// ours');
    expect(draft(page)).toContain('"named": "$.name"');
    expect(page.text('.tag')).toBe('not saved');
    await page.click('header button');
    expect(draft(page)).toBe(PLAN.text);
  });

  it('names mistakes where they are made, and does not save them', async () => {
    const page = await open();
    await type(page, PLAN.text.replace('"files"', '"filse"'));
    await until(page, () => page.text('.mistakes') !== '');
    expect(page.text('.mistakes')).toContain('Line 4: filse is not a key of a plan here. Did you mean “files”?');
    expect(page.element.querySelectorAll<HTMLButtonElement>('header button')[1].disabled).toBeTrue();
    await page.click('.mistakes button');
    const { state } = editor(page);
    expect(state.sliceDoc(state.selection.main.from, state.selection.main.to)).toContain('filse');
  });

  it('offers what can be written, and explains what stands at the cursor', async () => {
    const page = await open();
    const view = editor(page);
    const at = (words: string): number => view.state.doc.toString().indexOf(words);
    view.focus();
    view.dispatch({ selection: { anchor: at('"match"') + 2 } });
    await until(page, () => page.text('.meaning').includes('glob or list of globs'));
    view.dispatch({ selection: { anchor: at('"match"') } });
    startCompletion(view);
    await until(page, () => document.querySelectorAll('.cm-tooltip-autocomplete li').length > 5);
    const offered = [...document.querySelectorAll('.cm-tooltip-autocomplete li')].map((one) => one.textContent);
    expect(offered).toContain('references');
    expect(offered).not.toContain('as');
  });

  it('leaves the ends of lines as they are in the file', async () => {
    const page = await open({ text: PLAN.text.replaceAll('\n', '\r\n') });
    expect(page.element.querySelector('.tag')).toBeNull();
    const view = editor(page);
    view.dispatch({ changes: { from: 0, insert: '// more\n' } });
    await page.settle();
    await page.click('header button:not([disabled])[matbutton=filled]');
    await until(page, () => document.querySelector('mat-dialog-container') !== null);
    document.querySelectorAll<HTMLButtonElement>('mat-dialog-container button').item(1).click();
    await until(page, () => document.querySelector('mat-dialog-container') === null);
    const { text } = (await page.answer('/api/projects/1/plan', { ...PLAN })) as { text: string };
    expect(text.split('\r\n').length).toBe(text.split('\n').length);
  });

  it('shows what saving would change before it is written', async () => {
    const page = await open();
    await type(page, PLAN.text.replace('"Small"', '"Smaller"'));
    await until(page, () => !page.element.querySelectorAll<HTMLButtonElement>('header button')[1].disabled);
    page.element.querySelectorAll<HTMLButtonElement>('header button')[1].click();
    await until(page, () => document.querySelector('mat-dialog-container') !== null);
    const change = document.querySelector('mat-dialog-container')!;
    expect([...change.querySelectorAll('.added, .removed')].map((line) => line.textContent.trim())).toEqual(
      jasmine.arrayContaining(['-  "name": "Small",', '+  "name": "Smaller",']),
    );
    [...change.querySelectorAll('button')].at(-1)!.click();
    await until(page, () => document.querySelector('mat-dialog-container') === null);
    await page.answer(
      '/api/projects/1/plan',
      { code: 'plan/changed', title: 'The reading plan was changed meanwhile', detail: 'Load it again.', mistakes: [] },
      409,
    );
    expect(page.text('[role=alert]')).toContain('changed meanwhile');
    expect(draft(page)).toContain('Smaller');
  });

  it('reads by the plans that the plan builds on', async () => {
    const text = '{"version": 1, "name": "Own", "extends": "shared.json"}';
    const page = await open({ text, bases: { 'shared.json': PLAN.text } });
    expect(page.text('.mistakes')).toBe('');
    expect(page.text('.side')).toContain('Read by files.scenes');
  });

  it('says that a built-in plan is in force', async () => {
    expect((await open({ origin: 'built in' })).text('.plan h2')).toContain('saving writes a plan of its own');
  });

  it('says that a learned plan is not written yet', async () => {
    expect((await open({ origin: 'learned' })).text('.plan h2')).toBe('learned plansaving writes it into the project');
  });

  it('shows trouble with what to do', async () => {
    const page = await openPage('/p/1/reading/plan');
    await page.answer('/api/projects/1/files', { total: 0, offset: 0, rows: [] });
    await page.answer(
      '/api/projects/1/plan',
      { code: 'plan/missing', title: 'This project has no reading plan', detail: 'Start one.', mistakes: [] },
      422,
    );
    expect(page.text('[role=alert]')).toContain('no reading plan');
  });
});

describe('The plan beside a script', () => {
  const SCRIPT = "stage.find('Cleat');\nbells.ring('tide');\n";
  const PREVIEW: Preview = {
    mistakes: [],
    rule: 'scripts.ts',
    reason: '',
    format: undefined,
    marks: [
      { rule: 'calls: stage.find($name)', words: 'find', range: { line: 1, column: 1, endLine: 1, endColumn: 20 } },
    ],
    counts: [{ rule: 'calls: stage.find($name)', count: 1 }],
    problems: [],
  };
  const sayings = [
    { id: 'find', group: 'What is given here looks up', words: 'an object' },
    { id: 'sent', group: 'What is given here is the event that is', words: 'sent' },
  ];
  const TEXT: PointedCodeView = {
    is: 'argument',
    words: "'tide'",
    start: 32,
    end: 38,
    forms: [
      { head: 'bells.ring', alike: 1 },
      { head: '*.ring', alike: 2 },
    ],
    sayings,
    known: { call: '*.ring($name)', means: 'refer' },
  };
  const CALL: PointedCodeView = {
    ...TEXT,
    is: 'call',
    words: "bells.ring('tide')",
    start: 21,
    end: 39,
    known: undefined,
  };
  const TRIAL: PlanTrial = {
    pieces: { before: 3, after: 3 },
    links: { before: 10, after: 14 },
    lost: { before: 2, after: 1 },
    come: { count: 0, first: [] },
    go: { count: 1, first: [] },
    rule: {
      key: 'calls: *.ring($event)',
      found: 4,
      files: 2,
      texts: 2,
      lost: 1,
      places: [
        { file: 'b.ts', range: { line: 7, column: 1, endLine: 7, endColumn: 2 }, text: 'tied', isLost: true },
        {
          file: 'a.ts',
          range: { line: 2, column: 1, endLine: 2, endColumn: 2 },
          text: 'tide',
          leads: 'tide',
          isLost: false,
        },
      ],
    },
  };

  const open = async (): Promise<Page> => {
    const page = await openPage('/p/1/reading/plan?file=a.ts');
    await page.answer('/api/projects/1/plan', PLAN);
    await page.answer('/api/projects/1/files', { total: 0, offset: 0, rows: [] });
    await page.answer('/api/projects/1/text', { path: 'a.ts', text: SCRIPT, isCut: false, language: 'typescript' });
    await until(page, () => waits(page, '/api/projects/1/plan/code', PREVIEW));
    return page;
  };
  /** Whether a request that comes after a pause has come; it is answered. */
  const waits = (page: Page, url: string, body: unknown): boolean => page.answerIfAsked(url, body);
  const key = async (page: Page, name: string): Promise<void> => {
    page.element.querySelector('.text')!.dispatchEvent(new KeyboardEvent('keydown', { key: name, bubbles: true }));
    await page.settle();
  };

  it('marks what the plan finds, and says by which row', async () => {
    const page = await open();
    expect(page.texts('mark')).toEqual(["stage.find('Cleat')"]);
    expect(page.text('.side')).toContain('Read by scripts.ts');
    expect(page.text('.side table')).toBe('calls: stage.find($name)1');
  });

  it('points by keyboard at a word, goes outward, says what it is, and shows what that finds everywhere', async () => {
    const page = await open();
    await key(page, 'ArrowDown');
    await key(page, 'Enter');
    expect(await page.answer('/api/projects/1/plan/point', [TEXT, CALL])).toEqual(
      jasmine.objectContaining({ file: 'a.ts', offset: SCRIPT.indexOf("'tide'") + 1 }),
    );
    expect(page.text('.side h2')).toContain('Given to a call');
    expect(page.text('.what')).toContain('so far: *.ring($name) means “refer”');
    expect(page.text('mark.pointed')).toBe("'tide'");
    await key(page, 'o');
    expect(page.text('.side h2')).toContain('A call');
    await key(page, 'o');
    page.element.querySelectorAll<HTMLInputElement>('.side [type=radio]')[1].click();
    await key(page, 'Enter');
    expect(document.activeElement?.textContent).toContain('an object');
    await page.click('.sayings:last-child button');
    const text = '{ "version": 1, "name": "Small", "calls": [{ "call": "*.ring($event)", "means": "send" }] }';
    const { said } = (await page.answer('/api/projects/1/plan/say', { text, rule: TRIAL.rule!.key })) as {
      said: unknown;
    };
    expect(said).toEqual({ offset: SCRIPT.indexOf("'tide'") + 1, around: 0, form: 1, saying: 'sent' });
    expect(page.text('.side')).toContain('tried on all files');
    expect(await page.answer('/api/projects/1/plan/trial', TRIAL)).toEqual({ plan: text, rule: TRIAL.rule!.key });
    expect(page.text('glue-plan-trial')).toContain('*.ring($event) finds 4 places in 2 files. 1 leads nowhere.');
    expect(page.texts('glue-plan-trial li')[0]).toBe('tied leads nowhereb.ts:7');
    expect(page.text('glue-plan-trial')).toContain('links 14 (4 more), of them leading nowhere 1 (1 fewer)');
    expect(page.text('glue-plan-trial')).toContain('1 finding goes');
    // What was taken back was never tried.
    await page.click('header button');
    expect(page.element.querySelector('glue-plan-trial')).toBeNull();
  });

  it('says where nothing can be said, and what keeps the server from answering', async () => {
    const page = await open();
    await key(page, 'ArrowRight');
    await page.answer('/api/projects/1/plan/point', []);
    expect(page.text('.side')).toContain('Nothing stands there of which something can be said');
    await key(page, 'ArrowRight');
    await page.answer(
      '/api/projects/1/plan/point',
      { code: 'request/too-long', title: 'This takes too long', detail: 'It was stopped.', mistakes: [] },
      503,
    );
    expect(page.text('.side [role=alert]')).toContain('This takes too long');
    await key(page, 'Escape');
    expect(page.text('.side')).not.toContain('Nothing stands there');
  });

  it('looks for files by what is typed, and opens one', async () => {
    const page = await open();
    const box = page.element.querySelector<HTMLInputElement>('input[list]')!;
    const type = (text: string): void => {
      box.value = text;
      box.dispatchEvent(new Event('input'));
    };
    type('boats');
    const rows = [{ path: 'boats/b.ts', status: 'read', rule: '', reason: '', size: 1 }];
    await page.answer('/api/projects/1/files', { total: 1, offset: 0, rows });
    expect(page.texts('datalist option')).toEqual(['boats/b.ts']);
    type('boats/b.ts');
    await page.settle();
    expect(page.url()).toContain('file=boats/b.ts');
  });
});

describe('lines with marks', () => {
  const mark = (line: number, column: number, endColumn: number): Parameters<typeof markedLines>[1][number] => ({
    rule: 'r',
    words: 'w',
    range: { line, column, endLine: line, endColumn },
  });

  it('cuts lines at their marks', () => {
    const [first, second] = markedLines('a bc d\r\nx', [mark(1, 3, 5), mark(1, 4, 6)]);
    expect(first.pieces.map((piece) => [piece.text, piece.mark !== undefined])).toEqual([
      ['a ', false],
      ['bc', true],
      [' d', false],
    ]);
    expect(second.pieces).toEqual([{ text: 'x' }]);
  });

  it('knows the offset of a line whatever ends it', () => {
    expect([offsetOf('a\nb', 2, 1), offsetOf('a\r\nb', 2, 1), offsetOf('a\rb', 2, 1), offsetOf('a', 9, 1)]).toEqual([
      2, 3, 2, 0,
    ]);
  });
});
