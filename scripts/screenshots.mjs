// npm run screenshots [name …]: takes the pictures in docs/screenshots anew, from the sample school.
import { join } from 'node:path';
import { SERVER_PACKAGES, ensureDebian, ensureModules } from './lib/install.mjs';
import { failWith, root } from './lib/run.mjs';
import { startScratchPostgres, startServerProcess } from './lib/scratch-server.mjs';

const TEACHER = 'Ilse Vandermoor';
const STUDENT = 'Mina Kovarik';

/** Each picture: who looks (null: nobody signed in), where, and what they do first. */
const PICTURES = [
  { name: 'sign-in', who: null, path: '/sign-in' },
  { name: 'library', who: TEACHER, folder: '2 Texture & pH' },
  { name: 'library-dark', who: TEACHER, folder: '2 Texture & pH', dark: true },
  { name: 'library-tiles', who: TEACHER, folder: '1 Soil profile', steps: tiles },
  { name: 'move', who: TEACHER, folder: 'Masters', steps: move },
  { name: 'lay-out', who: TEACHER, path: '/lay-out' },
  { name: 'space', who: TEACHER, path: '/space', wait: 1500 },
  { name: 'bin', who: TEACHER, path: '/bin', before: fillBin },
  { name: 'find', who: TEACHER, path: '/library', steps: find, wait: 800 },
  { name: 'new', who: STUDENT, path: '/new' },
  { name: 'my-classes', who: STUDENT, path: '/classes' },
  { name: 'folder', who: STUDENT, path: '/classes', steps: openUnit },
  { name: 'viewer', who: STUDENT, path: '/classes', steps: openHandout, wait: 1500 },
  { name: 'viewer-slides', who: TEACHER, folder: '1 Soil profile', steps: openSlides, wait: 1500 },
  { name: 'public', who: null, door: true },
  { name: 'wall', who: null, path: '/open/an-address-that-is-none' },
];

async function tiles(page) {
  await page.getByRole('button', { name: 'Tiles' }).click();
  await page.getByText('Shown as: Tiles').waitFor();
  await page.reload();
}
async function move(page) {
  const row = page.getByRole('listitem').filter({ hasText: 'Ideas for the spring term' });
  await row.getByRole('link').focus();
  await page.keyboard.press('m');
  await page.getByLabel('Which folder?').fill('soil profile');
  await page.keyboard.press('Enter');
  await page
    .getByText(/students will see/u)
    .last()
    .waitFor();
}
async function find(page) {
  await page.keyboard.press('/');
  await page.getByLabel('A name, or words inside').fill('soil');
  await page.getByRole('listbox').getByRole('option').first().waitFor();
}
async function fillBin({ page, folderId }) {
  await page.goto(`/folder/${await folderId('Masters')}`);
  for (const title of ['Ideas for the spring term', 'Marking scheme, one page']) {
    const row = page.getByRole('listitem').filter({ hasText: title });
    await row.getByRole('link').first().focus();
    await page.keyboard.press('Delete');
    await page.getByText(`${title} is in the Bin`).last().waitFor();
  }
}
async function openUnit(page) {
  await page.getByRole('link', { name: '2 Texture & pH' }).click();
  await page.getByRole('heading', { level: 1, name: '2 Texture & pH' }).waitFor();
}
async function openSlides(page) {
  await page.getByRole('link', { name: /The five horizons/u }).click();
  await page.getByLabel('Page 1 of 4').waitFor();
}
async function openHandout(page) {
  await openUnit(page);
  await page
    .getByRole('link', { name: /Lesson 14/u })
    .first()
    .click();
  await page.getByLabel('Page 1 of 3').waitFor();
}

try {
  await ensureDebian([...SERVER_PACKAGES, 'chromium']);
  await ensureModules();
  const { chromium } = await import('@playwright/test');
  const { tsImport } = await import('tsx/esm/api');
  const postgres = await startScratchPostgres('screenshots');
  let server, browser;
  try {
    server = await startServerProcess(postgres);
    browser = await chromium.launch({
      executablePath: '/usr/bin/chromium',
      args: ['--no-sandbox', '--disable-gpu'],
    });
    const wanted = process.argv.slice(2);
    // Previews of the sample files are made first, so that each picture has them.
    const { openDatabase } = await tsImport('../server/src/db/database.ts', import.meta.url);
    const { pool, close } = openDatabase(postgres.url('postgres'));
    const waiting = async () =>
      (await pool.query("select count(*)::int n from previews where state = 'waiting'")).rows[0].n;
    await new Promise((done) => setTimeout(done, 3000));
    while ((await waiting()) > 0) await new Promise((done) => setTimeout(done, 500));
    await close();
    for (const picture of PICTURES)
      if (wanted.length === 0 || wanted.includes(picture.name)) {
        await take(browser, server.address, picture);
        console.log(picture.name);
      }
  } finally {
    await browser?.close();
    await server?.stop();
    await postgres.stop();
  }
} catch (error) {
  failWith(error);
}

async function take(
  browser,
  baseURL,
  { name, who, path, folder, door, dark, before, steps, wait },
) {
  const context = await browser.newContext({
    baseURL,
    viewport: { width: 1280, height: 800 },
    colorScheme: dark ? 'dark' : 'light',
    reducedMotion: 'reduce',
    locale: 'en-GB',
  });
  const page = await context.newPage();
  const signIn = async (person) => {
    await page.goto('/sign-in');
    await page.getByRole('button', { name: person }).click();
    await page.getByRole('button', { name: `Signed in as ${person}` }).waitFor();
  };
  const folderId = async (title) => {
    const tree = await (await context.request.get('/api/library/tree')).json();
    return tree.folders.find((f) => f.title === title).id;
  };
  let to = path;
  if (door) {
    await signIn(TEACHER);
    await page.goto(`/folder/${await folderId('Field guides')}`);
    to = await page.getByLabel('Address for everyone').inputValue();
    await context.clearCookies();
  } else if (who) await signIn(who);
  if (before) await before({ page, folderId });
  if (folder) to = `/folder/${await folderId(folder)}`;
  await page.goto(to);
  await page.getByRole('heading', { level: 1 }).waitFor();
  if (steps) await steps(page);
  await page.waitForLoadState('networkidle');
  await page.waitForTimeout(wait ?? 300);
  await page.screenshot({ path: join(root, 'docs', 'screenshots', `${name}.png`) });
  await context.close();
}
