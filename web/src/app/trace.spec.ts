import type { Chains, Neighbourhood } from '@glue-trace/core';
import { line, openPage, piece, tracePage, type Page } from './testing/page';

const ROPE = piece('type', 'Rope');
const CLEAT = piece('object', 'Quay / Cleat');
const FIXED = line('uses', piece('part', 'Quay / Line / Rope'), CLEAT);

async function open(query = ''): Promise<Page> {
  const page = await openPage(`/p/1/trace?piece=${ROPE.key}${query}`);
  await page.answer(
    '/api/projects/1/trace',
    tracePage(ROPE, { reliesOn: [{ verb: 'uses', count: 1, lines: [FIXED] }] }),
  );
  return page;
}

describe('Trace, beyond the links', () => {
  it('shows values from the code to the instance, and where each is written', async () => {
    const page = await open();
    const range = { line: 3, column: 1, endLine: 3, endColumn: 2 };
    await page.answer('/api/projects/1/values', {
      parts: [
        {
          part: piece('part', 'Quay / Line / Rope'),
          typeName: 'Rope',
          fields: [
            {
              field: 'length',
              type: 'number',
              exposed: true,
              levels: [
                { by: 'Rope in code', text: '10', empty: false, file: 'rope.ts', range },
                { by: 'scene Quay', text: '12', empty: false, file: 'quay.json', range: { ...range, line: 9 } },
              ],
            },
          ],
        },
      ],
    });
    expect(page.texts('glue-values button')).toEqual(['10 Rope in code', '12 scene Quay']);
    expect(page.text('glue-values .force')).toBe('12 scene Quay');
    await page.click('glue-values .force');
    await page.answer('/api/projects/1/excerpt', {
      file: 'quay.json',
      firstLine: 9,
      lines: ['12'],
      from: 9,
      to: 9,
      isChanged: false,
    });
    expect(page.text('aside .file')).toBe('quay.json');
  });

  it('shows what comes of values that do not replace one another', async () => {
    const page = await open();
    const range = { line: 3, column: 1, endLine: 3, endColumn: 2 };
    const levels = [
      { by: 'record Hull', text: 'float', empty: false, file: 'boats.json', range },
      { by: 'record Barge', text: 'carry', joins: 'adds' as const, empty: false, file: 'boats.json', range },
    ];
    const field = (name: string, inForce: string | null): object => ({
      ...{ field: name, type: '', exposed: false, levels, inForce },
    });
    await page.answer('/api/projects/1/values', {
      parts: [
        {
          part: piece('record', 'boats / Barge'),
          typeName: 'Barge',
          fields: [field('can', 'float carry'), field('load', null)],
        },
      ],
    });
    expect(page.texts('glue-values .result')).toEqual(['in all float carry', 'in all known only in play']);
    expect(page.texts('glue-values tr:nth-of-type(1) button')).toEqual([
      'float record Hull',
      'adds carry record Barge',
    ]);
  });

  it('shows the walk of a look-up that holds, and says what its grip means', async () => {
    const page = await open();
    await page.answer('/api/projects/1/walk', {
      steps: [
        { asks: 'starts on', finds: 'Quay / Line', key: 'x', grip: 'fixed' },
        { asks: 'child “Cleat”', finds: 'Quay / Cleat', key: 'y', grip: 'path' },
      ],
    });
    expect(page.texts('aside td:nth-child(2)')).toEqual(['Quay / Line', 'Quay / Cleat']);
    expect(page.text('aside')).toContain('moving the target changes nothing, renaming it breaks it');
    await expectAsync(page.answer('/api/projects/1/walk', {})).toBeRejectedWithError(/nothing asks/);
  });

  it('narrows the lines by what the address says', async () => {
    const page = await open();
    const grip = page.element.querySelectorAll<HTMLSelectElement>('glue-filter-bar select')[1];
    grip.value = 'fixed';
    grip.dispatchEvent(new Event('change'));
    await page.settle();
    expect(page.url()).toContain('grip=fixed');
    await page.answer('/api/projects/1/trace', tracePage(ROPE, {}));
    expect(page.text('.none')).toContain('No link like that starts here.');
    await page.click('glue-filter-bar button');
    expect(page.url()).not.toContain('grip');
  });

  it('tells how it reaches another piece, and when it does not', async () => {
    const page = await open('&to=object:Cleat');
    const step = {
      from: ROPE,
      to: CLEAT,
      words: 'uses',
      grip: 'name' as const,
      label: 'cleat',
      link: { file: 'a/rope.ts', range: FIXED.link.range },
    };
    const found: Chains = { from: ROPE, to: CLEAT, shortest: [[step]], hasMore: false, firmest: [step] };
    await page.answer('/api/projects/1/chains', found);
    expect(page.text('glue-chains h3')).toBe('The shortest way: 1 step, and the firmest');
    expect(page.text('glue-chains li')).toContain('Rope uses Cleat cleat');
    await page.click('.side button');
    expect(page.url()).not.toContain('to=');
  });

  it('says when it does not reach another piece', async () => {
    const page = await open('&to=object:Nobody');
    await page.answer('/api/projects/1/chains', { from: ROPE, to: CLEAT, shortest: [], hasMore: false, firmest: null });
    expect(page.text('glue-chains p')).toContain('does not reach');
  });

  it('draws what stands around it, says what it left out, and leads on', async () => {
    const page = await open('&draw=40x2');
    const around: Neighbourhood = {
      pieces: [
        { ...ROPE, hops: 0, leftOut: 0 },
        { ...CLEAT, hops: 1, leftOut: 3 },
      ],
      links: [{ from: 0, to: 1, verbs: ['uses'], grip: 'name', count: 2 }],
      leftOut: 5,
    };
    await page.answer('/api/projects/1/neighbourhood', around);
    for (let n = 0; n < 100 && !page.element.querySelector('glue-drawing svg'); n++) {
      await new Promise((resolve) => setTimeout(resolve, 50));
      await page.settle();
    }
    expect(page.texts('glue-drawing .piece').map((text) => text.replace(/.*\) /, ''))).toEqual([
      'Rope type',
      'Cleat object · +3',
    ]);
    expect(page.text('glue-drawing p')).toContain('5 more within 2 hops are left out.');
    expect(page.element.querySelector('polyline title')!.textContent).toBe(
      'Rope uses Cleat: 2 links, name at the weakest',
    );
    page.element.querySelectorAll('glue-drawing .piece')[1].dispatchEvent(new MouseEvent('click'));
    await page.settle();
    expect(page.url()).toContain(`piece=${CLEAT.key}`);
  });
});
