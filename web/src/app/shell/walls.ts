import { defineAsyncComponent } from 'vue';
import { loadTexts } from '../i18n.ts';

/** The wall at a school address, with its words. */
export const SchoolWall = defineAsyncComponent(async () => {
  await loadTexts('wall');
  return import('./SchoolWall.vue');
});
