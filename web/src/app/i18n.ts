import { createI18n } from 'vue-i18n';
import en from '../locales/en.json';

/** All texts on screen. English now; another language is two more files of the same keys. */
export const i18n = createI18n({ legacy: false, locale: 'en', messages: { en } });

let teaching: Promise<void> | null = null;
/** Loads the texts of the screens on which somebody builds and hands out: whoever only reads never needs them. */
export function loadTeachingTexts(): Promise<void> {
  return (teaching ??= import('../locales/en.teaching.json').then(
    (texts) => i18n.global.mergeLocaleMessage('en', texts.default),
    (error: unknown) => {
      teaching = null;
      throw error;
    },
  ));
}
