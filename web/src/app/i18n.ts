import { createI18n } from 'vue-i18n';
import en from '../locales/en.json';

/** All texts on screen. English now; another language is one more file of the same keys. */
export const i18n = createI18n({ legacy: false, locale: 'en', messages: { en } });
