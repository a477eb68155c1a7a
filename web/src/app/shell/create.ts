import { PiniaColada } from '@pinia/colada';
import { createPinia } from 'pinia';
import { createSSRApp } from 'vue';
import type { RouteRecordRaw, RouterHistory } from 'vue-router';
import App from './App.vue';
import { page } from '../page.ts';
import { createPages } from './router.ts';

/** The whole application, not yet on a page; `own`: as `createPages` has it. */
export function createSammlung(history: RouterHistory, own?: readonly RouteRecordRaw[]) {
  const router = createPages(history, own);
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
