import type { Behind, PageRenderer, Session } from '@sammlung/contract';
import { createMemoryHistory, type RouteLocation } from 'vue-router';
import { renderToString } from 'vue/server-renderer';
import { address, addressAt, baseOf } from './app/addresses.ts';
import { setInitial } from './app/initial-state.ts';
import { createSammlung } from './app/create.ts';
import { beginPage, textFiles } from './app/i18n.ts';
import { createPages } from './app/router.ts';

const pages = createPages(createMemoryHistory());

const SESSION = address('GET /api/session');
const KEPT = address('GET /api/kept');

/** Pages are made one after the other: what the application knows of a page is of one at a time. */
let turn: Promise<unknown> = Promise.resolve();
let waiting = 0;
/** With so many before it a page is sooner there by itself. */
const MOST = 20;
/** A page that takes longer is given up, so that it holds up no others. Milliseconds. */
const LIMIT = 5000;

export const asks: PageRenderer['asks'] = (path, replies) => {
  const to = pages.resolve(path);
  return to.meta.visitors ? doorAsks(to, replies) : ownAsks(to, replies);
};

/** The places of a student, and folders that were handed out. */
function ownAsks({ name, params }: RouteLocation, replies: Replies): string[] | null {
  const classes = address('GET /api/classes');
  const came = [address('GET /api/new', { query: { limit: 100 } }), classes];
  const wants: Record<string, readonly string[]> = {
    home: came,
    new: came,
    classes: [classes, address('GET /api/feeds')],
    folder: [...folderAsks('/api', params.folder), KEPT],
  };
  const wanted = wants[String(name)];
  const session = replies[SESSION] as Session | undefined;
  if (!wanted || (session && session.person?.kind !== 'student')) return null;
  return [SESSION, ...(session ? wanted : [])];
}

/** Folders behind a door that is open. */
function doorAsks({ name, params }: RouteLocation, replies: Replies): string[] | null {
  if (!/^(door|embed)(-folder)?$/u.test(String(name))) return null;
  const base = baseOf('/api/open/:token', { token: String(params.token) });
  const behind = replies[base] as Behind | undefined;
  if (!behind) return [base];
  const folder = params.folder ?? (behind.state === 'open' && behind.folderId);
  if (behind.state !== 'open' || !folder) return null;
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
  if (waiting >= MOST) return null;
  waiting += 1;
  const made = turn.then(() => within(LIMIT, draw(page)));
  turn = made.catch(() => undefined).finally(() => (waiting -= 1));
  return made;
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

async function draw({ path, language, replies }: Page) {
  setInitial(replies);
  await beginPage(language);
  const { app, router } = createSammlung(createMemoryHistory());
  await router.push(path);
  const context: { modules?: Set<string> } = {};
  const html = await renderToString(app, context);
  return { html, modules: [...context.modules!, ...textFiles()] };
}

type Page = Parameters<PageRenderer['make']>[0];
type Replies = Page['replies'];
