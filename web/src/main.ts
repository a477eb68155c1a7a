import { createWebHistory } from 'vue-router';
import { takeOverPage, isRendered } from './app/initial-state.ts';
import { createSammlung } from './app/create.ts';
import './app/theme.css';

const made = isRendered();
if (made) takeOverPage();
const { app, router } = createSammlung(createWebHistory());
// What stands there already is taken over when all of it is to be had; a page that cannot be says so itself.
if (made) await router.isReady().catch(() => undefined);
app.mount('#app');
