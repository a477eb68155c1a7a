import { watchEffect } from 'vue';

/** Names the page in the browser's tab, its history and its bookmarks. */
export function usePageTitle(title: () => string | undefined): void {
  if (import.meta.env.SSR) return;
  watchEffect(() => {
    document.title = title() || 'Sammlung';
  });
}
