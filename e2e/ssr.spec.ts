import {
  expect,
  test,
  type BrowserContextOptions,
  type Browser,
  type Page,
} from '@playwright/test';
import type { InitialState, NewThings } from '@sammlung/contract';
import { DEVICES } from './devices.ts';
import { api, faultsOf, goTo, openAs, PEOPLE } from './steps.ts';

/** Pages that come with their contents in them: what they show before their scripts run, and how scripts take over. */

/** Signs in, and opens the same session in a browser of its own that keeps scripts from running. */
async function withoutScripts(browser: Browser, page: Page, options: BrowserContextOptions) {
  const storageState = await page.context().storageState();
  return (
    await browser.newContext({ ...options, storageState, javaScriptEnabled: false })
  ).newPage();
}
const sideways = (page: Page) =>
  page.locator('html').evaluate((html) => html.scrollWidth - html.clientWidth);

for (const [device, options] of Object.entries(DEVICES))
  test(`on a ${device} what is new, classes and their folders can be read without scripts`, async ({
    browser,
  }) => {
    const student = await openAs(browser, 'studentA', options);
    const page = await withoutScripts(browser, student, options);
    await page.goto('/');
    await expect(page.getByRole('heading', { level: 1 })).toContainText('new');
    const { replies } = JSON.parse(
      (await page.locator('#initial-state').textContent())!,
    ) as InitialState;
    const { things } = replies['/api/new?limit=50'] as NewThings;
    const rows = await page.locator('#main a[data-row]').allTextContents();
    expect(rows.length).toBeGreaterThan(5);
    expect(rows[0]).toContain(things[0]!.title);
    for (const text of rows)
      expect(things.filter(({ title }) => text.includes(title))).not.toEqual([]);
    expect(await sideways(page)).toBe(0);
    // What only scripts do is not offered.
    await expect(page.getByRole('button').filter({ visible: true })).toHaveCount(0);

    await goTo(page, 'My classes');
    await page
      .getByRole('link', { name: /Grafting/u })
      .first()
      .click();
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('Grafting');
    await expect(page.getByText('This page needs its scripts')).toBeHidden();
    const file = page.waitForEvent('download');
    await page
      .getByRole('link', { name: /^Download /u })
      .last()
      .click();
    expect((await file).suggestedFilename()).toMatch(/\.\w+$/u);
    await page.context().close();
    await student.context().close();
  });

test('the application takes a page over as it stands, with the focus on it', async ({
  browser,
}) => {
  // What others made may go while this reads it; this is its own.
  const teacher = await openAs(browser, 'teacher');
  const { courses } = await api(teacher, 'GET /api/courses');
  const { id } = courses.flatMap(({ classes }) => classes).find(({ code }) => code === 'SO1A')!;
  const body = { parentId: null, title: 'Taken over' };
  const folder = await api(teacher, 'POST /api/folders', { body });
  for (const title of ['First sheet', 'Second sheet']) {
    const page = await api(teacher, 'POST /api/pages', { body: { folderId: folder.id, title } });
    const shown = { html: '<p>One line.</p>', base: 0, after: null };
    const params = { placement: page.id };
    await api(teacher, 'POST /api/placements/:placement/shown', { params, body: shown });
  }
  const things = [{ kind: 'folder' as const, id: folder.id }];
  const audiences = [{ kind: 'class' as const, id }];
  await api(teacher, 'POST /api/grants', { body: { things, audiences } });

  const page = await openAs(browser, 'studentA');
  // The page before asks for nothing any more.
  await page.goto('about:blank');
  const faults = faultsOf(page);
  const asked: string[] = [];
  page.on('request', (request) => asked.push(new URL(request.url()).pathname));
  let letScriptsCome = () => {};
  const held = new Promise<void>((resolve) => (letScriptsCome = resolve));
  await page.route(/\.js$/u, async (route) => {
    await held;
    await route.continue();
  });
  // What others do meanwhile would be asked for again; here it is not heard of.
  await page.route(/\/live$/u, (route) => route.fulfill({ status: 204 }));
  await page.goto('/new', { waitUntil: 'commit' });
  const sheet = page.locator('#main [data-row]').filter({ hasText: 'First sheet' });
  await sheet.focus();
  const row = await sheet.elementHandle();
  letScriptsCome();
  await expect.poll(() => asked).toContain('/api/new/live');
  expect(await row!.evaluate((element) => element.isConnected)).toBe(true);
  await expect(sheet).toBeFocused();
  // Hand-in boxes are the reader’s alone, and come by themselves.
  expect(asked.filter((path) => /^\/api\/(?!placements|boxes$)/u.test(path))).toEqual([
    '/api/new/live',
  ]);
  // From here on pages are changed in place.
  asked.length = 0;
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/item\//u);
  await page.goBack();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('new');
  expect(asked).not.toContain('/new');
  expect(faults).toEqual([]);
  await api(teacher, 'POST /api/bin', { body: { things } });
  await teacher.context().close();
  await page.context().close();
});

test('no two people’s pages are mixed up, however many ask at once, in whatever language', async ({
  browser,
}) => {
  const who = ['studentA', 'studentB', 'studentElsewhere'] as const;
  const pages = await Promise.all(who.map((one) => openAs(browser, one)));
  const got = await Promise.all(
    Array.from({ length: 18 }, async (_, n) => {
      const german = n % 2 === 1;
      const reply = await pages[n % 3]!.request.get(n % 4 < 2 ? '/new' : '/classes', {
        headers: { 'accept-language': german ? 'de' : 'en' },
      });
      return { name: PEOPLE[who[n % 3]!], german, html: await reply.text() };
    }),
  );
  for (const { name, german, html } of got) {
    expect(html).toContain('id="initial-state"');
    expect(html).toContain(german ? '<html lang="de">' : '<html lang="en">');
    expect(html).toContain(german ? `Angemeldet: ${name}` : `Signed in as ${name}`);
    expect(html).toContain(german ? 'Meine Klassen' : 'My classes');
    for (const other of who.map((one) => PEOPLE[one]))
      expect(html.includes(other), `${other} in a page of ${name}`).toBe(other === name);
  }
  await Promise.all(pages.map((page) => page.context().close()));
});

test('a visitor without scripts reads a public folder, goes into what lies in it, and takes it along', async ({
  browser,
}) => {
  const teacher = await openAs(browser, 'teacher');
  const make = (title: string, parentId: string | null) =>
    api(teacher, 'POST /api/folders', { body: { parentId, title } });
  const { id } = await make('Winter show', null);
  const inner = await make('Ice & light', id);
  for (const folderId of [id, inner.id])
    await api(teacher, 'POST /api/links', {
      body: {
        folderId,
        title: 'Where it is',
        url: 'https://show.example/',
      },
    });
  const { address } = await api(teacher, 'POST /api/doors', {
    body: {
      thing: { kind: 'folder', id },
      kind: 'public',
    },
  });
  for (const [device, options] of Object.entries(DEVICES))
    for (const place of ['open', 'embed']) {
      const context = await browser.newContext({ ...options, javaScriptEnabled: false });
      const visitor = await context.newPage();
      await visitor.goto(address.replace('/open/', `/${place}/`));
      await expect(visitor.getByRole('heading', { level: 1 })).toHaveText('Winter show');
      await expect(visitor.getByRole('link', { name: 'Where it is' })).toBeVisible();
      expect(await sideways(visitor), device).toBe(0);
      const all = visitor.waitForEvent('download');
      await visitor.getByRole('link', { name: 'Download all' }).click();
      expect((await all).suggestedFilename()).toBe('Winter show.zip');
      await visitor.getByRole('link', { name: /^Ice/u }).click();
      await expect(visitor.getByRole('heading', { level: 1 })).toContainText('Ice');
      await visitor.getByRole('link', { name: 'Winter show' }).click();
      await expect(visitor.getByRole('heading', { level: 1 })).toHaveText('Winter show');
      expect(await context.cookies()).toEqual([]);
      await context.close();
    }
  await teacher.context().close();
});

test('the page of a class and its website come with their contents, and are taken over as they are', async ({
  browser,
}) => {
  const teacher = await openAs(browser, 'teacher');
  const { doors } = await api(teacher, 'GET /api/doors');
  const { address, classId } = doors.find((door) => door.classId !== null)!;
  await teacher.context().close();
  const student = await openAs(browser, 'studentA');
  for (const [page, path] of [
    [student, `/class-page/${classId}`],
    [await (await browser.newContext()).newPage(), new URL(address).pathname],
  ] as const) {
    const bare = await withoutScripts(browser, page, {});
    await bare.goto(path);
    await expect(bare.getByRole('heading', { level: 1 })).toHaveText('Soil Science I');
    await expect(bare.getByRole('article').first()).toBeVisible();
    await expect(bare.getByRole('link', { name: /by itself$/u }).first()).toBeVisible();
    await bare.context().close();

    const asked: string[] = [];
    const faults = faultsOf(page);
    page.on('request', (request) => asked.push(new URL(request.url()).pathname));
    await page.route(/\/live$/u, (route) => route.fulfill({ status: 204 }));
    await page.goto(path);
    await expect.poll(() => asked.some((one) => one.endsWith('/live'))).toBe(true);
    const again = asked.filter((one) => /^\/api\/(class-pages|open|kept|session)/u.test(one));
    expect(again.filter((one) => !one.endsWith('/live'))).toEqual([]);
    expect(faults).toEqual([]);
    await page.context().close();
  }
});

test('a hand-in box comes with the names of all, and is taken over as it is', async ({
  browser,
}) => {
  const page = await openAs(browser, 'teacher');
  const { taught } = await api(page, 'GET /api/boxes');
  const path = `/box/${taught[0]!.id}`;
  const bare = await withoutScripts(browser, page, {});
  await bare.goto(path);
  const names = bare.getByRole('navigation', { name: 'Students' }).getByRole('link');
  await expect(names).toHaveCount(taught[0]!.students);
  await bare.context().close();

  await page.evaluate(() => localStorage.setItem('box-missing-first', 'true'));
  const faults = faultsOf(page);
  await page.goto(path);
  await expect(page.getByLabel('Missing first')).toBeChecked();
  await expect(page.getByRole('button', { name: 'Give each a copy' })).toBeVisible();
  expect(faults).toEqual([]);
  await page.evaluate(() => localStorage.removeItem('box-missing-first'));
  await page.context().close();
});
