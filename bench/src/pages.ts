import { statSync } from 'node:fs';
import type { Courses, Door, MyClasses, NewThings } from '@sammlung/contract';
import type { Browser, BrowserContext, Page } from '@playwright/test';
import { and, eq, isNotNull, sql } from 'drizzle-orm';
import { launchBrowser } from './browser.ts';
import type { ScratchPostgres, ServerProcess } from '../../scripts/lib/scratch-server.mjs';
import { openDatabase, rows } from '../../server/src/db/database.ts';
import { doors } from '../../server/src/db/schema/index.ts';
import { held } from './measure.ts';
import { atMost, median, ratioAtLeast, report, type Bar } from './report.ts';
import { perRequest, startBare } from './requests.ts';
import { sampleCookie, TEACHER } from './sample.ts';

/**
 * server_memory: what the server holds once it has filled in the sample school. student_js and visitor_js: what the first
 * page of each loads of JavaScript, packed with gzip. Then a student's first page, a folder, a sheet in the viewer and a
 * public folder as they are first seen, and a hand-in box of 300 students as it is gone through; then the page of a class with 300 entries, and its website with the same. first_pages: New and
 * a folder made by the server, against a bare route that reads one row; class_pages: that page and that website, the same.
 */
export async function benchPages(postgres: ScratchPostgres, { address, web, pid }: ServerProcess) {
  report('server_memory', held(pid), 'MB', null, atMost(200));
  const { db, close } = openDatabase(postgres.url('postgres'));
  const [door] = await db
    .select({ token: doors.token })
    .from(doors)
    .where(and(eq(doors.kind, 'public'), isNotNull(doors.folderId)))
    .orderBy(doors.createdAt);
  await close();
  const browser = await launchBrowser();
  const student = await browser.newContext();
  const [name, ...value] = (await sampleCookie(address, STUDENT)).split('=');
  await student.addCookies([{ name: name!, value: value.join('='), url: address }]);
  const visitor = await browser.newContext();
  report(
    'student_js',
    await loaded(await student.newPage(), `${address}/`, web),
    'KB',
    null,
    atMost(130),
  );
  report(
    'visitor_js',
    await loaded(await visitor.newPage(), `${address}/open/${door!.token}`, web),
    'KB',
    null,
    atMost(90),
  );
  const get = async <T>(path: string) =>
    (await (await student.request.get(`${address}${path}`)).json()) as T;
  const { classes } = await get<MyClasses>('/api/classes');
  const { things } = await get<NewThings>('/api/new');
  const folders = classes.flatMap((one) => one.folders).flatMap((one) => [one, ...one.folders]);
  const sheet = things.find(({ extension }) => extension === 'pdf');
  const list = '#app main [data-row]';
  const views = [
    { name: 'first', path: '/', contents: list, context: student },
    { name: 'folder', path: `/folder/${folders.at(-1)!.id}`, contents: list, context: student },
    {
      name: 'viewer',
      path: `/item/${sheet!.placementId}`,
      contents: '#app canvas',
      context: student,
    },
    { name: 'visitor', path: `/open/${door!.token}`, contents: list, context: visitor },
  ];
  for (const view of views) await benchView(browser, address, view);
  const teacher = await browser.newContext();
  const [theirs, ...said] = (await sampleCookie(address, TEACHER)).split('=');
  await teacher.addCookies([{ name: theirs!, value: said.join('='), url: address }]);
  await benchView(browser, address, {
    name: 'going_through',
    path: await fillBox(postgres, address),
    contents: `#app nav a:nth-child(${IN_BOX})`,
    context: teacher,
  });
  const { page, website } = await fillClassPage(address);
  const entries = '#app main article';
  for (const view of [
    { name: 'class_page', path: page, contents: entries, context: student },
    { name: 'class_website', path: website, contents: entries, context: visitor },
  ])
    await benchView(browser, address, view);
  await browser.close();
  const bare = await startBare(postgres.url('postgres'), folders.at(-1)!.id);
  const cookie = await sampleCookie(address, STUDENT);
  const ms = await perRequest({
    first: { url: `${address}/`, cookie },
    folder: { url: `${address}/folder/${folders.at(-1)!.id}`, cookie },
    classPage: { url: `${address}${page}`, cookie },
    website: { url: `${address}${website}` },
    row: { url: `${bare.address}/row` },
  });
  const pages = 2000 / (ms.first + ms.folder);
  report('first_pages', pages, 'a second', 1000 / ms.row, ratioAtLeast(0.05));
  const ofClasses = 2000 / (ms.classPage + ms.website);
  report('class_pages', ofClasses, 'a second', 1000 / ms.row, null);
  bare.stop();
}

/** How many students have a place in the box that is gone through. */
const IN_BOX = 300;

/** Makes a class with these students and a box for it; resolves to where it is gone through. */
async function fillBox(postgres: ScratchPostgres, address: string): Promise<string> {
  const { db, close } = openDatabase(postgres.url('postgres'));
  const [made] = await rows<{ id: string }>(
    db,
    sql`with made as (insert into classes (school_id, year_id, course_id, code, colour)
        select school_id, year_id, course_id, 'BENCH', 'leaf' from classes c where code = 'SO1A' and removed_at is null
          and exists (select from years y where y.id = c.year_id and y.closed_at is null) limit 1 returning *),
      people as (insert into people (school_id, kind, name, sign_in_name)
        select school_id, 'student', 'Given ' || n || ' Family' || n, 'bench' || n from made, generate_series(1, ${IN_BOX}::int) n returning id, school_id),
      joined as (insert into memberships (school_id, class_id, person_id) select people.school_id, made.id, people.id from people, made)
    select id from made`,
  );
  await db.execute(sql`analyze`);
  await close();
  const { ids } = await (
    await asTeacher(address)
  )<{ ids: [string] }>('POST', '/api/boxes', {
    ...{ title: 'Bench, log', classIds: [made!.id] },
  });
  return `/box/${ids[0]}`;
}

/** What sends a request as the teacher. */
async function asTeacher(address: string) {
  const cookie = await sampleCookie(address, TEACHER);
  return async <T>(method: string, path: string, body?: object) => {
    const reply = await fetch(`${address}${path}`, {
      method,
      headers: { cookie, origin: address, ...(body && { 'content-type': 'application/json' }) },
      ...(body && { body: JSON.stringify(body) }),
    });
    if (!reply.ok) throw new Error(`${method} ${path}: ${reply.status} ${await reply.text()}`);
    return (await reply.json()) as T;
  };
}

/** How many entries the page of a class gets, and of how many of them visitors may open the thing. */
const ENTRIES = 300;
const OPEN = 200;

/** Puts entries with a link each on the page of a class, and all of them on its website; resolves to where both are. */
async function fillClassPage(address: string) {
  const send = await asTeacher(address);
  const { courses } = await send<Courses>('GET', '/api/courses');
  const classId = courses.flatMap(({ classes }) => classes).find(({ code }) => code === 'SO1A')!.id;
  const at = `/api/class-pages/${classId}`;
  const { id: folder } = await send<{ id: string }>('POST', '/api/folders', {
    ...{ parentId: null, title: 'Bench, sheets' },
  });
  const { id: headingId } = await send<{ id: string }>('POST', `${at}/headings`, {
    title: 'Bench',
  });
  const texts: string[] = [];
  const open: { kind: string; id: string }[] = [];
  for (let n = 1; n <= ENTRIES; n += 1) {
    const { id } = await send<{ id: string }>('POST', '/api/links', {
      ...{ folderId: folder, url: 'https://bench.example/', title: `Sheet ${n}` },
    });
    const thing = { kind: 'placement', id };
    const { appearances } = await send<{ appearances: string[] }>('POST', '/api/entries', {
      ...{ title: `Lesson ${n}`, text: 'Read pages 1 and 2 before Thursday.', things: [thing] },
      on: [{ classId, headingId }],
    });
    texts.push(...appearances);
    if (n <= OPEN) open.push(thing);
  }
  const { door } = await send<{ door: Door }>('PUT', `${at}/website`, {
    ...{ headings: [headingId], loose: false, texts, tells: 'nothing', open },
  });
  return { page: `/class-page/${classId}`, website: new URL(door.address).pathname };
}

const STUDENT = 'mina.kovarik@fennmoor.example';

const ROUNDS = 7;

/** A page as it is first seen: what shows that its contents are there, and how its figures are named. */
interface View {
  readonly name: string;
  readonly path: string;
  readonly contents: string;
  readonly context: BrowserContext;
}

/**
 * With an empty cache and a processor slowed four times, from the beginning of the navigation: until a picture of the
 * screen has the contents (first_paint is that of a student's first page), and until the scripts are at work; then by
 * how much what was shown has moved by itself (cumulative layout shift), and what came over the line.
 */
async function benchView(
  browser: Browser,
  address: string,
  { name, path, contents, context }: View,
) {
  const figures: Record<'paint' | 'use' | 'shift' | 'loaded', number[]> = {
    paint: [],
    use: [],
    shift: [],
    loaded: [],
  };
  for (let round = 0; round <= ROUNDS; round += 1) {
    const fresh = await browser.newContext({ storageState: await context.storageState() });
    const page = await fresh.newPage();
    await page.addInitScript(watchFirst, contents);
    const session = await fresh.newCDPSession(page);
    await session.send('Emulation.setCPUThrottlingRate', { rate: 4 });
    await page.goto(`${address}${path}`);
    await page.locator('html[data-shown][data-used]').waitFor();
    // What comes late has come by then.
    await page.waitForTimeout(2000);
    const { shown, used, moved } = await page
      .locator('html')
      .evaluate((html) => ({ ...(html as HTMLElement).dataset }));
    const bytes = await page.evaluate(() =>
      ['navigation', 'resource']
        .flatMap((type) => performance.getEntriesByType(type) as PerformanceResourceTiming[])
        .reduce((sum, { transferSize }) => sum + transferSize, 0),
    );
    // The first round warms the server up.
    if (round > 0) {
      figures.paint.push(Number(shown) / 1000);
      figures.use.push(Number(used) / 1000);
      figures.shift.push(Number(moved ?? 0));
      figures.loaded.push(bytes / 1000);
    }
    await fresh.close();
  }
  const PAINT: Record<string, Bar> = {
    ...{ first: atMost(1.5), viewer: atMost(2.5) },
    ...{ class_page: atMost(1.5), class_website: atMost(1.5), going_through: atMost(1.5) },
  };
  const withoutBar = ['viewer', 'class_page', 'going_through'].includes(name);
  report(`${name}_paint`, median(figures.paint), 's', null, PAINT[name] ?? null);
  report(`${name}_use`, median(figures.use), 's', null, withoutBar ? null : atMost(1.5));
  report(`${name}_shift`, median(figures.shift), 'of the screen', null, atMost(0.1));
  report(
    `${name}_loaded`,
    median(figures.loaded),
    'KB',
    null,
    name === 'first' ? atMost(250) : null,
  );
}

/** Runs in the page before anything else: notes on it when it shows its contents, and when its scripts are at work. */
function watchFirst(contents: string) {
  const painted = new Promise<number>((resolve) => {
    new PerformanceObserver((list) => {
      const first = list.getEntriesByName('first-contentful-paint')[0];
      if (first) resolve(first.startTime);
    }).observe({ type: 'paint', buffered: true });
  });
  let moved = 0;
  new PerformanceObserver((list) => {
    for (const entry of list.getEntries() as (PerformanceEntry & { value: number })[])
      moved += entry.value;
    document.documentElement.dataset.moved = String(moved);
  }).observe({ type: 'layout-shift', buffered: true });
  const seen = new MutationObserver(() => {
    if (!document.querySelector(contents)) return;
    seen.disconnect();
    // The next picture of the screen has it, and is there when that is done.
    requestAnimationFrame(() =>
      setTimeout(async () => {
        document.documentElement.dataset.shown = String(Math.max(performance.now(), await painted));
      }),
    );
  });
  seen.observe(document, { childList: true, subtree: true });
  const looking = setInterval(() => {
    const root = document.querySelector('#app');
    if (!root || !('__vue_app__' in root) || !document.querySelector(contents)) return;
    clearInterval(looking);
    document.documentElement.dataset.used = String(performance.now());
  }, 5);
}

/** Kilobytes (1,000 bytes) of packed JavaScript that a page asks for in its first seconds. */
async function loaded(page: Page, url: string, web: string): Promise<number> {
  const files = new Set<string>();
  page.on('response', (response) => {
    const { pathname } = new URL(response.url());
    if (/\.m?js$/u.test(pathname)) files.add(pathname);
  });
  await page.goto(url);
  await page.getByRole('heading', { level: 1 }).waitFor();
  // Not until the network is idle: a page that hears of changes never is.
  await page.waitForTimeout(2000);
  return [...files].reduce((sum, file) => sum + statSync(`${web}/public${file}.gz`).size, 0) / 1000;
}
