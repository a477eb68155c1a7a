import { textsIn } from '../src/app/i18n.ts';
import { findPage, pageWith } from '../src/app/page.ts';

/** Begins another page, which has these replies of the API with it. */
export function beginPage(replies: Record<string, unknown> = {}): void {
  const page = pageWith(replies, textsIn('en'));
  findPage(() => page);
}

beginPage();
