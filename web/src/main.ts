import { createWebHistory } from 'vue-router';
import { bringMade, isMade } from './app/brought.ts';
import { createSammlung } from './app/create.ts';
import './app/theme.css';

const made = isMade();
if (made) bringMade();
const { app, router } = createSammlung(createWebHistory());
// What stands there already is taken over when all of it is to be had; a page that cannot be says so itself.
if (made) await router.isReady().catch(() => undefined);
app.mount('#app');
