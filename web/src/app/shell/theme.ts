/** Light or dark. It is kept in a cookie, so that a page the server sends is in it from the start (server: `web.ts`). */

export const THEMES = ['system', 'light', 'dark'] as const;
export type Theme = (typeof THEMES)[number];

/** What was chosen in this browser. */
export const chosenTheme = (): Theme =>
  THEMES.find((theme) => document.cookie.split('; ').includes(`theme=${theme}`)) ?? 'system';

export function chooseTheme(theme: Theme): void {
  document.cookie = `theme=${theme}; Path=/; Max-Age=31536000; SameSite=Lax`;
  showTheme();
}

/** Shows the page in what was chosen. */
export function showTheme(): void {
  const theme = chosenTheme();
  if (theme === 'system') delete document.documentElement.dataset.theme;
  else document.documentElement.dataset.theme = theme;
}
