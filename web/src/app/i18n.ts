import type { Language } from '@sammlung/contract';
import { createI18n } from 'vue-i18n';
import { page } from './page.ts';

/** The languages of the screens, by their own names. */
export const LANGUAGES: Readonly<Record<Language, string>> = { en: 'English', de: 'Deutsch' };

/**
 * Texts come in groups: those of everybody; around what is read; of the wall, which most never see; and those that a
 * visitor at a door never needs, for people with an account, for pages of classes, for what is one's own, for writing pages, for teaching, for the office, and for one’s own account.
 */
type Group =
  | 'everybody'
  | 'viewer'
  | 'wall'
  | 'people'
  | 'class-page'
  | 'desk'
  | 'page'
  | 'teaching'
  | 'office'
  | 'account';

const FILES = import.meta.glob<{ default: Record<string, unknown> }>('../locales/*.json');
const fileOf = (language: Language, group: Group) =>
  `../locales/${language}${group === 'everybody' ? '' : `.${group}`}.json`;

/** The texts of one page: in one language at a time, as far as they are wanted on it. */
export interface Texts {
  readonly i18n: ReturnType<typeof i18nIn>;
  readonly wanted: Set<Group>;
  readonly loaded: Map<string, Promise<void>>;
}

const i18nIn = (language: Language) =>
  createI18n({ legacy: false, locale: language as string, messages: {} });

/** No texts yet, in a language. */
export const textsIn = (language: Language): Texts => ({
  i18n: i18nIn(language),
  wanted: new Set(),
  loaded: new Map(),
});

/** Says in which language the page is; where the server makes it, the server does. */
export function announceLanguage(): void {
  if (import.meta.env.SSR) return;
  const { documentElement: root } = document;
  // Said again it would be the same, and yet be laid out anew.
  if (root.lang !== language()) root.lang = language();
}

/** The language of the screens now. */
export const language = () => page().texts.i18n.global.locale.value as Language;

function load(language: Language, group: Group): Promise<void> {
  const { i18n, loaded } = page().texts;
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
  page().texts.wanted.add(group);
  return load(language(), group);
}

/** The files of the texts that are on the screen, by their paths within the web application's folder. */
export const textFiles = () =>
  [...page().texts.wanted].map((group) => fileOf(language(), group).replace('..', 'src'));

/** Goes over to another language, with all the texts that are on the screen. */
export async function switchLanguage(chosen: Language): Promise<void> {
  if (chosen === language()) return;
  const { i18n, wanted } = page().texts;
  await Promise.all([...wanted].map((group) => load(chosen, group)));
  i18n.global.locale.value = chosen;
  announceLanguage();
}

/** Remembers in this browser which language was chosen, for pages without an account. */
export function rememberLanguage(language: Language): void {
  document.cookie = `language=${language}; Path=/; Max-Age=31536000; SameSite=Lax`;
}

/**
 * The language that a page which the server has made is in already; else the one chosen in this browser, else the first
 * of the browser's that there is.
 */
export function firstLanguage(rendered: boolean): Language {
  const made = rendered ? document.documentElement.lang : '';
  const chosen = /(?:^|; )language=(\w+)/u.exec(document.cookie)?.[1] ?? '';
  const asked = [made, chosen, ...navigator.languages].map((tag) => tag.slice(0, 2));
  return asked.find((tag): tag is Language => tag in LANGUAGES) ?? 'en';
}
