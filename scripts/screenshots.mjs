// npm run screenshots [name …]: takes the pictures in docs/screenshots anew, from the sample school.
import { join } from 'node:path';
import { SERVER_PACKAGES, ensureDebian, ensureModules } from './lib/install.mjs';
import { failWith, root } from './lib/run.mjs';
import { startScratchPostgres, startServerProcess } from './lib/scratch-server.mjs';

const TEACHER = 'Ilse Vandermoor';
const STUDENT = 'Mina Kovarik';
const OFFICE = 'Harriet Lindqvast';

/** Each picture: who looks (null: nobody signed in), where, and what they do first. */
const PICTURES = [
  { name: 'library', who: TEACHER, folder: '2 Texture & pH' },
  { name: 'board', who: TEACHER, path: '/who-sees-what', steps: square },
  { name: 'classes', who: TEACHER, path: '/classes' },
  { name: 'reach', who: TEACHER, folder: 'Soil Science I', steps: reach, wait: 1500 },
  { name: 'find', who: TEACHER, path: '/library', steps: find, wait: 800 },
  { name: 'new', who: STUDENT, path: '/new' },
  { name: 'capture', who: TEACHER, path: '/pictures', phone: true, steps: capture, wait: 800 },
  { name: 'class-page', who: STUDENT, path: '/classes', steps: classPage, wait: 800 },
  { name: 'class-page-made', who: TEACHER, path: '/class-pages', steps: madePage, wait: 800 },
  { name: 'reader', who: STUDENT, path: '/classes', steps: reader, wait: 800 },
  { name: 'going-through', who: TEACHER, path: '/today', steps: goThrough, wait: 2500 },
  { name: 'desk', who: STUDENT, path: '/classes', steps: toDesk, dark: true },
  { name: 'viewer', who: STUDENT, path: '/classes', steps: openHandout, wait: 1500 },
  { name: 'class-website', who: null, website: true, wait: 800 },
  { name: 'wall', who: TEACHER, path: '/library', before: findForeign, steps: openForeign },
  { name: 'today', who: TEACHER, path: '/today', before: askToSee },
  { name: 'carry-over', who: TEACHER, path: '/carry-over', steps: carryOver, wait: 1500 },
  { name: 'people', who: OFFICE, path: '/people', wait: 800 },
  { name: 'page', who: TEACHER, folder: '1 Soil profile', steps: write, wait: 1500 },
];

/** A picture of the board, taken and straightened. */
async function capture(page) {
  await page.getByRole('button', { name: 'Take a picture' }).click();
  await page.getByText('1 page').waitFor();
  await page.getByRole('button', { name: 'Page 1' }).click();
}

/** A hand-in box, with what is said about the work of a student. */
async function goThrough(page) {
  await page.getByRole('link', { name: 'Soil log, my plot' }).click();
  await page.getByRole('link', { name: 'Brandsma' }).click();
  await page.getByText('The unit is missing here.').waitFor();
}

/** The address of a folder that the student has no part in. */
let foreign = '';
async function findForeign({ folderId }) {
  foreign = `/folder/${await folderId('Soil Science I')}`;
}
async function askToSee({ page, folderId, signIn }) {
  await findForeign({ folderId });
  await page.context().clearCookies();
  await signIn('Mateus Levisohn');
  await page.goto(foreign);
  await page
    .getByRole('textbox')
    .fill('I missed the first year and would like to read up on soil profiles.');
  await page.getByRole('button', { name: 'Ask', exact: true }).click();
  await page.getByText('You have asked.').waitFor();
  await page.context().clearCookies();
  await signIn(TEACHER);
}
async function openForeign(page) {
  await page.context().clearCookies();
  await page.goto('/sign-in');
  await page.getByRole('button', { name: 'Mateus Levisohn' }).waitFor();
  await page.getByRole('button', { name: 'Mateus Levisohn' }).click();
  await page.getByRole('button', { name: 'Signed in as Mateus Levisohn' }).waitFor();
  await page.goto(foreign);
  await page.getByRole('heading', { name: 'This is not handed out to you' }).waitFor();
}
async function square(page) {
  await page.getByRole('button', { name: '2 Texture & pH, PR2A: not handed out' }).click();
  await page.getByText(/PR2A: \d+ students will see/u).waitFor();
}
/** Last year's library, for two classes of this one. */
async function carryOver(page) {
  await page.getByRole('button', { name: 'SO1B', exact: true }).click();
  await page.getByLabel('Hand the new folders out').check();
}
async function reach(page) {
  await page.getByRole('link', { name: 'Who has opened it' }).click();
  await page.locator('.apexcharts-heatmap').nth(1).waitFor();
  await page
    .getByRole('heading', { name: 'By day' })
    .evaluate((heading) => heading.scrollIntoView());
}
async function write(page) {
  await page.getByRole('link', { name: 'What we saw in the pit' }).click();
  await page.getByRole('link', { name: 'Write', exact: true }).click();
  await page.getByRole('textbox', { name: 'Text of the page' }).waitFor();
}
async function find(page) {
  await page.keyboard.press('/');
  await page.getByLabel('A name, or words inside').fill('soil');
  await page.getByRole('listbox').getByRole('option').first().waitFor();
}
async function openUnit(page) {
  await page.getByRole('link', { name: '2 Texture & pH' }).click();
  await page.getByRole('heading', { level: 1, name: '2 Texture & pH' }).waitFor();
}
async function toDesk(page) {
  await openUnit(page);
  await page.getByRole('button', { name: 'Choose', exact: true }).click();
  for (const n of [0, 1, 4]) await page.getByRole('checkbox').nth(n).check();
  await page.getByRole('button', { name: 'Take a copy' }).click();
  await page.getByText('3 copies are on your desk now').waitFor();
  await page.getByRole('link', { name: 'My desk' }).click();
  await page.getByRole('button', { name: 'New folder' }).click();
  await page.getByRole('textbox', { name: 'New folder' }).fill('Soil log, my plot');
  await page.keyboard.press('Enter');
  await page.getByRole('link', { name: /Soil log, my plot/u }).waitFor();
  await page.getByText('copies are on your desk now').waitFor({ state: 'hidden' });
}
async function classPage(page) {
  await page.getByRole('link', { name: 'Soil Science I', exact: true }).first().click();
  await page.getByRole('heading', { name: /Lesson 14/u }).waitFor();
}
async function madePage(page) {
  await page.getByRole('link', { name: 'Next: SO1A' }).click();
  await page.getByRole('heading', { name: /Lesson 14/u }).waitFor();
}
async function reader(page) {
  await page.getByRole('link', { name: 'Course reader' }).first().click();
  await page
    .getByRole('heading', { name: /Friday/u })
    .first()
    .waitFor();
}
async function openHandout(page) {
  await openUnit(page);
  await page
    .getByRole('link', { name: /Lesson 14/u })
    .first()
    .click();
  await page.getByRole('region', { name: 'Page 1 of 3' }).waitFor();
}

try {
  await ensureDebian([...SERVER_PACKAGES, 'chromium']);
  await ensureModules();
  const { chromium } = await import('@playwright/test');
  const { tsImport } = await import('tsx/esm/api');
  const { cameraOnBoard } = await tsImport('../e2e/camera.ts', import.meta.url);
  const postgres = await startScratchPostgres('screenshots');
  let server, browser;
  try {
    server = await startServerProcess(postgres, 'postgres');
    browser = await chromium.launch({
      executablePath: '/usr/bin/chromium',
      args: ['--no-sandbox', '--disable-gpu', ...(await cameraOnBoard())],
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
  { name, who, path, folder, website, dark, phone, before, steps, wait },
) {
  const context = await browser.newContext({
    baseURL,
    viewport: phone ? { width: 360, height: 740 } : { width: 1280, height: 800 },
    hasTouch: phone === true,
    isMobile: phone === true,
    colorScheme: dark ? 'dark' : 'light',
    reducedMotion: 'reduce',
    locale: 'en-GB',
    permissions: ['camera'],
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
  if (website) {
    await signIn(TEACHER);
    const { doors } = await (await context.request.get('/api/doors')).json();
    to = doors.find(({ classId }) => classId).address;
    await context.clearCookies();
  } else if (who) await signIn(who);
  if (before) await before({ page, folderId, signIn });
  if (folder) to = `/folder/${await folderId(folder)}`;
  await page.goto(to);
  await page.getByRole('heading', { level: 1 }).waitFor();
  if (steps) await steps(page);
  // Not until the network is idle: a page that hears of changes never is.
  await page.waitForTimeout(500);
  await page.waitForTimeout(wait ?? 300);
  await page.screenshot({ path: join(root, 'docs', 'screenshots', `${name}.png`) });
  await context.close();
}
