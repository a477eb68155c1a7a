import { extname } from 'node:path';
import type { Workers } from '../../platform/workers.ts';
import { cleanPage, type CleanPage } from './clean.ts';

/** Beside this module in the sources, and beside all others where the server is built. */
const WORKER = new URL(`./clean.worker${extname(import.meta.url)}`, import.meta.url);
/** Up to so many characters are cleaned sooner than a thread is asked. */
const SHORT = 20_000;

/** A page as Markdown, written in a thread of its own. Throws `busy`, `too-slow`. */
export const markdownIn = (workers: Workers, html: string): Promise<string> =>
  workers.run<string>(WORKER, 'markdown', { html });

/** A page out of whatever was sent; a long one in a thread of its own. Throws `busy`, `too-slow`. */
export async function cleanIn(workers: Workers, html: string): Promise<CleanPage> {
  return html.length <= SHORT ? cleanPage(html) : workers.run<CleanPage>(WORKER, 'clean', { html });
}
