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

declare module 'vue-router' {
  interface RouteMeta {
    /** Open to people without a session. */
    open?: boolean;
    /** Open, and with no more texts than a visitor needs. */
    visitors?: boolean;
  }
}

/** An id in an address; anything else leads nowhere. */
const ID = '[0-9a-f-]{36}';

/** Where each kind of person begins. */
const HOME = { student: 'new', teacher: 'library', office: 'classes' };

/** Places of students alone. */
const STUDYING = /^(new|kept|desk.*)$/u;

/** Places that students have no part in. */
const TEACHING =
  /^(today|pictures|library|read|board|class-pages|class|class-list|staff-room|doors|space|bin|lay-out|reach-.*|see-as.*)$/u;

async function itemViewer() {
  await loadTexts('viewer');
  return import('../../features/reading/ItemViewer.vue');
}

async function nothingHere() {
  await loadTexts('wall');
  return import('./NothingHere.vue');
}

async function classPage() {
  await Promise.all([loadTexts('viewer'), loadTexts('class-page')]);
  return import('../../features/class-page/ClassPageView.vue');
}

/** What is at a door to the website of a class. */
async function website() {
  await Promise.all([loadTexts('viewer'), loadTexts('class-page')]);
  return import('../../features/class-page/ClassWebsite.vue');
}

/** The addresses of the application. One folder or item has one address, whoever opens it. */
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
  {
    path: '/see-as/:as',
    component: () => import('../session/SeeAs.vue'),
    children: [
      { path: '', name: 'see-as', component: () => import('../session/SeeAsStart.vue') },
      {
        path: 'classes',
        name: 'see-as-classes',
        component: () => import('../../features/receive/MyClasses.vue'),
      },
      {
        path: `class-page/:class(${ID})`,
        name: 'see-as-class-page',
        component: classPage,
      },
      {
        path: `folder/:folder(${ID})`,
        name: 'see-as-folder',
        component: () => import('../../features/reading/FolderReading.vue'),
      },
      {
        path: `item/:placement(${ID})`,
        name: 'see-as-item',
        component: itemViewer,
      },
    ],
  },
  {
    path: '/',
    component: () => import('./AppShell.vue'),
    children: [
      // The guard leads on from here, once it is known who comes.
      { path: '', name: 'home', component: nothingHere },
      { path: 'new', name: 'new', component: () => import('../../features/receive/NewThings.vue') },
      {
        path: 'classes',
        name: 'classes',
        component: () =>
          useSession().person?.kind === 'student'
            ? import('../../features/receive/MyClasses.vue')
            : import('../../features/roster/RosterView.vue'),
      },
      {
        path: 'class-pages',
        name: 'class-pages',
        component: () => import('../../features/class-page/ClassPagesStart.vue'),
      },
      {
        path: `class-page/:class(${ID})`,
        name: 'class-page',
        component: () =>
          useSession().person?.kind === 'student'
            ? classPage()
            : loadTexts('class-page').then(
                () => import('../../features/class-page/ClassPageEdit.vue'),
              ),
      },
      {
        path: `box/:box(${ID})/:place(${ID})?`,
        name: 'box',
        component: async () => {
          await Promise.all([loadTexts('viewer'), loadTexts('desk')]);
          return import('./BoxPage.vue');
        },
      },
      {
        path: 'handed-in',
        name: 'handed-in',
        component: () =>
          useSession().person?.kind === 'student'
            ? import('../../features/box/HandedIn.vue')
            : import('../../features/box/ClosedBoxes.vue'),
      },
      {
        path: 'kept',
        name: 'kept',
        component: () => import('../../features/keep/KeptView.vue'),
      },
      ...['desk', `desk/:folder(${ID})`].map((path) => ({
        path,
        name: path === 'desk' ? 'desk' : 'desk-folder',
        component: async () => {
          await loadTexts('desk');
          return import('./DeskPage.vue');
        },
      })),
      {
        path: `classes/:class(${ID})`,
        name: 'class',
        component: () => import('../../features/roster/ClassView.vue'),
      },
      {
        path: `classes/:class(${ID})/list`,
        name: 'class-list',
        component: () => import('../../features/roster/ImportListView.vue'),
      },
      {
        path: 'people',
        name: 'people',
        component: async () => {
          await loadTexts('office');
          return import('../../features/people/PeopleView.vue');
        },
      },
      {
        path: 'school-days',
        name: 'school-days',
        component: () => import('../../features/timetable/SchoolDaysView.vue'),
      },
      {
        path: 'library',
        name: 'library',
        component: () => import('./LibraryPage.vue'),
      },
      {
        path: 'programs',
        name: 'programs',
        component: async () => {
          await loadTexts('desk');
          return import('../../features/programs/ProgramsView.vue');
        },
      },
      {
        path: 'pictures',
        name: 'pictures',
        component: () => import('./PicturesPage.vue'),
      },
      {
        path: 'today',
        name: 'today',
        component: () => import('./TodayPage.vue'),
      },
      {
        path: 'staff-room',
        name: 'staff-room',
        component: () => import('../../features/receive/StaffRoom.vue'),
      },
      {
        path: 'doors',
        name: 'doors',
        component: () => import('../../features/door/DoorsView.vue'),
      },
      {
        path: 'who-sees-what',
        name: 'board',
        component: () => import('./BoardPage.vue'),
      },
      {
        path: `reach/folder/:folder(${ID})`,
        name: 'reach-folder',
        component: () => import('../../features/reach/ReachOfMany.vue'),
      },
      {
        path: `reach/class/:class(${ID})`,
        name: 'reach-class',
        component: () => import('../../features/reach/ReachOfMany.vue'),
      },
      {
        path: `reach/item/:placement(${ID})`,
        name: 'reach-item',
        component: () => import('../../features/reach/ReachOfItem.vue'),
      },
      {
        path: 'recorded',
        name: 'recorded',
        component: () => import('../../features/reach/RecordedView.vue'),
      },
      {
        path: 'space',
        name: 'space',
        component: () => import('../../features/space/SpaceView.vue'),
      },
      { path: 'bin', name: 'bin', component: () => import('../../features/bin/BinView.vue') },
      {
        path: 'lay-out',
        name: 'lay-out',
        component: () => import('../../features/layout/LayOut.vue'),
      },
      {
        path: `folder/:folder(${ID})`,
        name: 'folder',
        component: () =>
          useSession().person?.kind === 'student'
            ? import('../../features/reading/FolderReading.vue')
            : import('./LibraryPage.vue'),
      },
      {
        path: `read/:folder(${ID})`,
        name: 'read',
        component: () => import('../../features/reading/FolderReading.vue'),
      },
      {
        path: `item/:placement(${ID})`,
        name: 'item',
        component: itemViewer,
      },
      {
        path: `write/:placement(${ID})`,
        name: 'page',
        component: async () => {
          await loadTexts('page');
          return import('../../features/page/PageWriting.vue');
        },
      },
      {
        path: `write/:placement(${ID})/versions`,
        name: 'page-versions',
        component: async () => {
          await loadTexts('page');
          return import('../../features/page/PageVersions.vue');
        },
      },
    ],
  },
  { path: '/:rest(.*)*', meta: { open: true }, component: nothingHere },
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
  if (session.person && elsewhere.test(String(to.name))) return { name: 'home' };
  if (to.name === 'people' && session.person?.kind !== 'office') return { name: 'home' };
  if (to.name === 'pictures' && session.person?.kind !== 'teacher') return { name: 'home' };
  if (['programs', 'box'].includes(String(to.name)) && session.person?.kind === 'office')
    return { name: 'home' };
  if (session.person && to.name === 'sign-in') return { name: 'home' };
  // Without a connection there is nothing for a student but what is kept.
  if (to.name === 'home' && student && !connected.value) return { name: 'kept' };
  if (to.name === 'home') return { name: HOME[session.person?.kind ?? 'student'] };
  return true;
}

/** The pages of the application, at the addresses of a browser or, where the server makes them, of its memory. */
export function createPages(history: RouterHistory): Router {
  const router = createRouter({
    history,
    // A page that has just been loaded is at its top already; to ask for it would lay it out once more.
    scrollBehavior: (_to, from, saved) => saved ?? (from !== START_LOCATION && { top: 0 }),
    routes: ROUTES,
  });
  router.beforeEach(guard);
  router.afterEach((_to, from) => {
    if (from !== START_LOCATION) dropInitial();
    // Pages that show something of a name take its name.
    if (!import.meta.env.SSR) document.title = 'Sammlung';
  });
  return router;
}
