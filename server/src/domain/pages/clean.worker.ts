import { pageMarkdown } from './markdown.ts';
import { cleanPage, type CleanPage } from './clean.ts';

/** The same for writing it as Markdown. */
export const markdown = ({ html }: { html: string }): string => pageMarkdown(html);

/** Cleans a page in a thread of its own. */
export const clean = ({ html }: { html: string }): CleanPage => cleanPage(html);
