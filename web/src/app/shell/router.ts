import {
  createRouter,
  START_LOCATION,
  type RouteLocationNormalized,
  type Router,
  type RouterHistory,
  type RouteRecordRaw,
} from 'vue-router';
import { connected } from '../api/api.ts';
import { dropInitial } from '../api/initial-state.ts';
import { loadTexts } from '../i18n.ts';
import { useSession } from '../session/session.ts';
import { ID, itemViewer, nothingHere } from './route-views.ts';

declare module 'vue-router' {
  interface RouteMeta {
    /** Open to people without a session. */
    open?: boolean;
    /** Open, and with no more texts than a visitor needs. */
    visitors?: boolean;
  }
}

/** What no address leads to. */
const NOWHERE = 'nowhere';

/** Where each kind of person begins. */
const HOME = { student: 'new', teacher: 'library', office: 'classes' };

/** Places of students alone. */
const STUDYING = /^(new|kept|desk.*)$/u;

/** Places that students have no part in. */
const TEACHING =
  /^(today|pictures|library|read|board|class-pages|class|class-list|staff-room|doors|space|bin|lay-out|carry-over|log|reach-.*|see-as.*)$/u;

/** What is at a door to the website of a class. */
async function website() {
  await Promise.all([loadTexts('viewer'), loadTexts('class-page')]);
  return import('../../features/class-page/ClassWebsite.vue');
}

/** The addresses that people without a session come to; the others (`own-routes.ts`) are not theirs to load. */
const ROUTES: RouteRecordRaw[] = [
  {
    path: '/sign-in',
    name: 'sign-in',
    meta: { open: true },
    component: () => import('../../features/session/SignIn.vue'),
  },
  {
    path: '/password/:token',
    meta: { open: true },
    component: () => import('../../features/session/SetPassword.vue'),
  },
  {
    path: '/confirm/:token',
    meta: { open: true },
    component: async () => {
      await loadTexts('account');
      return import('../../features/account/ConfirmEmail.vue');
    },
  },
  {
    path: '/begin/:token',
    meta: { open: true },
    component: async () => {
      await loadTexts('office');
      return import('../../features/begin/BeginView.vue');
    },
  },
  {
    path: '/post-room',
    meta: { open: true },
    component: async () => {
      await loadTexts('teaching');
      return import('../../features/post/PostRoom.vue');
    },
  },
  {
    path: '/open/:token',
    meta: { open: true, visitors: true },
    component: () => import('../../features/door/OpenDoor.vue'),
    props: { website },
    children: [
      {
        path: '',
        name: 'door',
        component: () => import('../../features/reading/FolderReading.vue'),
      },
      {
        path: `folder/:folder(${ID})`,
        name: 'door-folder',
        component: () => import('../../features/reading/FolderReading.vue'),
      },
      {
        path: `item/:placement(${ID})`,
        name: 'door-item',
        component: itemViewer,
      },
    ],
  },
  {
    path: '/embed/:token',
    meta: { open: true, visitors: true },
    component: () => import('../../features/door/OpenDoor.vue'),
    props: { website },
    children: [
      {
        path: '',
        name: 'embed',
        component: () => import('../../features/reading/FolderReading.vue'),
      },
      {
        path: `folder/:folder(${ID})`,
        name: 'embed-folder',
        component: () => import('../../features/reading/FolderReading.vue'),
      },
      {
        path: `item/:placement(${ID})`,
        name: 'embed-item',
        component: itemViewer,
      },
    ],
  },
  {
    path: '/at/:typed?',
    name: 'short-address',
    meta: { open: true, visitors: true },
    component: async () => {
      await loadTexts('wall');
      return import('../../features/door/ShortAddress.vue');
    },
  },
  { path: '/:rest(.*)*', name: NOWHERE, meta: { open: true }, component: nothingHere },
];

/** Lets everybody to the places that are theirs, with the texts they need there. */
async function guard(to: RouteLocationNormalized) {
  const session = useSession();
  const asks = !to.meta.visitors && (!to.meta.open || to.name === 'sign-in');
  // Loaded while it is still being found out who comes; what cannot be had is told of when it is asked for in earnest.
  if (!to.meta.open) void Promise.allSettled([import('./AppShell.vue')]);
  await Promise.all([
    loadTexts('everybody'),
    !to.meta.visitors && loadTexts('people'),
    asks && session.load(),
  ]);
  if (!asks) return true;
  const student = session.person?.kind === 'student';
  if (!session.person && !to.meta.open)
    return { name: 'sign-in', query: to.fullPath === '/' ? {} : { to: to.fullPath } };
  if (session.person && !student) await Promise.all([loadTexts('desk'), loadTexts('teaching')]);
  // What another program has shared waits for a student there.
  if (student && to.name === 'today' && to.query['shared'])
    return { name: 'handed-in', query: to.query };
  const elsewhere = student ? TEACHING : STUDYING;
  if (session.person && elsewhere.test(String(to.name))) return '/';
  if (['people', 'years', 'school'].includes(String(to.name)) && session.person?.kind !== 'office')
    return '/';
  if (to.name === 'pictures' && session.person?.kind !== 'teacher') return '/';
  if (['programs', 'box'].includes(String(to.name)) && session.person?.kind === 'office')
    return '/';
  if (session.person && to.name === 'sign-in') return '/';
  // Without a connection there is nothing for a student but what is kept.
  if (to.name === 'home' && student && !connected.value) return { name: 'kept' };
  if (to.name === 'home') return { name: HOME[session.person?.kind ?? 'student'] };
  return true;
}

/**
 * The pages of the application, at the addresses of a browser or, where the server makes them, of its memory. The addresses of people with
 * an account are added when somebody goes to one, unless they are there from the start (`own`).
 */
export function createPages(history: RouterHistory, own?: readonly RouteRecordRaw[]): Router {
  const router = createRouter({
    history,
    // A page that has just been loaded is at its top already; to ask for it would lay it out once more.
    scrollBehavior: (_to, from, saved) => saved ?? (from !== START_LOCATION && { top: 0 }),
    routes: [...(own ?? []), ...ROUTES],
  });
  let all = own !== undefined;
  router.beforeEach(async (to) => {
    if (all || to.name !== NOWHERE) return guard(to);
    // Most lead there; what cannot be had is told of when it is asked for in earnest.
    void Promise.allSettled([import('./AppShell.vue')]);
    const { OWN_ROUTES } = await import('./own-routes.ts');
    for (const route of OWN_ROUTES) router.addRoute(route);
    all = true;
    return to.fullPath;
  });
  router.afterEach((_to, from) => {
    if (from !== START_LOCATION) dropInitial();
    // Pages that show something of a name take its name.
    if (!import.meta.env.SSR) document.title = 'Sammlung';
  });
  return router;
}
