import type { LearnedPage, LearnedRow } from '@glue-trace/server/api';
import { openPage, type Page } from './testing/page';

const row = (key: string, sure: number, more: Partial<LearnedRow> = {}): LearnedRow => ({
  key,
  sure,
  of: 8,
  leads: 7,
  says: `${key} names a boat`,
  examples: ['tender'],
  misses: ['tneder'],
  rule: '{ "at": "$.for" }',
  asks: 0,
  others: [],
  ...more,
});
const learned = (...rules: LearnedRow[]): LearnedPage => ({
  isWritten: true,
  text: 'the plan',
  hash: 'a'.repeat(64),
  textFiles: 10,
  readFiles: 9,
  rules,
  isAgain: false,
});
const ADDRESS = '/api/projects/1/learned';

describe('Learned rules', () => {
  const open = async (page: LearnedPage): Promise<Page> => {
    const found = await openPage('/p/1/reading/learn');
    await found.answer(ADDRESS, page);
    return found;
  };
  const three = learned(row('crew', 0.99), row('berth', 0.7), row('cargo', 0.96));

  it('stand with what speaks for each, the first one open', async () => {
    const page = await open(three);
    expect(page.text('h1')).toBe('3 learned rules to look at');
    expect(page.texts('.row')).toEqual([
      '99 % crew names a boat',
      '70 % berth names a boat',
      '96 % cargo names a boat',
    ]);
    expect(page.text('aside')).toContain('It is 99 % sure, and counts for 8 places.');
    expect(page.text('aside .lost')).toBe('These lead nowhere: tneder');
    expect(page.text('pre')).toBe('{ "at": "$.for" }');
  });
  it('are taken and refused by keys, and the next one is open', async () => {
    const page = await open(three);
    await page.press('j');
    await page.press('n');
    await page.answer(ADDRESS, learned(row('crew', 0.99), row('cargo', 0.96)));
    expect(page.text('.row.on')).toBe('96 % cargo names a boat');
    expect(page.text('.note')).toContain('Refused: berth names a boat');
    await page.press('a');
    await page.answer(ADDRESS, learned());
    expect(page.text('h1')).toBe('No learned rule is left to look at');
    expect(page.text('.card b')).toBe('Everything that was learned is decided.');
  });
  it('that are taken together are those surer than the line', async () => {
    const page = await open(three);
    expect(page.texts('.bar button')[0]).toBe('Take all 2 a');
    const line = page.element.querySelector<HTMLSelectElement>('.bar select')!;
    line.value = '0.99';
    line.dispatchEvent(new Event('change'));
    await page.settle();
    expect(page.texts('.bar button')[0]).toBe('Take all 1 a');
  });
  it('are learned again beside the plan: what is new is put into it, what does not hold is left, changed or taken out', async () => {
    const page = await open(learned());
    await page.press('l');
    expect(page.text('.card')).toContain('Learning again …');
    const fresh = row('cargo', 0.97, { is: 'new', inner: { 'cargo.piece': { sure: 0.9, of: 3, leads: 3 } } });
    const others = [{ says: 'one of berths by its code', of: 8, leads: 8, rule: '{ "at": "$.for", "by": "name" }' }];
    const failing = row('berth', 0.2, { is: 'failing', others });
    await page.answer(`${ADDRESS}/again`, { ...learned(fresh, failing), isAgain: true });
    expect(page.text('[role=status]')).toBe('Learned again: 1 rule is new, 1 of the plan does not hold.');
    expect(page.texts('.row')).toEqual(['97 %new cargo names a boat', '20 %does not hold berth names a boat']);
    expect(page.texts('.bar button')[0]).toBe('Take all 1 a');
    await page.press('y');
    const put = await page.answer(ADDRESS, { ...learned(failing), isAgain: true });
    expect(put).toEqual(
      jasmine.objectContaining({ take: [], put: [{ key: 'cargo', rule: { at: '$.for' }, inner: fresh.inner }] }),
    );
    expect(page.text('aside')).toContain('It stands in the plan.');
    expect(page.text('aside .actions')).toContain('Leave it y');
    await page.press('y');
    expect(page.text('.card b')).toBe('Everything that was learned is decided.');
    await page.press('l');
    await page.answer(`${ADDRESS}/again`, { ...learned(), isAgain: true });
    expect(page.text('[role=status]')).toContain('Taken');
  });
  it('stay as they are when a decision cannot be written, and say why', async () => {
    const page = await open(three);
    await page.press('y');
    const problem = { code: 'plan/changed', title: 'The plan changed', detail: 'Load it again', mistakes: [] };
    await page.answer(ADDRESS, problem, 409);
    expect(page.text('[role=alert] b')).toBe('The plan changed');
    expect(page.text('h1')).toBe('3 learned rules to look at');
  });
  it('that are questions come first where that is asked for, and are answered by what else may be meant', async () => {
    const others = [{ says: 'one of berths by its code', of: 8, leads: 8, rule: '{ "at": "$.for", "by": "name" }' }];
    const page = await open(
      learned(row('crew', 0.99), row('berth', 0.7, { asks: 2, others }), row('cargo', 0.8, { asks: 5 })),
    );
    expect(page.texts('.bar button')[1]).toBe('The 2 questions first o');
    await page.press('o');
    expect(page.texts('.row')[0]).toBe('80 % cargo names a boat');
    expect(page.text('aside .asks')).toBe('Is that so? The answer settles 5 places.');
    expect(page.texts('.others li')).toEqual([]);
    await page.press('j');
    expect(page.text('.others li > span')).toBe(
      'It may name one of berths by its code instead: 8 of 8 lead somewhere.',
    );
    await page.press('1');
    const body = await page.answer(ADDRESS, learned(row('crew', 0.99)));
    expect(body).toEqual(
      jasmine.objectContaining({ put: [{ key: 'berth', rule: { at: '$.for', by: 'name' } }], take: [], refuse: [] }),
    );
    expect(page.text('.note')).toContain('Changed: it names one of berths by its code');
  });
  it('that are questions about another rule put that and take the one out that was asked about', async () => {
    const others = [
      { says: 'what it is derived from', of: 8, leads: 8, rule: '{ "field": "$.for" }', key: 'rows.extends' },
    ];
    const page = await open(learned(row('berth', 0.99, { asks: 8, others })));
    await page.press('1');
    const body = await page.answer(ADDRESS, learned());
    expect(body).toEqual(
      jasmine.objectContaining({ put: [{ key: 'rows.extends', rule: { field: '$.for' } }], refuse: ['berth'] }),
    );
  });
  it('that are none are told apart from those that are decided', async () => {
    const page = await open({ ...learned(), isWritten: false });
    expect(page.text('h1')).toBe('No learned rule to look at');
    expect(page.text('.card b')).toBe('Nothing can be learned from these files.');
    expect(page.text('.intro')).not.toContain('decision');
  });
  it('of a project without a plan say that the first decision writes it', async () => {
    const page = await open({ ...three, isWritten: false });
    expect(page.text('.intro')).toContain('This project has no plan');
    expect(page.text('.intro')).toContain('90 % of 10 text files are read.');
  });
});
