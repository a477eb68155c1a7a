import { AsyncLocalStorage } from 'node:async_hooks';
import type { DoorState, PageRenderer, Session } from '@sammlung/contract';
import { escapeHtml } from '@vue/shared';
import { createMemoryHistory, type RouteLocation } from 'vue-router';
import { renderToString } from 'vue/server-renderer';
import { address, addressAt, baseOf } from './app/api/addresses.ts';
import { createSammlung } from './app/shell/create.ts';
import { textFiles, textsIn } from './app/i18n.ts';
import { initialsOf } from './app/session/initials.ts';
import { findPage, pageWith, type Page } from './app/page.ts';
import { OWN_ROUTES } from './app/shell/own-routes.ts';
import { createPages } from './app/shell/router.ts';
import { STEP } from './features/receive/came.ts';

const pages = createPages(createMemoryHistory(), OWN_ROUTES);

const SESSION = address('GET /api/session');
const KEPT = address('GET /api/kept');

/** Pages are made side by side; each knows only what is its own. */
const making = new AsyncLocalStorage<Page>();
findPage(() => {
  const page = making.getStore();
  if (!page) throw new Error('No page is being made');
  return page;
});
let count = 0;
/** With so many others a page is sooner there by itself. */
const MOST = 20;
/** A page that takes longer is given up. Milliseconds. */
const LIMIT = 5000;

export const asks: PageRenderer['asks'] = (path, replies) => {
  const to = pages.resolve(path);
  return to.meta.visitors ? doorAsks(to, replies) : ownAsks(to, replies);
};

/** The places of a student, the pages of their classes, and folders that were handed out; of a teacher, a hand-in box that is gone through. */
function ownAsks({ name, params }: RouteLocation, replies: Replies): string[] | null {
  const classes = address('GET /api/classes');
  const came = [address('GET /api/new', { query: { limit: STEP } }), classes];
  const asStudent: Record<string, readonly string[]> = {
    home: came,
    new: came,
    classes: [classes, address('GET /api/feeds')],
    folder: [...folderAsks('/api', params.folder), KEPT],
    'class-page': [
      address('GET /api/class-pages/:class', { params: { class: String(params.class) } }),
      KEPT,
    ],
  };
  const asTeacher: Record<string, readonly string[]> = {
    box: [address('GET /api/boxes/:box', { params: { box: String(params.box) } })],
  };
  const session = replies[SESSION] as Session | undefined;
  if (!session) return String(name) in { ...asStudent, ...asTeacher } ? [SESSION] : null;
  const kind = session.person?.kind;
  const wanted = kind === 'student' ? asStudent : kind === 'teacher' ? asTeacher : {};
  const asks = wanted[String(name)];
  return asks ? [SESSION, ...asks] : null;
}

/** Folders behind a door that is open, and the websites of classes. */
function doorAsks({ name, params }: RouteLocation, replies: Replies): string[] | null {
  if (!/^(door|embed)(-folder)?$/u.test(String(name))) return null;
  const base = baseOf('/api/open/:token', { token: String(params.token) });
  const behind = replies[base] as DoorState | undefined;
  if (!behind) return [base];
  if (behind.state !== 'open') return null;
  if (behind.website && !params.folder)
    return [
      base,
      address('GET /api/open/:token/website', { params: { token: String(params.token) } }),
    ];
  const folder = params.folder ?? behind.folderId;
  if (!folder) return null;
  return [base, ...folderAsks(base, folder), ...(behind.takes ? [KEPT] : [])];
}

function folderAsks(base: string, id: unknown) {
  const params = { folder: String(id) };
  return [
    addressAt(base, 'GET /folders/:folder', { params }),
    addressAt(base, 'GET /folders/:folder/contents', { params }),
  ];
}

export const make: PageRenderer['make'] = async (page) => {
  if (count >= MOST) return null;
  count += 1;
  const { language, replies } = page;
  try {
    return await making.run(pageWith(replies, textsIn(language)), () =>
      within(LIMIT, draw(page.path)),
    );
  } finally {
    count -= 1;
  }
};

/** Stands for a name on a page until there is one: signs of no language, which nobody writes. */
const NOBODY = '\uE001 \uE002';

export const withoutName: PageRenderer['withoutName'] = ({ person }) => ({
  person: person && { ...person, id: '', name: NOBODY },
});

export const withName: PageRenderer['withName'] = (html, { person }) => {
  if (!person) return html;
  return html
    .replaceAll(NOBODY, () => escapeHtml(person.name))
    .replaceAll(initialsOf(NOBODY), () => escapeHtml(initialsOf(person.name)));
};

async function within<T>(limit: number, work: Promise<T>): Promise<T> {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const late = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new Error('The page took too long to make')), limit);
  });
  try {
    return await Promise.race([work, late]);
  } finally {
    clearTimeout(timer);
  }
}

async function draw(path: string) {
  const { app, router } = createSammlung(createMemoryHistory(), OWN_ROUTES);
  await router.push(path);
  const context: { modules?: Set<string> } = {};
  const html = await renderToString(app, context);
  const routes = router.currentRoute.value.meta.visitors ? [] : ['src/app/shell/own-routes.ts'];
  return { html, modules: [...context.modules!, ...routes, ...textFiles()] };
}

type Replies = Parameters<PageRenderer['make']>[0]['replies'];
