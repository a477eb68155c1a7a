import { PiniaColada } from '@pinia/colada';
import { createPinia } from 'pinia';
import { createSSRApp } from 'vue';
import type { RouterHistory } from 'vue-router';
import App from './App.vue';
import { page } from '../page.ts';
import { createPages } from './router.ts';

/** The whole application, not yet on a page. */
export function createSammlung(history: RouterHistory) {
  const router = createPages(history);
  const app = createSSRApp(App)
    .use(createPinia())
    .use(PiniaColada, {
      // Where the server makes a page nothing outlives it.
      queryOptions: { staleTime: 2000, gcTime: import.meta.env.SSR ? false : 300_000 },
    })
    .use(page().texts.i18n)
    .use(router);
  return { app, router };
}
