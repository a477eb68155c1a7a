import { createWebHistory } from 'vue-router';
import { setClock } from './app/api/clock.ts';
import { createSammlung } from './app/shell/create.ts';
import { firstLanguage, announceLanguage, textsIn } from './app/i18n.ts';
import { initialState } from './app/api/initial-state.ts';
import { findPage, pageWith } from './app/page.ts';
import { showTheme } from './app/shell/theme.ts';
import './app/shell/theme.css';

const made = initialState();
const page = pageWith(made?.replies ?? {}, textsIn(firstLanguage(made !== null)));
findPage(() => page);
announceLanguage();
showTheme();
setClock(made?.at ?? null);
const { app, router } = createSammlung(createWebHistory());
// What stands there already is taken over when all of it is to be had; a page that cannot be says so itself.
if (made) await router.isReady().catch(() => undefined);
app.mount('#app');
