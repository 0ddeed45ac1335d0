import type { TwinGroupView, TwinsPage } from '@glue-trace/server/api';
import { openPage } from './testing/page';

const group = (one: string, other: string, more: Partial<TwinGroupView> = {}): TwinGroupView => ({
  likeness: 'values',
  saves: 40,
  drift: false,
  places: [one, other].map((name) => ({ name, file: `scripts/${name}.ts`, line: 3, endLine: 9, key: `type:${name}` })),
  differences: [{ what: 'value', line: 4, words: ['12', '30'] }],
  home: 'the parent',
  parent: 'Vessel',
  ...more,
});
const PAGE: TwinsPage = {
  isKnown: true,
  groups: [
    group('Barge.load()', 'Tender.load()'),
    group('Bell.ring()', 'Horn.blow()', {
      likeness: 'statements',
      drift: true,
      differences: [{ what: 'statement', line: 5, words: ['this.sway', ''] }],
      home: 'a shared script',
      parent: '',
    }),
  ],
};

describe('Twins', () => {
  it('are listed, and laid side by side with what differs and where they could live', async () => {
    const page = await openPage('/p/1/twins');
    expect(page.text('[role=status]')).toBe('Comparing …');
    await page.answer('/api/projects/1/twins', PAGE);
    expect(page.texts('.row')).toEqual([
      'Barge.load() and Tender.load() other values saves 40 words of code',
      'Bell.ring() and Horn.blow() statements differ saves 40 words of code',
    ]);
    await page.press('j');
    expect(page.text('aside p')).toContain('Could live in: the parent that they have: Vessel.');
    expect(page.texts('aside tbody td')).toEqual(['12', '30']);
    await page.press('j');
    expect(page.text('aside p')).toContain('they have drifted apart');
    expect(page.texts('aside tbody td')).toEqual(['this.sway', 'not there']);
    await page.press('Escape');
    expect(page.element.querySelector('aside')).toBeNull();
  });

  it('are narrowed by words, and offered as a task list', async () => {
    const page = await openPage('/p/1/twins?text=bell');
    await page.answer('/api/projects/1/twins', PAGE);
    expect(page.texts('.row').length).toBe(1);
    expect(page.element.querySelector('a[download]')!.getAttribute('href')).toBe('/api/projects/1/twins.md');
  });

  it('say when no group is like that', async () => {
    const none = await openPage('/p/1/twins?text=nothing');
    await none.answer('/api/projects/1/twins', PAGE);
    expect(none.text('.card b')).toBe('No group is like that.');
  });

  it('says when no two functions are alike', async () => {
    const page = await openPage('/p/1/twins');
    await page.answer('/api/projects/1/twins', { isKnown: true, groups: [] });
    expect(page.text('.card b')).toBe('No two functions are alike.');
  });

  it('says what is wrong when there is no map', async () => {
    const gone = await openPage('/p/1/twins');
    const problem = { code: 'scan/none', title: 'Nothing is scanned', detail: 'Scan it first.' };
    await gone.answer('/api/projects/1/twins', problem, 409);
    expect(gone.text('glue-trouble')).toContain('Scan it first.');
  });
});
