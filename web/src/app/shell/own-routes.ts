import type { RouteRecordRaw } from 'vue-router';
import { loadTexts } from '../i18n.ts';
import { useSession } from '../session/session.ts';
import { ID, itemViewer, nothingHere } from './route-views.ts';

async function classPage() {
  await Promise.all([loadTexts('viewer'), loadTexts('class-page')]);
  return import('../../features/class-page/ClassPageView.vue');
}

/** The addresses of people with an account. One folder or item has one address, whoever opens it. */
export const OWN_ROUTES: readonly RouteRecordRaw[] = [
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
          const [page] = await Promise.all([
            useSession().person?.kind === 'student'
              ? import('./BoxPage.vue')
              : import('./BoxThroughPage.vue'),
            loadTexts('viewer'),
            loadTexts('desk'),
          ]);
          return page;
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
        path: 'log',
        name: 'log',
        component: () => import('../../features/log/LogView.vue'),
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
        path: 'school',
        name: 'school',
        component: async () => {
          await loadTexts('office');
          return import('../../features/school/SchoolView.vue');
        },
      },
      {
        path: 'years',
        name: 'years',
        component: async () => {
          await loadTexts('office');
          return import('../../features/years/YearsView.vue');
        },
      },
      {
        path: 'account',
        name: 'account',
        component: async () => {
          await loadTexts('account');
          return import('../../features/account/AccountView.vue');
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
        path: 'carry-over',
        name: 'carry-over',
        component: () => import('../../features/carry-over/CarryOverView.vue'),
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
];
