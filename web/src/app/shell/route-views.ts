import { loadTexts } from '../i18n.ts';

/** An id in an address; anything else leads nowhere. */
export const ID = '[0-9a-f-]{36}';

export async function itemViewer() {
  await loadTexts('viewer');
  return import('../../features/reading/ItemViewer.vue');
}

export async function nothingHere() {
  await loadTexts('wall');
  return import('./NothingHere.vue');
}
