import type { Browser, Page } from '@playwright/test';
import { sql } from 'drizzle-orm';
import { launchBrowser } from './browser.ts';
import { cameraOnBoard } from '../../e2e/camera.ts';
import { DEVICES } from '../../e2e/devices.ts';
import { startEmptyServer } from '../../e2e/server.ts';
import { api, audience, dropFiles, PEOPLE, signIn, textFile } from '../../e2e/steps.ts';
import type { ScratchPostgres, ServerProcess } from '../../scripts/lib/scratch-server.mjs';
import { openDatabase } from '../../server/src/db/database.ts';
import { atMost, report } from './report.ts';

/**
 * steps_*: what a person does in a journey, in clicks, keys that are not typing text, and drops. steps_new_folder: a new folder of a class
 * handed out and filled; steps_student: from the sign-in page to an open handout; steps_entry: an entry with two things to three
 * classes, timed; steps_round: from the library, the files of a day in place for three classes; steps_board_picture: on a phone, from Today, a picture of the board in place for a class; steps_dated_note: a note of today shown to a class; steps_hand_in: from the sign-in page, a file handed in; steps_remark: the next student, and a phrase about what they have handed in; steps_class_website: a website with its first public folder;
 * steps_begin: from a server without a school until its first student has opened the first handout. Going on to the next field of a form belongs to typing.
 */
export async function benchSteps(postgres: ScratchPostgres, { address }: ServerProcess) {
  const browser = await launchBrowser(await cameraOnBoard());
  const open = async () =>
    (
      await browser.newContext({ baseURL: address, viewport: { width: 1280, height: 800 } })
    ).newPage();
  const teacher = await open();
  await signIn(teacher, 'teacher');
  await newFolder(teacher);
  await newEntry(teacher);
  await dailyRound(teacher);
  await datedNote(teacher);
  await classWebsite(teacher);
  const phone = await (
    await browser.newContext({ ...DEVICES['phone'], baseURL: address, permissions: ['camera'] })
  ).newPage();
  await signIn(phone, 'teacher');
  await boardPicture(phone);
  await openHandout(await open());
  await handIn(await open());
  await remark(teacher);
  await beginning(postgres, browser);
  await browser.close();
}

/** Counts what is done. */
function counter() {
  let steps = 0;
  return {
    async step(done: Promise<unknown>) {
      steps += 1;
      await done;
    },
    taken: () => steps,
  };
}

/** An entry with two things, to three classes, at a set time. */
async function newEntry(page: Page) {
  const { step, taken } = counter();
  const { courses } = await api(page, 'GET /api/courses');
  const classes = courses.flatMap((course) => course.classes);
  await page.goto(`/class-page/${classes[0]!.id}`);
  await step(page.getByRole('button', { name: 'New entry' }).click());
  for (const name of ['Root cuttings, step by step', 'Texture by feel, field card']) {
    await page.keyboard.type(name);
    await page.getByRole('option', { name }).first().waitFor();
    await step(page.keyboard.press('Enter'));
    await page.getByRole('button', { name: `Take ${name} out` }).waitFor();
  }
  for (const { code } of classes.slice(1, 3))
    await step(page.getByRole('checkbox', { name: code }).click());
  await step(page.getByRole('radio', { name: 'At set times' }).click());
  await step(page.getByRole('button', { name: 'Put it on the page' }).click());
  await page.getByText('put on the page').waitFor();
  report('steps_entry', taken(), 'actions', null, atMost(7));
}

/** From the page as it is read: a note of today, written on top and shown. */
async function datedNote(page: Page) {
  const { step, taken } = counter();
  const { hits } = await api(page, 'GET /api/find', {
    query: { words: 'Autumn log', kind: 'page' },
  });
  await page.goto(`/item/${hits[0]!.id}`);
  await step(page.getByRole('link', { name: 'Write', exact: true }).click());
  await page.getByRole('textbox', { name: 'Text of the page' }).waitFor();
  await step(page.keyboard.press('Control+Enter'));
  await page.keyboard.type('The blue can is tap water.');
  await step(page.getByRole('button', { name: 'Show it' }).click());
  await page.getByText('Readers get this text.').waitFor();
  report('steps_dated_note', taken(), 'actions', null, atMost(3));
}

/** From the page of a class that has no website: one with a heading, and its first folder that is open to everybody. */
async function classWebsite(page: Page) {
  const { step, taken } = counter();
  const { courses } = await api(page, 'GET /api/courses');
  const { id } = courses.flatMap(({ classes }) => classes).find(({ code }) => code === 'SO1B')!;
  await page.goto(`/class-page/${id}`);
  await step(page.getByRole('button', { name: 'Class website' }).click());
  await step(page.getByRole('checkbox', { name: 'Soil profile' }).click());
  await step(page.getByRole('checkbox', { name: 'Open “1 Soil profile” to visitors' }).click());
  await step(page.getByRole('button', { name: 'Open the website' }).click());
  await page.getByText('Website of SO1B opened').waitFor();
  const { door } = await api(page, 'GET /api/class-pages/:class/website', {
    params: { class: id },
  });
  const visitor = await (await page.context().browser()!.newContext()).newPage();
  await visitor.goto(door!.address);
  await visitor.getByRole('button', { name: '1 Soil profile' }).first().waitFor();
  report('steps_class_website', taken(), 'actions', null, atMost(4));
}

/** The files of a day, from the library until they are in place for three classes. */
async function dailyRound(page: Page) {
  const { step, taken } = counter();
  // What the sample has in the tray is out of the way.
  const { files } = await api(page, 'GET /api/tray');
  await api(page, 'POST /api/tray/remove', { body: { files: files.map(({ id }) => id) } });
  await page.goto('/library');
  await page.getByRole('heading', { level: 1, name: 'Library' }).waitFor();
  await step(page.keyboard.press('t'));
  const tray = page.locator('#tray');
  await step(
    dropFiles(
      page,
      [
        textFile('SO1A lesson 15.txt', 'Notes of the first class.'),
        textFile('B lesson 15.txt', 'Notes of the second class.'),
        textFile('PR2A lesson 15.txt', 'Notes of the third class.'),
      ],
      tray.getByText('Drop the day’s files here'),
    ),
  );
  await step(tray.getByRole('button', { name: 'Put 3 in place' }).click());
  await page.getByText('3 files put in place').waitFor();
  report('steps_round', taken(), 'actions', null, atMost(4));
}

/** Clicks, keys that are not typing text, and drops until a new folder is handed out to a class and has files. */
async function newFolder(page: Page) {
  const { step, taken } = counter();
  await page.goto('/library');
  await step(page.getByRole('button', { name: 'New folder' }).click());
  await page.keyboard.type('Bench, week 12');
  await step(page.keyboard.press('Enter'));
  await page.getByRole('heading', { level: 1, name: 'Bench, week 12' }).waitFor();
  await step(audience(page, 'SO1A').click());
  await step(dropFiles(page, [textFile('One.txt', 'bench one'), textFile('Two.txt', 'bench two')]));
  await page.getByText('2 files added to Bench, week 12.').waitFor();
  await page
    .getByText(/SO1A sees/u)
    .first()
    .waitFor();
  report('steps_new_folder', taken(), 'actions', null, atMost(4));
}

/** What a student does from the sign-in page until the newest handout is open. */
async function openHandout(page: Page) {
  await page.goto('/sign-in');
  const { step, taken } = counter();
  await step(page.getByRole('button', { name: PEOPLE.studentA }).click());
  await step(
    page
      .locator('#main [data-row]')
      .filter({ hasText: /Lesson 14/u })
      .click(),
  );
  await page.locator('.textLayer').first().waitFor();
  report('steps_student', taken(), 'actions', null, atMost(2));
}

/** What a student does from the sign-in page until a file is handed in. */
async function handIn(page: Page) {
  await page.goto('/sign-in');
  const { step, taken } = counter();
  await step(page.getByRole('button', { name: PEOPLE.studentA }).click());
  await step(page.getByRole('link', { name: 'Drainage test, report' }).click());
  const chosen = page.waitForEvent('filechooser');
  await step(page.getByRole('button', { name: 'Add files' }).click());
  const { name, mimeType, buffer } = textFile('Drainage.txt', 'Twenty minutes.');
  await (await chosen).setFiles([{ name, mimeType, buffer }]);
  await page.getByText(/^1 handed in, /u).waitFor();
  report('steps_hand_in', taken(), 'actions', null, atMost(3));
}

/** In a box that is gone through: on to the next student, and a remark that is often made. */
async function remark(page: Page) {
  const { taught } = await api(page, 'GET /api/boxes');
  const { id } = taught.find(({ title }) => title === 'Soil log, my plot')!;
  const { places } = await api(page, 'GET /api/boxes/:box', { params: { box: id } });
  const at = places.findIndex((place, n) => place.files > 0 && places[n + 1]!.files > 0);
  await page.goto(`/box/${id}/${places[at]!.placeId}`);
  await page.getByRole('heading', { level: 2, name: places[at]!.name }).waitFor();
  const { step, taken } = counter();
  await step(page.keyboard.press('ArrowRight'));
  await page.getByRole('heading', { level: 2, name: places[at + 1]!.name }).waitFor();
  await page.locator('.textLayer').first().waitFor();
  await step(page.keyboard.press('1'));
  await page.getByText('Remark written').waitFor();
  report('steps_remark', taken(), 'actions', null, atMost(3));
}

/** The board of a lesson, from Today on a phone until it is in place for a class. */
async function boardPicture(page: Page) {
  const { step, taken } = counter();
  await page.goto('/today');
  await step(page.getByRole('link', { name: 'Photograph' }).tap());
  await step(page.getByRole('button', { name: 'Take a picture' }).tap());
  await page.getByText('1 page').waitFor();
  await step(page.getByRole('button', { name: 'SO1A 2 Texture & pH' }).tap());
  await page.getByText('1 file put in place').waitFor();
  report('steps_board_picture', taken(), 'actions', null, atMost(3));
}

/** From nothing: the office begins the school and adds a teacher, who makes a class, its list and a folder, which a student opens. */
async function beginning(postgres: ScratchPostgres, browser: Browser) {
  const { db, close } = openDatabase(postgres.url('postgres'));
  await db.execute(sql`create database empty`);
  await close();
  process.env.E2E_DATABASE_EMPTY = postgres.url('empty');
  const server = await startEmptyServer();
  const { step, taken } = counter();
  const open = async (path: string) => {
    const context = await browser.newContext({ baseURL: server.address, locale: 'en-GB' });
    const page = await context.newPage();
    await page.goto(path);
    return page;
  };
  const press = (page: Page, name: string | RegExp) =>
    step(page.getByRole('button', { name, exact: typeof name === 'string' }).click());
  const follow = (page: Page, name: string) => step(page.getByRole('link', { name }).click());
  /** Signs in with the only slip that is shown on a page, and chooses a password. */
  async function comeWithSlip(from: Page) {
    const slip = from.getByRole('dialog').getByRole('listitem').locator('.font-code');
    const [name, first] = (await slip.innerText()).split(' · ') as [string, string];
    const page = await open('/sign-in');
    await page.getByLabel('Email address').fill(name);
    await page.getByLabel('Password').fill(first);
    await press(page, 'Sign in');
    await page.getByLabel('New password').fill('five tall ships');
    await press(page, 'Save and sign in');
    return page;
  }

  const office = await open(/\/begin\/\S+/u.exec(await server.school('address'))![0]);
  await office.getByLabel('Name of the school').fill('Harbour Road School');
  await office.getByLabel('Your name').fill('Ada Quill');
  await office.getByLabel('Your email address').fill('ada@harbour.example');
  await office.getByLabel('A password').fill('five tall ships');
  await press(office, 'Begin');
  await follow(office, 'Teachers');
  const adding = office.getByRole('form', { name: 'Add somebody' });
  await adding.getByLabel('Name').fill('Bruno Tailor');
  await press(office, 'Add');

  const teacher = await comeWithSlip(office);
  await follow(teacher, 'Your first class');
  await teacher.getByLabel('Title of the course').fill('Textiles');
  await teacher.getByLabel('Codes of its classes').fill('TX1');
  await press(teacher, 'Make course');
  // The step leads to the list as soon as it is known which class there is.
  await teacher.locator('a[href$="/list"]', { hasText: 'Its list' }).waitFor();
  await follow(teacher, 'Its list');
  await teacher.getByLabel('The list').fill('Noor Eriksen\n');
  await press(teacher, 'Check the list');
  await press(teacher, /^Import/u);
  await press(teacher, 'Print 1 slip');
  const student = await comeWithSlip(teacher);
  await press(teacher, 'Close');
  await follow(teacher, 'Library');
  await press(teacher, 'New folder');
  await teacher.keyboard.type('Seams');
  await step(teacher.keyboard.press('Enter'));
  await teacher.getByRole('heading', { level: 1, name: 'Seams' }).waitFor();
  await step(dropFiles(teacher, [textFile('French seam.txt', 'Wrong sides together first.')]));
  await teacher.getByText('1 file added to Seams.').waitFor();
  await step(audience(teacher, 'TX1').click());
  await step(student.getByRole('link', { name: /French seam/u }).click());
  await student.getByText('Wrong sides together first.').waitFor();
  report('steps_begin', taken(), 'actions', null, atMost(20));
  await server.stop();
}
