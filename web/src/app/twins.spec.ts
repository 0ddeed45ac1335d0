import { HttpTestingController } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import type { TwinGroupView, TwinsPage } from '@glue-trace/server/api';
import { openPage } from './testing/page';

const group = (one: string, other: string, more: Partial<TwinGroupView> = {}): TwinGroupView => ({
  kind: 'code',
  likeness: 'the same with other values',
  risk: 'values differ',
  parting: '',
  saves: 40,
  key: one,
  places: [one, other].map((name) => ({
    name,
    file: `scripts/${name}.ts`,
    line: 3,
    endLine: 9,
    key: `type:${name}`,
    change: 'The function goes out.',
  })),
  differences: [{ what: 'value', lines: [4, 4], before: [0, 0], words: ['12', '30'], parting: '' }],
  fields: [{ name: 'loadCost', words: ['12', '30'] }],
  home: { words: 'the parent that they have: Vessel', change: 'Vessel gets load().' },
  ...more,
});
const PAGE: TwinsPage = {
  all: 3,
  total: 3,
  groups: [
    group('Bell.ring()', 'Horn.blow()', {
      likeness: 'the same with statements added or taken out',
      risk: 'changed in one',
      parting: 'Bell.ring() was changed on 2026-03-02 (“Sway”), and the other not.',
      differences: [{ what: 'statement', lines: [5, 0], before: [0, 5], words: ['this.sway', ''], parting: '' }],
      fields: [],
      home: { words: 'a script that all of them take in', change: 'It gets one function for it.' },
    }),
    group('Barge.load()', 'Tender.load()', { saves: 90 }),
    group('Fender', 'Long Fender', { kind: 'prefab', saves: 0 }),
  ],
};
const excerpt = (file: string): object => ({
  file,
  firstLine: 3,
  lines: ['ring() {', 'pull();', 'more();', 'rest();'],
  from: 3,
  to: 6,
  isChanged: false,
});

describe('Twins', () => {
  it('are listed by risk, and laid side by side with what differs, what would change, and where they could live', async () => {
    const page = await openPage('/p/1/twins');
    expect(page.text('[role=status]')).toBe('Comparing …');
    await page.answer('/api/projects/1/twins', PAGE);
    expect(page.texts('.row')).toEqual([
      'Bell.ring() and Horn.blow() changed in one the same with statements added or taken out · saves 40 words of code',
      'Barge.load() and Tender.load() the same with other values · saves 90 words of code',
      'Fender and Long Fender the same with other values',
    ]);
    await page.press('j');
    expect(page.text('aside')).toContain('Bell.ring() was changed on 2026-03-02 (“Sway”), and the other not.');
    expect(page.texts('aside [aria-label="What differs"] td')).toEqual(['this.sway', 'not there']);
    await page.press('j');
    expect(page.text('.home')).toBe('Could live in the parent that they have: Vessel. Vessel gets load().');
    expect(page.texts('aside [aria-label="Values that differ"] tbody :is(th, td)')).toEqual(['loadCost', '12', '30']);
    expect(page.texts('.copies p')).toEqual([
      'Barge.load() The function goes out.',
      'Tender.load() The function goes out.',
    ]);
    await page.press('Escape');
    expect(page.element.querySelector('aside')).toBeNull();
  });

  it('pick out the lines that differ, and leave a row empty where a copy has nothing', async () => {
    const page = await openPage('/p/1/twins?group=Bell.ring()');
    await page.answer('/api/projects/1/twins', PAGE);
    await page.answer('/api/projects/1/excerpt', excerpt('scripts/bell.ts'));
    const [bell, horn] = [...page.element.querySelectorAll('glue-evidence')];
    expect([...bell.querySelectorAll('.hit')].map((line) => line.textContent.trim())).toEqual(['5more();']);
    expect(horn.querySelectorAll('.hit').length).toBe(0);
    expect([...horn.querySelectorAll('.line')].map((line) => line.classList.contains('gap'))).toEqual([
      false,
      false,
      true,
      false,
      false,
    ]);
  });

  it('are narrowed by words and kind, and sorted, by the server; offered as a task list', async () => {
    const page = await openPage('/p/1/twins?text=bell');
    const asks = async (): Promise<string> => {
      await page.settle();
      const [call] = TestBed.inject(HttpTestingController).match(({ url }) => url.endsWith('/twins'));
      call.flush(PAGE);
      await page.settle();
      return call.request.params.toString();
    };
    const choose = (label: string, value: string): void => {
      const box = page.element.querySelector<HTMLSelectElement>(`[aria-label="${label}"]`)!;
      box.value = value;
      box.dispatchEvent(new Event('change'));
    };
    expect(await asks()).toBe('limit=200&text=bell');
    expect(page.element.querySelector('a[download]')!.getAttribute('href')).toBe('/api/projects/1/twins.md');
    choose('Words in a name or file', '');
    expect(await asks()).toBe('limit=200');
    choose('Order', 'saves');
    expect(await asks()).toBe('limit=200&order=saves');
    choose('What is written again', 'prefab');
    expect(await asks()).toBe('limit=200&kind=prefab&order=saves');
  });

  it('open one that is not among the first, and show more when asked', async () => {
    const page = await openPage('/p/1/twins?group=Far.off()');
    await page.answer('/api/projects/1/twins', {
      ...PAGE,
      total: 900,
      all: 900,
      opened: group('Far.off()', 'Farther.off()'),
    });
    expect(page.text('.copies')).toContain('Far.off()');
    expect(page.text('.scroll p')).toBe('Show more of the 897 others');
    await page.click('.scroll p button');
    expect(page.url()).toContain('rows=400');
  });

  it('say when no group is like that', async () => {
    const none = await openPage('/p/1/twins?text=nothing');
    await none.answer('/api/projects/1/twins', { all: 3, total: 0, groups: [] });
    expect(none.text('.card b')).toBe('No group is like that.');
  });

  it('says when nothing is written twice', async () => {
    const page = await openPage('/p/1/twins');
    await page.answer('/api/projects/1/twins', { all: 0, total: 0, groups: [] });
    expect(page.text('.card b')).toBe('Nothing is written twice.');
  });

  it('says what is wrong when there is no map', async () => {
    const gone = await openPage('/p/1/twins');
    const problem = { code: 'scan/none', title: 'Nothing is scanned', detail: 'Scan it first.' };
    await gone.answer('/api/projects/1/twins', problem, 409);
    expect(gone.text('glue-trouble')).toContain('Scan it first.');
  });
});
