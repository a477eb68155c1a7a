import type { Language } from '@sammlung/contract';
import { createI18n } from 'vue-i18n';

/** The languages of the screens, by their own names. */
export const LANGUAGES: Readonly<Record<Language, string>> = { en: 'English', de: 'Deutsch' };

/**
 * Texts come in groups: those of everybody; around what is read; of the wall, which most never see; and those that a
 * visitor at a door never needs, for people with an account, for what is one's own, and for teaching.
 */
type Group = 'everybody' | 'viewer' | 'wall' | 'people' | 'desk' | 'teaching';

const FILES = import.meta.glob<{ default: Record<string, unknown> }>('../locales/*.json');
const fileOf = (language: Language, group: Group) =>
  `../locales/${language}${group === 'everybody' ? '' : `.${group}`}.json`;

/** All texts on screen, in one language at a time. */
export const i18n = createI18n({ legacy: false, locale: firstLanguage() as string, messages: {} });
document.documentElement.lang = i18n.global.locale.value;

/** The language of the screens now. */
export const language = () => i18n.global.locale.value as Language;

const wanted = new Set<Group>();
const loaded = new Map<string, Promise<void>>();

function load(language: Language, group: Group): Promise<void> {
  const file = fileOf(language, group);
  const known = loaded.get(file);
  if (known) return known;
  const loading = FILES[file]!().then(
    (texts) => i18n.global.mergeLocaleMessage(language, texts.default),
    (error: unknown) => {
      loaded.delete(file);
      throw error;
    },
  );
  loaded.set(file, loading);
  return loading;
}

/** Loads a group of texts, once; a load that fails can be tried again. */
export function loadTexts(group: Group): Promise<void> {
  wanted.add(group);
  return load(language(), group);
}

/** Goes over to another language, with all the texts that are on the screen. */
export async function speak(chosen: Language): Promise<void> {
  if (chosen === language()) return;
  await Promise.all([...wanted].map((group) => load(chosen, group)));
  i18n.global.locale.value = chosen;
  document.documentElement.lang = chosen;
}

const CHOSEN = 'language';

/** Remembers in this browser which language was chosen, for pages without an account. */
export function rememberLanguage(language: Language): void {
  try {
    localStorage.setItem(CHOSEN, language);
  } catch (error) {
    // A browser that keeps nothing asks its own settings again next time.
    if (!(error instanceof DOMException)) throw error;
  }
}

/** The language chosen in this browser, else the first of the browser's that there is. */
function firstLanguage(): Language {
  let chosen: string | null = null;
  try {
    chosen = localStorage.getItem(CHOSEN);
  } catch (error) {
    if (!(error instanceof DOMException)) throw error;
  }
  const asked = [chosen ?? '', ...navigator.languages].map((tag) => tag.slice(0, 2));
  return asked.find((tag): tag is Language => tag in LANGUAGES) ?? 'en';
}
