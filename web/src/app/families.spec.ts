import type { FamilyCell } from '@glue-trace/core';
import type { FamiliesPage, FamilyGrid } from '@glue-trace/server/api';
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
const LIST: FamiliesPage = { isKnown: true, families: [VESSEL] };
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
    row('Vessel', 0, [cell('own'), cell('own'), cell('none')]),
    row('Tender', 1, [cell('by nothing'), cell('inherited'), cell('never set')]),
    row('Barge', 1, [cell('calls through'), cell('inherited'), cell('value', '2')]),
  ],
};

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
    expect(page.texts('tbody td')).toEqual(['Vessel type', '2 children · 3 objects', '2', '1', 'scripts/vessel.ts']);
    await page.press('j');
    expect(page.url()).toContain('family=type:scripts');
  });

  it('says in words what each member has', async () => {
    const page = await openGrid();
    expect(page.text('h1')).toBe('Vessel parent type 2 children · 3 objects · scripts/vessel.ts');
    expect(page.texts('thead th')).toEqual(['Member', 'begin()', 'stop()', 'draught', 'Objects']);
    expect(page.texts('tbody tr')).toEqual([
      'Vessel own own –',
      'Tender replaced by nothing · never set 1',
      'Barge own + parent’s · 2 1',
    ]);
    await page.click('.choice');
    expect(page.texts('thead th')).toEqual(['Member', 'begin()', 'draught', 'Objects']);
  });

  it('lays a cell’s code beside the parent’s', async () => {
    const page = await openGrid();
    await page.click('tbody tr:nth-child(2) button');
    await page.answer('/api/projects/1/excerpt', {
      file: 'scripts/vessel.ts',
      firstLine: 4,
      lines: ['begin() {}'],
      range,
      isChanged: false,
    });
    expect(page.texts('glue-evidence').length).toBe(2);
    await page.press('Escape');
    expect(page.texts('glue-evidence').length).toBe(0);
    await page.press('Escape');
    expect(page.url()).not.toContain('family=');
  });

  it('lays it beside another member’s when one is chosen', async () => {
    const page = await openGrid('&beside=type:Barge');
    await page.click('tbody tr:nth-child(2) button');
    const excerpt = { file: 'scripts/vessel.ts', firstLine: 4, lines: ['x'], range, isChanged: false };
    await page.answer('/api/projects/1/excerpt', excerpt);
    expect(page.texts('glue-evidence').length).toBe(2);
    expect(page.element.querySelector('select')!.value).toBe('type:Barge');
  });

  it('says when there are none', async () => {
    const page = await openPage('/p/1/families');
    await page.answer('/api/projects/1/families', { isKnown: true, families: [] });
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
