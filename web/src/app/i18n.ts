import { createI18n } from 'vue-i18n';
import en from '../locales/en.json';

/** All texts on screen. English now; another language is three more files of the same keys. */
export const i18n = createI18n({ legacy: false, locale: 'en', messages: { en } });

/** Texts that a visitor at a door never needs: for people with an account, and for those of them who teach. */
const MORE = {
  people: () => import('../locales/en.people.json'),
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
