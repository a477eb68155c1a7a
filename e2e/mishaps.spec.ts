import {
  expect,
  test,
  type Browser,
  type BrowserContextOptions,
  type Page,
} from '@playwright/test';
import { SAMPLE_PASSWORD, STUDENTS } from '../demo/src/index.ts';
import { DEVICES } from './devices.ts';
import { api, goTo, newFirstPassword, openAs, row, visit } from './steps.ts';

/** What may be wrong with a device, a browser or an account, and what a student sees of it. */

/** A student of SO1A whom no other journey meets, signed in by hand. */
async function openReader(
  browser: Browser,
  n: number,
  options: BrowserContextOptions = {},
  before: (page: Page) => Promise<unknown> = async () => undefined,
): Promise<Page> {
  const page = await (await browser.newContext({ ...DEVICES.phone, ...options })).newPage();
  await before(page);
  await visit(page, '/sign-in');
  await page.getByLabel('Email address or sign-in name').fill(STUDENTS[n]!.email);
  await page.getByLabel('Password', { exact: true }).fill(SAMPLE_PASSWORD);
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(page.getByRole('button', { name: /^Signed in as/u })).toBeVisible();
  return page;
}

/** Keeps a course folder of SO1A and goes to Kept. */
async function keep(page: Page) {
  const { classes } = await api(page, 'GET /api/classes');
  const folder = classes.flatMap((c) => c.folders).find((f) => f.title === 'Soil Science I')!;
  await visit(page, `/folder/${folder.id}`);
  await page.getByRole('button', { name: /^Keep .* at hand$/u }).click();
  await expect(page.getByText('Soil Science I is now in Kept')).toBeVisible();
  await goTo(page, 'Kept');
  await expect(page.getByRole('heading', { level: 1, name: 'Kept' })).toBeVisible();
}
const onDevice = (page: Page) =>
  page.getByRole('switch', { name: 'Readable without a connection' });
const caches = (page: Page) => page.evaluate(() => window.caches.keys());

test('a device that is full keeps what fits, and says for how many files there is no room', async ({
  browser,
}) => {
  const page = await openReader(browser, 18);
  await keep(page);
  const session = await page.context().newCDPSession(page);
  await session.send('Storage.overrideQuotaForOrigin', {
    origin: new URL(page.url()).origin,
    quotaSize: 150_000,
  });
  await onDevice(page).click();
  await expect(page.getByText(/no room on this device for \d+ files?/u)).toBeVisible();
  // With room again the rest comes by itself.
  await session.send('Storage.overrideQuotaForOrigin', { origin: new URL(page.url()).origin });
  await page.reload();
  await expect(page.getByText(/stored here/u)).toBeVisible();
  await onDevice(page).click();
  await expect(page.getByText(/stored here/u)).toBeHidden();
  await expect.poll(() => caches(page)).toEqual([]);
  await page.context().close();
});

test('a private window that has no store says so, and all else works', async ({ browser }) => {
  const page = await openReader(browser, 19, {}, (fresh) =>
    fresh.addInitScript(() => {
      const refuse = () => {
        throw new DOMException('not here', 'SecurityError');
      };
      CacheStorage.prototype.has = refuse;
      CacheStorage.prototype.open = refuse;
      CacheStorage.prototype.keys = refuse;
      Object.defineProperty(window, 'localStorage', { get: refuse });
    }),
  );
  const faults: string[] = [];
  page.on('pageerror', (error) => faults.push(error.message));
  await keep(page);
  await expect(page.getByText('This browser cannot store anything on the device')).toBeVisible();
  await expect(row(page, 'Soil Science I')).toBeVisible();
  await page.getByRole('button', { name: /^Signed in as/u }).click();
  await page.getByRole('button', { name: 'Sign out' }).click();
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  expect(faults).toEqual([]);
  await page.context().close();
});

test('a clock that is a day ahead changes no day on the screen', async ({ browser }) => {
  const days = async (page: Page) => {
    // Hand-in boxes have a heading of their own.
    const headings = page.locator('#main section:not([aria-labelledby]) h2');
    await expect(headings.first()).toBeVisible();
    return headings.allTextContents();
  };
  const right = await openReader(browser, 20);
  const ahead = await openReader(browser, 20, {}, (fresh) =>
    fresh.clock.setFixedTime(Date.now() + 26 * 60 * 60 * 1000),
  );
  // The days come after the first one, on each page when it gets to it.
  await expect(async () => {
    const shown = await days(right);
    expect(shown.length).toBeGreaterThan(3);
    expect(await days(ahead)).toEqual(shown);
  }).toPass({ timeout: 30_000 });
  await right.context().close();
  await ahead.context().close();
});

test('without scripts the page says what it needs; without letters of its own it works', async ({
  browser,
}) => {
  const closed = await (await browser.newContext({ javaScriptEnabled: false })).newPage();
  await closed.goto('/new');
  await expect(closed.getByText('This page needs scripts')).toBeVisible();
  await expect(closed.getByText('Diese Seite braucht ihre Skripte')).toBeVisible();
  await closed.context().close();

  const lost = await (await browser.newContext()).newPage();
  await lost.route(/\.js$/u, (route) => route.abort());
  await lost.goto('/new');
  await expect(lost.getByText('This page needs scripts')).toBeVisible();
  await lost.unrouteAll();
  await lost.getByRole('link', { name: 'load the page again' }).click();
  await expect(lost.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await expect(lost.getByText('This page needs scripts')).toBeHidden();
  await lost.context().close();

  const plain = await openReader(browser, 20, {}, (fresh) =>
    fresh.route(/\.woff2$/u, (route) => route.abort()),
  );
  await expect(plain.getByRole('heading', { level: 1 })).toBeVisible();
  expect(
    await plain.evaluate(() => document.documentElement.scrollWidth - window.innerWidth),
  ).toBeLessThanOrEqual(0);
  await plain.context().close();
});

test('a part of the application that cannot be had is told of, and asked for again', async ({
  browser,
}) => {
  const page = await openReader(browser, 20);
  await page.route(/KeptView.*\.js$/u, (route) => route.abort());
  await goTo(page, 'Kept');
  await expect(page.getByRole('alert')).toContainText('did not load completely');
  // What was on the screen still is.
  await expect(page.locator('#main h1')).toBeVisible();
  await page.unrouteAll();
  await page.getByRole('button', { name: 'Try again' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Kept' })).toBeVisible();
  await page.context().close();
});

test('a teacher without a connection is told so on each page, and goes on when there is one', async ({
  browser,
}) => {
  const teacher = await openAs(browser, 'otherTeacher');
  await expect(teacher.getByRole('heading', { level: 1, name: 'Library' })).toBeVisible();
  await teacher.context().setOffline(true);
  // A page whose parts have not been loaded yet, and one that has been open before.
  await goTo(teacher, 'Classes');
  await expect(teacher.getByRole('alert')).toContainText('did not load completely');
  await expect(teacher.getByRole('heading', { level: 1, name: 'Library' })).toBeVisible();
  await teacher.context().setOffline(false);
  await teacher.getByRole('button', { name: 'Try again' }).click();
  await expect(teacher.getByRole('heading', { level: 1, name: 'Classes' })).toBeVisible();
  await teacher.context().setOffline(true);
  await goTo(teacher, 'Library');
  await expect(teacher.getByText('The server cannot be reached.').first()).toBeVisible();
  // What could not be shown comes by itself.
  await teacher.context().setOffline(false);
  await expect(teacher.getByRole('heading', { level: 1, name: 'Library' })).toBeVisible();
  await expect(teacher.getByText('The server cannot be reached.')).toBeHidden();
  await teacher.context().close();
});

test('what is on the device goes when the session ends elsewhere, or somebody else signs in', async ({
  browser,
}) => {
  const page = await openReader(browser, 21);
  await keep(page);
  await onDevice(page).click();
  await expect(page.getByText(/stored here/u)).toBeVisible();
  // Somebody else, in the same browser, without signing out first.
  await api(page, 'POST /api/session', {
    body: {
      email: STUDENTS[22]!.email,
      password: SAMPLE_PASSWORD,
    },
  });
  await visit(page, '/kept');
  await expect(onDevice(page)).not.toBeChecked();
  await expect.poll(() => caches(page)).toEqual([]);

  await keep(page);
  await onDevice(page).click();
  await expect(page.getByText(/stored here/u)).toBeVisible();
  const teacher = await openAs(browser, 'teacher');
  // A new password, chosen elsewhere, ends the sessions of the old one.
  const { signInName, firstPassword } = await newFirstPassword(browser, 'SO1A', STUDENTS[22]!.name);
  const first = await api(teacher, 'POST /api/session', {
    body: {
      email: signInName,
      password: firstPassword,
    },
  });
  if (first?.step !== 'password') throw new Error('A first password was wanted');
  await api(teacher, 'POST /api/session/password', {
    body: { token: first.token, password: 'chosen elsewhere' },
  });
  await visit(page, '/kept');
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await expect.poll(() => caches(page)).toEqual([]);
  await teacher.context().close();
  await page.context().close();
});
