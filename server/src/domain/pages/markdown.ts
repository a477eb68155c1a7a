import { gfm } from '@joplin/turndown-plugin-gfm';
import Turndown from 'turndown';

const turndown = new Turndown({
  headingStyle: 'atx',
  hr: '---',
  bulletListMarker: '-',
  codeBlockStyle: 'fenced',
  emDelimiter: '*',
})
  .use(gfm)
  // What Markdown has no signs for stays HTML, which it allows.
  .keep(['sub', 'sup', 'u', 'mark', 'details'])
  .addRule('formula', {
    filter: (node) => node.className === 'formula',
    replacement: (_, node) => {
      const tex = node.textContent ?? '';
      return node.nodeName === 'PRE' ? `\n\n$$\n${tex}\n$$\n\n` : `$${tex}$`;
    },
  })
  .addRule('check', {
    filter: (node) => node.nodeName === 'LI' && node.hasAttribute('data-checked'),
    replacement: (content, node) =>
      `- [${(node as Element).getAttribute('data-checked') === 'true' ? 'x' : ' '}] ${content.trim().replaceAll('\n', '\n  ')}\n`,
  })
  .addRule('aside', {
    filter: 'aside',
    replacement: (content) => `\n\n${content.trim().replace(/^/gmu, '> ')}\n\n`,
  })
  .addRule('picture', {
    filter: 'img',
    replacement: (_, node) => {
      const [alt, src] = ['alt', 'src'].map(
        (name) => (node as Element).getAttribute(name) ?? '',
      ) as [string, string];
      // What it is follows at the end of the document.
      return `![${alt.replaceAll(/[[\]\n]/gu, ' ')}][${src.slice('pictures/'.length)}]`;
    },
  });

/**
 * A page as Markdown with tables, lists of checks, and formulas between `$`; each picture is named by its SHA-256 as a reference, which
 * has to be defined. Takes long for long pages (`markdownIn`).
 */
export const pageMarkdown = (html: string): string => `${turndown.turndown(html)}\n`;
