import type { PlanPage } from '@glue-trace/server/api';
import { openPage, type Page } from '../testing/page';
import { markedLines, offsetOf } from './marked-lines';

const PLAN: PlanPage = {
  path: '/games/small/glue-trace.json',
  text: '{\n  "version": 1, // ours\n  "name": "Small",\n  "files": { "scenes": { "match": "*.json", "as": "scene" } }\n}\n',
  hash: 'a'.repeat(64),
  isBuiltIn: false,
  bases: {},
};
const SCENE = '{\n  "objects": [\n    { "name": "Tender" },\n    { "name": "Barge" }\n  ]\n}\n';

/** Waits until the worker has answered and its answer is drawn. */
async function until(page: Page, holds: () => boolean): Promise<void> {
  for (let tries = 0; tries < 100 && !holds(); tries++) {
    await new Promise((resolve) => setTimeout(resolve, 30));
    await page.settle();
  }
  if (!holds()) throw new Error('it never came to be');
}

describe('The plan beside a file', () => {
  const open = async (changes: Partial<PlanPage> = {}): Promise<Page> => {
    const page = await openPage('/p/1/reading/plan?file=a.json');
    const rows = ['a.json', 'b.json'].map((path) => ({ path, status: 'read', rule: '', reason: '', size: 1 }));
    await page.answer('/api/projects/1/plan', { ...PLAN, ...changes });
    await page.answer('/api/projects/1/files', { total: 2, offset: 0, rows });
    await page.answer('/api/projects/1/text', { path: 'a.json', text: SCENE, isCut: false });
    await until(page, () => page.text('.side').includes('Read by'));
    return page;
  };
  const draft = (page: Page): string => page.element.querySelector('textarea')!.value;
  const type = async (page: Page, text: string): Promise<void> => {
    const box = page.element.querySelector('textarea')!;
    box.value = text;
    box.dispatchEvent(new Event('input'));
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

  it('shows the plan, the file, and that nothing is found yet', async () => {
    const page = await open();
    expect(draft(page)).toBe(PLAN.text);
    expect(page.text('.side')).toContain('Read by files.scenes');
    expect(page.text('.side')).toContain('finds nothing in the file yet');
    expect(page.texts('option')).toEqual(['a.json', 'b.json']);
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
    const box = page.element.querySelector('textarea')!;
    expect(box.value.slice(box.selectionStart, box.selectionEnd)).toContain('filse');
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

  it('says that a built-in plan is in force, and what is wrong when there is none', async () => {
    expect((await open({ isBuiltIn: true })).text('.plan h2')).toContain('saving writes a plan of its own');
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
