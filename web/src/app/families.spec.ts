import type { FamilyCell } from '@glue-trace/core';
import type { FamiliesPage, FamilyGrid } from '@glue-trace/server/api';
import { ROW_HEIGHT } from './families/families';
import { openPage, type Page } from './testing/page';

const VESSEL = {
  key: 'type:scripts/vessel.ts#Vessel',
  title: 'Vessel',
  kind: 'type' as const,
  name: 'Vessel',
  file: 'scripts/vessel.ts',
  members: 2,
  objects: 3,
  replaced: 2,
  byNothing: 1,
};
const LIST: FamiliesPage = { families: [VESSEL] };
const range = { line: 4, column: 1, endLine: 5, endColumn: 1 };
const cell = (is: FamilyCell['is'], text = ''): FamilyCell => ({
  is,
  text,
  file: 'scripts/vessel.ts',
  range: is === 'inherited' || is === 'none' ? null : range,
});
const row = (name: string, depth: number, cells: FamilyCell[]): FamilyGrid['rows'][number] => ({
  key: `type:${name}`,
  title: name,
  name,
  depth,
  objects: depth,
  cells,
  replaced: 0,
});
const GRID: FamilyGrid = {
  ...VESSEL,
  columns: [
    { name: 'begin', kind: 'function' },
    { name: 'stop', kind: 'function' },
    { name: 'draught', kind: 'field' },
  ],
  rows: [
    row('Vessel', 0, [{ ...cell('own'), reach: { members: 2, objects: 5 } }, cell('own'), cell('none')]),
    row('Tender', 1, [
      { ...cell('by nothing'), reach: { members: 1, objects: 1 } },
      cell('inherited'),
      cell('never set'),
    ]),
    row('Barge', 1, [cell('calls through', 'before'), cell('inherited'), cell('value', '2')]),
  ],
};

const EXCERPT = { file: 'scripts/vessel.ts', firstLine: 4, lines: ['begin() {}'], from: 4, to: 4, isChanged: false };

async function openGrid(more = ''): Promise<Page> {
  const page = await openPage(`/p/1/families?family=${encodeURIComponent(VESSEL.key)}${more}`);
  await page.answer('/api/projects/1/families', LIST);
  await page.answer('/api/projects/1/family', GRID);
  return page;
}

describe('Families', () => {
  it('are listed, and open as a grid', async () => {
    const page = await openPage('/p/1/families');
    expect(page.text('[role=status]')).toBe('Gathering …');
    await page.answer('/api/projects/1/families', LIST);
    expect(page.texts('tbody td')).toEqual([
      'Vessel type',
      '2 children · 3 objects in scenes',
      '2',
      '1',
      'scripts/vessel.ts',
    ]);
    await page.press('j');
    expect(page.url()).toContain('family=type:scripts');
  });

  it('says in words what each member has', async () => {
    const page = await openGrid();
    expect(page.text('h1')).toBe('Vessel parent type 2 children · 3 objects in scenes · scripts/vessel.ts');
    expect(page.texts('thead th')).toEqual(['Member', 'begin()', 'stop()', 'draught', 'Objects']);
    expect(page.texts('tbody tr')).toEqual([
      'Vessel own own –',
      'Tender replaced by nothing · never set 1',
      'Barge parent’s, then own · 2 1',
    ]);
    await page.click('.choice');
    expect(page.texts('thead th')).toEqual(['Member', 'begin()', 'draught', 'Objects']);
  });

  it('lays a cell’s code beside the parent’s', async () => {
    const page = await openGrid();
    await page.click('tbody tr:nth-child(2) button');
    await page.answer('/api/projects/1/excerpt', EXCERPT);
    expect(page.texts('glue-evidence').length).toBe(2);
    await page.press('Escape');
    expect(page.texts('glue-evidence').length).toBe(0);
    await page.press('Escape');
    expect(page.url()).not.toContain('family=');
  });

  it('answers whom an edit of the base reaches, and whom a copy of its own', async () => {
    const page = await openGrid();
    await page.click('tbody tr:nth-child(2) button');
    expect(page.texts('.reach').length).toBe(0);
    await page.answer('/api/projects/1/excerpt', EXCERPT);
    expect(page.text('.reach')).toBe(
      'An edit of Vessel’s reaches 1 of its 2 members: 5 objects in scenes. An edit of Tender’s reaches 1 object in scenes.',
    );
    expect(page.text('.asked')).toBe('replaced by nothing');
  });

  it('compares two members: what differs between them, and their code', async () => {
    const page = await openGrid();
    await page.click('tbody tr:nth-child(2) input');
    await page.click('tbody tr:nth-child(3) input');
    expect(page.texts('tbody tr')).toEqual(['Tender replaced by nothing never set 1', 'Barge parent’s, then own 2 1']);
    expect(page.text('.pair')).toBe('Tender and Barge differ in 2 of 3');
    await page.press('Escape');
    expect(page.texts('tbody tr').length).toBe(3);
  });

  it('finds members by name, and sorts them; the parent stays first', async () => {
    const page = await openGrid('&sort=name');
    const names = (): string[] => page.texts('tbody th');
    expect(names()).toEqual(['Vessel', 'Barge', 'Tender']);
    const words = page.element.querySelector<HTMLInputElement>('input[type=search]')!;
    words.value = 'tend';
    words.dispatchEvent(new Event('change'));
    await page.settle();
    expect(names()).toEqual(['Vessel', 'Tender']);
  });

  it('draws only the rows that can be seen of thousands', async () => {
    const page = await openPage(`/p/1/families?family=${encodeURIComponent(VESSEL.key)}`);
    await page.answer('/api/projects/1/families', LIST);
    const many = Array.from({ length: 5000 }, (_, at) =>
      row(`Boat ${at}`, 1, [cell('own'), cell('own'), cell('none')]),
    );
    await page.answer('/api/projects/1/family', { ...GRID, rows: [GRID.rows[0], ...many] });
    expect(page.texts('tbody tr').length).toBeLessThan(100);
    const box = page.element.querySelector<HTMLElement>('[aria-label="The grid"]')!;
    box.style.cssText = 'height: 400px; flex: none; overflow: auto';
    box.scrollTop = 2500 * ROW_HEIGHT;
    box.dispatchEvent(new Event('scroll'));
    await page.settle();
    expect(page.texts('tbody th')).toContain('Boat 2505');
    expect(page.texts('tbody tr').length).toBeLessThan(100);
    // A window made taller shows more, without anybody scrolling.
    box.style.height = '3000px';
    window.dispatchEvent(new Event('resize'));
    await page.settle();
    expect(page.texts('tbody tr').length).toBeGreaterThan(3000 / ROW_HEIGHT);
  });

  it('says when there are none', async () => {
    const page = await openPage('/p/1/families');
    await page.answer('/api/projects/1/families', { families: [] });
    expect(page.text('.card b')).toBe('No families.');
  });

  it('says when a family is gone, and leads back', async () => {
    const gone = await openPage('/p/1/families?family=type:x');
    await gone.answer('/api/projects/1/families', LIST);
    const problem = { code: 'piece/unknown', title: 'The map has no such piece', detail: 'Scan again.' };
    await gone.answer('/api/projects/1/family', problem, 404);
    expect(gone.text('glue-trouble')).toContain('Scan again.');
    await gone.click('glue-trouble button');
    expect(gone.url()).not.toContain('family=');
  });
});
