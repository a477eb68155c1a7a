import { Readable } from 'node:stream';
import type { Thing, ThingCard } from '@sammlung/contract';
import { escapeHtml } from '@sammlung/core';
import { fileTypeFromBuffer } from 'file-type';
import type { Storage } from '../../platform/storage.ts';
import type { Workers } from '../../platform/workers.ts';
import { markdownIn } from './clean-in.ts';
import { referencesIn, replaceReferences } from './references.ts';

/** A stored page, and what it is called. */
export interface StoredPage {
  readonly schoolId: string;
  /** Null for a page of which nothing has been shown yet. */
  readonly hash: string | null;
  readonly title: string;
}

/** Tells of things to which a page refers what they are, as far as whoever gets the page sees them. */
export type NameThings = (things: readonly Thing[]) => Promise<readonly ThingCard[]>;

type Files = Pick<Storage, 'open'>;

/** The piece of HTML of which a page consists; null where its content is missing. */
export async function readPage(
  storage: Files,
  { schoolId, hash }: Omit<StoredPage, 'title'>,
): Promise<string | null> {
  if (hash === null) return '';
  const content = await storage.open({ schoolId, hash });
  return content && (await readWhole(content)).toString('utf8');
}

async function readWhole(content: NonNullable<Awaited<ReturnType<Storage['open']>>>) {
  try {
    return await content.read(Buffer.alloc(content.size), 0);
  } finally {
    await content.close();
  }
}

/** How a page looks outside the application: quiet, good to read, good to print. */
const STYLE = `body{max-width:42rem;margin:2rem auto;padding:0 1rem;font:1.05rem/1.55 Literata,Georgia,serif;color:#1f2a2e}
img{max-width:100%;height:auto}table{border-collapse:collapse}th,td{border:1px solid #ddd6c8;padding:.3rem .6rem;text-align:start}
pre{overflow:auto;padding:.8rem;background:#f4f1ea}blockquote{margin-inline:0;padding-inline-start:1rem;border-inline-start:3px solid #ddd6c8}
aside{padding:.6rem 1rem;border-inline-start:4px solid #e3a32f;background:#f9f3e2}li[data-checked]{list-style:none}
li[data-checked=true]::before{content:"\\2611  "}li[data-checked=false]::before{content:"\\2610  "}`;

/** A page for outside: what it refers to is there by its name, and what is not seen is left out. Null where its content is missing. */
async function readForOutside(
  storage: Files,
  page: StoredPage,
  name: NameThings,
): Promise<string | null> {
  const html = await readPage(storage, page);
  if (html === null) return null;
  const things = new Map((await name(referencesIn(html))).map((thing) => [thing.id, thing]));
  return replaceReferences(html, ({ id }) => {
    const thing = things.get(id);
    if (!thing) return '';
    const title = escapeHtml(thing.title);
    return `<p>${thing.url ? `<a href="${escapeHtml(thing.url)}">${title}</a>` : title}</p>`;
  });
}

/**
 * A page as one HTML document; `pictureAddress` tells where a picture is found, by the SHA-256 of its content: by itself in the
 * document. One picture after the other is read. Null where its content is missing.
 */
export async function pageDocument(
  storage: Files,
  page: StoredPage,
  name: NameThings,
  pictureAddress = (hash: string) => dataAddress(storage, { schoolId: page.schoolId, hash }),
): Promise<Readable | null> {
  const html = await readForOutside(storage, page, name);
  return html === null ? null : Readable.from(documentParts(page.title, html, pictureAddress));
}

async function* documentParts(
  title: string,
  html: string,
  pictureAddress: (hash: string) => Promise<string>,
): AsyncGenerator<string> {
  const name = escapeHtml(title);
  yield `<!doctype html>\n<html>\n<head>\n<meta charset="utf-8">\n<meta name="viewport" content="width=device-width">
<title>${name}</title>\n<style>${STYLE}</style>\n</head>\n<body>\n<h1>${name}</h1>\n`;
  // What lies between two pictures, and the hash of the next one, in turn.
  for (const [n, part] of html.split(/(?<=<img src=")pictures\/([0-9a-f]{64})(?=")/u).entries())
    yield n % 2 === 0 ? part : await pictureAddress(part);
  yield '\n</body>\n</html>\n';
}

/** The same as Markdown: its pictures follow at the end. Throws `busy`, `too-slow`. */
export async function pageAsMarkdown(
  { storage, workers }: { readonly storage: Files; readonly workers: Workers },
  page: StoredPage,
  name: NameThings,
): Promise<Readable | null> {
  const html = await readForOutside(storage, page, name);
  if (html === null) return null;
  const text = await markdownIn(workers, html);
  return Readable.from(markdownParts(storage, page, text, html));
}

async function* markdownParts(
  storage: Files,
  { schoolId, title }: StoredPage,
  text: string,
  html: string,
): AsyncGenerator<string> {
  yield `# ${title}\n\n${text}`;
  const pictures = html.matchAll(/<img src="pictures\/([0-9a-f]{64})"/gu);
  for (const hash of new Set([...pictures].map(([, found]) => found!)))
    yield `\n[${hash}]: ${await dataAddress(storage, { schoolId, hash })}\n`;
}

async function dataAddress(
  storage: Files,
  key: { readonly schoolId: string; readonly hash: string },
): Promise<string> {
  const content = await storage.open(key);
  if (!content) return 'data:,';
  const bytes = await readWhole(content);
  const type = (await fileTypeFromBuffer(bytes))?.mime ?? 'application/octet-stream';
  return `data:${type};base64,${bytes.toString('base64')}`;
}

/** Longer pages, in bytes, are not in feeds: a feed is read whole, again and again. */
const IN_FEED = 100_000;

/**
 * What a page says, for a feed: without pictures, which readers of feeds could not fetch, and without what it refers to. Null for one
 * that is too long.
 */
export async function feedContent(
  storage: Files,
  page: Omit<StoredPage, 'title'> & { readonly size: number },
): Promise<string | null> {
  if (page.size > IN_FEED) return null;
  const html = await readPage(storage, page);
  return html && replaceReferences(html, () => '').replaceAll(/<img [^>]*>/gu, '');
}
