import { openPage, type Page } from '../testing/page';
import { articleOf, type Article } from './markdown';
import { PAGES, PICTURES } from './pages';
import { sectionId } from './section-id';

describe('The guide', () => {
  const loaded = async (page: Page, words: string): Promise<void> => {
    for (let tries = 0; tries < 100 && !page.element.textContent.includes(words); tries++) {
      await new Promise((resolve) => setTimeout(resolve, 20));
      await page.settle();
    }
    expect(page.element.textContent).toContain(words);
  };

  it('shows a page with its sections, and goes on from link to link inside the application', async () => {
    const page = await openPage('/docs/first-plan');
    await loaded(page, 'Everything else is in the');
    expect(page.texts('nav > ul > li > a').length).toBe(PAGES.length);
    expect(page.text('nav [aria-current=page]')).toBe('A plan in ten minutes');
    await page.click('article a[href="/docs/reading-plan"]');
    await loaded(page, 'Globs and selectors');
    expect(page.url()).toBe('/docs/reading-plan');
    expect(page.texts('nav ul ul a')).toContain('calls');
    expect(page.element.querySelector('#calls')?.tagName).toBe('H2');
    expect(page.element.querySelector('.wide table')).not.toBeNull();
  });

  it('finds sections by their words in all pages, those called so first', async () => {
    const page = await openPage('/docs/trust');
    const box = page.element.querySelector<HTMLInputElement>('nav input')!;
    const find = async (words: string): Promise<void> => {
      box.value = words;
      box.dispatchEvent(new Event('input'));
      await page.settle();
    };
    await find('never sent');
    await loaded(page, 'fragile/never-sent');
    await find('targets');
    expect(page.texts('nav li a')[0]).toBe('Targets The reading plan');
    await find('xyzzyx');
    expect(page.text('nav [role=status]')).toBe('Nothing of the guide says so.');
  });

  it('says so when there is no such page', async () => {
    const page = await openPage('/docs/nothing');
    await loaded(page, 'There is no such page');
  });

  it('leads nowhere with none of its links, and shows its pictures', async () => {
    const texts = await Promise.all(PAGES.map(async ({ load }) => (await load()).default));
    const articles = new Map<string, Article>(PAGES.map(({ name }, at) => [name, articleOf(texts[at], PICTURES)]));
    for (const [name, { html, sections }] of articles) {
      const [title] = sections;
      expect(title?.title)
        .withContext(name)
        .toBe(PAGES.find((page) => page.name === name)!.title);
      for (const [, href] of html.matchAll(/ href="([^"]+)"/g)) {
        if (/^https?:/.test(href)) continue;
        const [path, fragment] = href.split('#') as [string, string?];
        const goal = path === '' ? articles.get(name) : articles.get(path.replace('/docs/', ''));
        expect(goal).withContext(`${name}: ${href}`).toBeDefined();
        if (fragment)
          expect(goal!.sections.map(({ id }) => id))
            .withContext(`${name}: ${href}`)
            .toContain(fragment);
      }
      for (const [, path] of texts[PAGES.findIndex((page) => page.name === name)].matchAll(/!\[[^\]]*\]\(([^)]+)\)/g))
        expect(PICTURES[path]).withContext(`${name}: ${path}`).toBeDefined();
    }
    // Findings link to their check by its name.
    expect(articles.get('checks')!.sections.map(({ id }) => id)).toContain(sectionId('broken/missing-file'));
  });

  it('takes nothing of a page for code', () => {
    const { html } = articleOf('# A\n\n## B\n\n## B\n\n[up](../x.ts) [out](https://example.org/"x) ![p](none.png)\n');
    expect(html).toContain('up ');
    expect(html).not.toContain('x.ts');
    expect(html).toContain('target="_blank"');
    expect(html).not.toContain('<img');
    expect(articleOf('## B\n\n## B\n').sections.map(({ id }) => id)).toEqual(['b', 'b-1']);
  });
});
