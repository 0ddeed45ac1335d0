import { Marked, type Tokens } from 'marked';
import { sectionId } from './section-id';

export interface Section {
  /** The name by which links go there. */
  id: string;
  title: string;
  depth: number;
  /** What stands below its heading, up to the next, as it is written. */
  text: string;
}

export interface Article {
  html: string;
  sections: Section[];
}

/**
 * A page of the documentation as HTML: links to other pages stay inside the application, those to files of the source, which
 * is not here, are plain words.
 * @param pictures their addresses, by the path that the page gives
 */
export function articleOf(markdown: string, pictures: Readonly<Record<string, string>> = {}): Article {
  const sections: Section[] = [];
  const known = new Map<string, number>();
  const marked = new Marked({
    gfm: true,
    renderer: {
      heading({ tokens, depth, text }: Tokens.Heading): string {
        const plain = text.replace(/[`*]/g, '');
        const id = freshId(plain, known);
        sections.push({ id, title: plain, depth, text: '' });
        return `<h${depth} class="section">${this.parser.parseInline(tokens)}</h${depth}>\n`;
      },
      link({ href, tokens }: Tokens.Link): string {
        const words = this.parser.parseInline(tokens);
        const to = addressOf(href);
        if (to === undefined) return words;
        const isElsewhere = /^https?:/.test(to);
        return `<a href="${escaped(to)}"${isElsewhere ? ' target="_blank" rel="noreferrer"' : ''}>${words}</a>`;
      },
      // Marks for the tool that writes parts of the pages.
      html: () => '',
      image({ href, text }: Tokens.Image): string {
        const address = pictures[href];
        return address === undefined ? escaped(text) : `<img src="${escaped(address)}" alt="${escaped(text)}">`;
      },
    },
  });
  const tokens = marked.lexer(markdown);
  const html = marked.parser(tokens);
  let at = -1;
  for (const token of tokens) {
    const section = token.type === 'heading' ? sections[++at] : sections[at];
    if (section && token.type !== 'heading') section.text += token.raw;
  }
  return { html, sections };
}

/** Where a link of a page leads inside the application; undefined for what is not here. */
function addressOf(href: string): string | undefined {
  if (/^https?:/.test(href) || href.startsWith('#')) return href;
  const [, page, fragment = ''] = /^([\w-]+)\.md(#.*)?$/.exec(href) ?? [];
  return page === undefined ? undefined : `/docs/${page}${fragment}`;
}

/** With a number where there is one already. */
function freshId(title: string, known: Map<string, number>): string {
  const id = sectionId(title);
  const count = known.get(id) ?? 0;
  known.set(id, count + 1);
  return count === 0 ? id : `${id}-${count}`;
}

function escaped(text: string): string {
  return text.replace(/[&<>"]/g, (sign) => `&#${sign.charCodeAt(0)};`);
}
