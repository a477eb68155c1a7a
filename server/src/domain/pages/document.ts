import { Readable } from 'node:stream';
import { fileTypeFromBuffer } from 'file-type';
import type { Storage } from '../../platform/storage.ts';

/** A stored page, and what it is called. */
export interface StoredPage {
  readonly schoolId: string;
  /** Null for a page of which nothing has been shown yet. */
  readonly hash: string | null;
  readonly title: string;
}

/** The piece of HTML of which a page consists; null where its content is missing. */
export async function readPage(
  storage: Pick<Storage, 'open'>,
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

const ESCAPES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };
const escaped = (text: string) => text.replace(/[&<>"]/gu, (c) => ESCAPES[c]!);

/**
 * A page as one HTML document that needs nothing else: its pictures are in it. One picture after the other is read. Null where
 * its content is missing.
 */
export async function pageDocument(
  storage: Pick<Storage, 'open'>,
  page: StoredPage,
): Promise<Readable | null> {
  const html = await readPage(storage, page);
  return html === null ? null : Readable.from(documentParts(storage, page, html));
}

async function* documentParts(
  storage: Pick<Storage, 'open'>,
  { schoolId, title }: StoredPage,
  html: string,
): AsyncGenerator<string> {
  const name = escaped(title);
  yield `<!doctype html>\n<html>\n<head>\n<meta charset="utf-8">\n<meta name="viewport" content="width=device-width">
<title>${name}</title>\n<style>${STYLE}</style>\n</head>\n<body>\n<h1>${name}</h1>\n`;
  // What lies between two pictures, and the hash of the next one, in turn.
  for (const [n, part] of html.split(/(?<=<img src=")pictures\/([0-9a-f]{64})(?=")/u).entries())
    yield n % 2 === 0 ? part : await dataAddress(storage, { schoolId, hash: part });
  yield '\n</body>\n</html>\n';
}

async function dataAddress(
  storage: Pick<Storage, 'open'>,
  key: { readonly schoolId: string; readonly hash: string },
): Promise<string> {
  const content = await storage.open(key);
  if (!content) return 'data:,';
  const bytes = await readWhole(content);
  const type = (await fileTypeFromBuffer(bytes))?.mime ?? 'application/octet-stream';
  return `data:${type};base64,${bytes.toString('base64')}`;
}
