import { PiniaColada } from '@pinia/colada';
import { createPinia } from 'pinia';
import { createApp } from 'vue';
import App from './app/App.vue';
import { i18n } from './app/i18n.ts';
import { router } from './app/router.ts';
import './app/theme.css';

createApp(App)
  .use(createPinia())
  .use(PiniaColada, { queryOptions: { staleTime: 2000, gcTime: 300_000 } })
  .use(i18n)
  .use(router)
  .mount('#app');
