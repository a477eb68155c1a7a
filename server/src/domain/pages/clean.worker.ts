import { cleanPage, type CleanPage } from './clean.ts';

/** Cleans a page in a thread of its own. */
export const clean = ({ html }: { html: string }): CleanPage => cleanPage(html);
