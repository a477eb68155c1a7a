import { ID_PATTERN } from '@sammlung/contract';
import { REFERENCE_LIMIT } from '@sammlung/core';
import { convert } from 'html-to-text';
import sanitize, { type Attributes, type IOptions } from 'sanitize-html';
import { replaceReferences } from './references.ts';

/** How a picture of the page itself is named in it, by the SHA-256 of its content. */
const PICTURE = /^pictures\/([0-9a-f]{64})$/u;
/** Elements inside each other; whatever is deeper is left out with its tags, not its text. */
const DEEPEST = 60;

/** A page as it is stored. */
export interface CleanPage {
  readonly html: string;
  /** What is written on it, for finding it. */
  readonly text: string;
  /** The pictures on it, by their SHA-256, each once. */
  readonly pictures: readonly string[];
}

/** An attribute that is a number of pixels or cells, or none. */
function count(value: string | undefined, most: number): string | undefined {
  const n = Number(value);
  return Number.isInteger(n) && n > 0 ? String(Math.min(n, most)) : undefined;
}

const present = (attributes: Record<string, string | undefined>) =>
  Object.fromEntries(
    Object.entries(attributes).filter((entry): entry is [string, string] => entry[1] !== undefined),
  );

const cell = (tagName: string, given: Attributes) => ({
  tagName,
  attribs: present({
    dir: given.dir,
    colspan: count(given.colspan, 50),
    rowspan: count(given.rowspan, 500),
  }),
});

/** A heading may begin what belongs to a day. */
const heading = (_: string, { dir, 'data-day': day = '' }: Attributes) => ({
  tagName: 'h2',
  attribs: present({ dir, 'data-day': /^\d{4}-\d\d-\d\d$/u.test(day) ? day : undefined }),
});

const ID = new RegExp(`^${ID_PATTERN}$`, 'u');
const idOf = (value: string | undefined) => (value && ID.test(value) ? value : undefined);

/** A paragraph may stand for a thing of the library. */
const paragraph = (tagName: string, given: Attributes) => {
  const folder = idOf(given['data-folder']);
  const placement = folder ? undefined : idOf(given['data-placement']);
  const dir = folder || placement ? undefined : given.dir;
  return { tagName, attribs: present({ 'data-folder': folder, 'data-placement': placement, dir }) };
};

const RULES: IOptions = {
  allowedTags: [
    ...[
      'h2',
      'h3',
      'h4',
      'p',
      'ul',
      'ol',
      'li',
      'blockquote',
      'pre',
      'aside',
      'details',
      'summary',
    ],
    ...['hr', 'br', 'table', 'tbody', 'thead', 'tr', 'th', 'td', 'img', 'a'],
    ...['strong', 'em', 's', 'u', 'code', 'sub', 'sup', 'mark'],
  ],
  allowedAttributes: {
    a: ['href'],
    img: ['src', 'alt', 'width', 'height'],
    ol: ['start'],
    h2: ['data-day'],
    p: ['data-folder', 'data-placement'],
    li: ['data-checked'],
    td: ['colspan', 'rowspan'],
    th: ['colspan', 'rowspan'],
    code: ['class'],
    pre: ['class'],
    '*': ['dir'],
  },
  allowedClasses: { code: ['formula', /^language-[\w+#-]{1,30}$/u], pre: ['formula'] },
  allowedSchemes: ['http', 'https', 'mailto', 'tel'],
  allowProtocolRelative: false,
  nestingLimit: DEEPEST,
  nonTextTags: [
    'script',
    'style',
    'textarea',
    'option',
    'noscript',
    'template',
    'title',
    'svg',
    'math',
  ],
  transformTags: {
    h1: heading,
    h5: 'h4',
    h6: 'h4',
    b: 'strong',
    i: 'em',
    strike: 's',
    del: 's',
    li: (tagName, { dir, 'data-checked': checked }) => ({
      tagName,
      attribs: present({
        dir,
        'data-checked': checked === undefined ? undefined : String(checked === 'true'),
      }),
    }),
    h2: heading,
    p: paragraph,
    td: cell,
    th: cell,
    img: (tagName, { src = '', alt, width, height }) => ({
      tagName,
      attribs: present({
        ...{ src, alt: alt ?? '', width: count(width, 10_000), height: count(height, 10_000) },
      }),
    }),
  },
  exclusiveFilter: ({ tag, attribs }) => tag === 'img' && !PICTURE.test(attribs.src ?? ''),
};

/**
 * A page out of whatever was sent: nothing in it runs, or is fetched from elsewhere. Cleaning what is clean changes nothing.
 * Takes long for long pages (`cleanIn`).
 */
export function cleanPage(given: string): CleanPage {
  let references = 0;
  const html = replaceReferences(sanitized(given), (_, text) =>
    (references += 1) > REFERENCE_LIMIT ? '' : text,
  );
  const pictures = new Set<string>();
  for (const [, hash] of html.matchAll(/<img src="pictures\/([0-9a-f]{64})"/gu))
    pictures.add(hash!);
  return { html, text: textOf(html), pictures: [...pictures] };
}

/** What was left out may have kept apart what closes each other, such as two points of a list: then it is read once more. */
const PASSES = 5;
function sanitized(given: string): string {
  let html = given;
  for (let pass = 0; pass < PASSES; pass += 1) {
    const cleaned = sanitize(html, RULES).trim();
    if (cleaned === html) break;
    html = cleaned;
  }
  return html;
}

function textOf(html: string): string {
  return convert(html, {
    wordwrap: false,
    selectors: [
      { selector: 'img', format: 'skip' },
      { selector: 'a', options: { ignoreHref: true } },
      ...['h2', 'h3', 'h4', 'table'].map((selector) => ({
        selector,
        options: { uppercase: false, uppercaseHeadings: false },
      })),
      { selector: 'table', format: 'dataTable', options: { uppercaseHeaderCells: false } },
    ],
  })
    .replace(/\n{3,}/gu, '\n\n')
    .trim();
}
