import { createI18n } from 'vue-i18n';
import en from '../locales/en.json';

/** All texts on screen. English now; another language is three more files of the same keys. */
export const i18n = createI18n({ legacy: false, locale: 'en', messages: { en } });

/**
 * Texts that not everybody needs: those of the wall, which most never see; and those that a visitor at a door never
 * needs, for people with an account, for what is one's own, and for teaching.
 */
const MORE = {
  wall: () => import('../locales/en.wall.json'),
  people: () => import('../locales/en.people.json'),
  desk: () => import('../locales/en.desk.json'),
  teaching: () => import('../locales/en.teaching.json'),
};
const loaded = new Map<keyof typeof MORE, Promise<void>>();

/** Loads more texts, once; a load that fails can be tried again. */
export function loadTexts(name: keyof typeof MORE): Promise<void> {
  const known = loaded.get(name);
  if (known) return known;
  const loading = MORE[name]().then(
    (texts) => i18n.global.mergeLocaleMessage('en', texts.default),
    (error: unknown) => {
      loaded.delete(name);
      throw error;
    },
  );
  loaded.set(name, loading);
  return loading;
}
