import type { Language } from '@sammlung/contract';
import { createI18n } from 'vue-i18n';
import { isRendered } from './initial-state.ts';

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
tellLanguage();

/** Says in which language the page is; where the server makes it, the server does. */
function tellLanguage(): void {
  if (import.meta.env.SSR) return;
  const { documentElement: page } = document;
  // Said again it would be the same, and yet be laid out anew.
  if (page.lang !== i18n.global.locale.value) page.lang = i18n.global.locale.value;
}

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

/** Begins a page that the server makes, in a language, with no texts on it yet. */
export async function beginPage(language: Language): Promise<void> {
  wanted.clear();
  await speak(language);
}

/** The files of the texts that are on the screen, by their paths within the web application's folder. */
export const textFiles = () =>
  [...wanted].map((group) => fileOf(language(), group).replace('..', 'src'));

/** Goes over to another language, with all the texts that are on the screen. */
export async function speak(chosen: Language): Promise<void> {
  if (chosen === language()) return;
  await Promise.all([...wanted].map((group) => load(chosen, group)));
  i18n.global.locale.value = chosen;
  tellLanguage();
}

/** Remembers in this browser which language was chosen, for pages without an account. */
export function rememberLanguage(language: Language): void {
  document.cookie = `language=${language}; Path=/; Max-Age=31536000; SameSite=Lax`;
}

/**
 * The language that a page which the server has made is in already; else the one chosen in this browser, else the first
 * of the browser's that there is.
 */
function firstLanguage(): Language {
  if (import.meta.env.SSR) return 'en';
  const made = isRendered() ? document.documentElement.lang : '';
  const chosen = /(?:^|; )language=(\w+)/u.exec(document.cookie)?.[1] ?? '';
  const asked = [made, chosen, ...navigator.languages].map((tag) => tag.slice(0, 2));
  return asked.find((tag): tag is Language => tag in LANGUAGES) ?? 'en';
}
