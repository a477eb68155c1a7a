import { loadTexts } from './i18n.ts';

/** The actions of those who keep things and take copies, with their words: visitors load neither. */
export async function loadTakeActions() {
  await loadTexts('people');
  return import('./TakeActions.vue');
}
