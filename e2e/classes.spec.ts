import { expect, test, type Page } from '@playwright/test';
import {
  audience,
  expectAccessible,
  goTo,
  makeFolder,
  openAs,
  openLetter,
  signIn,
  visit,
} from './steps.ts';

/** Courses, classes and their lists, from making them to removing them. The steps build on each other. */
test.describe.configure({ mode: 'serial' });

let teacher: Page;
let folder = '';
test.beforeAll(async ({ browser }) => {
  teacher = await openAs(browser, 'otherTeacher');
});
test.afterAll(async () => {
  await teacher.context().close();
});

const member = (name: string) => teacher.getByRole('listitem').filter({ hasText: name }).last();

test('a course with its classes, and a list pasted as it comes: looked at, taken, undone, taken again', async () => {
  await goTo(teacher, 'Classes');
  await teacher.getByRole('button', { name: 'New course' }).click();
  await teacher.getByLabel('Title of the course').fill('Hedge Craft');
  await teacher.getByLabel('Codes of its classes').fill('HC1, HC2');
  await expectAccessible(teacher);
  await teacher.getByRole('button', { name: 'Make course' }).click();
  await teacher.getByRole('link', { name: /HC1/u }).click();
  await expect(teacher.getByText('Import a list: paste names')).toBeVisible();
  await teacher.getByRole('button', { name: 'Import a list' }).click();
  await teacher
    .getByLabel('The list')
    .fill(
      'Brandsma, Tess <tess@hedges.example>\nPim Haring\nMina Kovarik\nIlse Vandermoor <ilse.vandermoor@fennmoor.example>\nOdd <nothing>',
    );
  await teacher.getByRole('button', { name: 'Check the list' }).click();
  await expect(teacher.getByRole('heading', { name: '1 cannot be imported' })).toBeVisible();
  await expect(teacher.getByRole('heading', { name: '2 to check' })).toBeVisible();
  await expect(teacher.getByRole('heading', { name: '2 new people' })).toBeVisible();
  await expectAccessible(teacher);
  await teacher.getByLabel('What about Mina Kovarik').selectOption('The same person');
  await teacher.getByRole('button', { name: 'Import 3 lines' }).click();
  // She has an account that is not this teacher's: she is asked, and sees nothing of the class until she joins.
  await expect(teacher.getByText('2 joined. 1 will be asked.')).toBeVisible();
  await expect(member('Tess Brandsma')).toContainText('tess@hedges.example');
  await expect(member('Pim Haring')).toContainText(/pim\.h\d\d/u);
  await teacher.keyboard.press('Control+z');
  await expect(teacher.getByText('Import a list: paste names')).toBeVisible();
  await teacher.getByRole('button', { name: 'Import a list' }).click();
  await teacher.getByLabel('The list').fill('Tess Brandsma;tess@hedges.example\nPim Haring;');
  await teacher.getByRole('button', { name: 'Check the list' }).click();
  // Tess has an account by now; a name alone is asked about.
  await teacher.getByLabel('What about Pim Haring').selectOption('The same person');
  await teacher.getByRole('button', { name: 'Import 2 lines' }).click();
  await expect(teacher.getByText('2 students · 2 cannot sign in yet')).toBeVisible();
  await expectAccessible(teacher);
});

test('without a mail address a printed slip signs in, and what the class has is there at once', async ({
  browser,
}) => {
  await goTo(teacher, 'Library');
  await makeFolder(teacher, 'Hedge lessons');
  folder = teacher.url();
  await audience(teacher, 'HC1').click();
  await expect(audience(teacher, 'HC1')).toBeChecked();
  await goTo(teacher, 'Classes');
  await teacher.getByRole('link', { name: /HC1/u }).click();
  await member('Pim Haring')
    .getByRole('button', { name: /Actions for/u })
    .click();
  await teacher.getByRole('menuitem', { name: 'Print a new slip' }).click();
  const slip = teacher.getByRole('dialog');
  const [name, word] = (await slip.getByText(/pim\.h\d+ · /u).textContent())!.split(' · ');
  await expectAccessible(teacher);
  await slip.getByRole('button', { name: 'Close' }).click();

  const student = await (await browser.newContext()).newPage();
  await visit(student, '/sign-in');
  await student.getByLabel('Email address or sign-in name').fill(name!.trim());
  await student.getByLabel('Password').fill(word!.trim());
  await student.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(student.getByRole('heading', { name: 'Choose a password' })).toBeVisible();
  await expectAccessible(student);
  await student.getByLabel('New password').fill('hedges in winter');
  await student.getByRole('button', { name: 'Save and sign in' }).click();
  await student.getByRole('link', { name: 'My classes' }).first().click();
  await expect(student.getByRole('link', { name: /Hedge lessons/u })).toBeVisible();

  await member('Pim Haring')
    .getByRole('button', { name: /Actions for/u })
    .click();
  await teacher.getByRole('menuitem', { name: 'Remove from class today' }).click();
  await expect(teacher.getByText('Pim Haring has left the class')).toBeVisible();
  await visit(student, folder);
  await expect(
    student.getByRole('heading', { name: 'This is not handed out to you' }),
  ).toBeVisible();
  await teacher.keyboard.press('Control+z');
  await expect(teacher.getByText('2 students')).toBeVisible();
  await student.context().close();
});

test('with an address an invitation leads to a password of one’s own; a forgotten one, too', async ({
  browser,
}) => {
  await teacher.getByRole('button', { name: 'Invite 1 by email' }).click();
  await expect(teacher.getByText('1 email is on its way')).toBeVisible();
  const student = await (await browser.newContext()).newPage();
  await openLetter(student, 'Tess Brandsma', 'your account');
  await expectAccessible(student);
  await student.getByRole('link', { name: /\/password\//u }).click();
  await student.getByLabel('New password').fill('hedges grow slowly');
  await expectAccessible(student);
  await student.getByRole('button', { name: 'Save' }).click();
  await student.getByRole('link', { name: 'Sign in' }).click();
  await student.getByRole('button', { name: 'Forgotten your password?' }).click();
  await student.getByLabel('Email address').fill('tess@hedges.example');
  await student.getByRole('button', { name: 'Send the email' }).click();
  await expect(student.getByText('If there is an account for tess@hedges.example')).toBeVisible();
  await student.getByRole('button', { name: 'Back to signing in' }).click();
  await student.getByLabel('Email address or sign-in name').fill('tess@hedges.example');
  await student.getByLabel('Password').fill('hedges grow slowly');
  await student.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(student.getByRole('button', { name: 'Signed in as Tess Brandsma' })).toBeVisible();
  await student.context().close();
});

test('days of joining and leaving, another class, and a course removed with a question and brought back', async () => {
  await teacher.reload();
  await member('Tess Brandsma')
    .getByRole('button', { name: /Actions for/u })
    .click();
  await teacher.getByRole('menuitem', { name: 'Joining and leaving …' }).click();
  await teacher.getByLabel('First day').fill('2026-09-01');
  await teacher.getByLabel('Not in the class from').fill('2026-08-01');
  await expect(teacher.getByText('The end must come after the start.')).toBeVisible();
  await teacher.getByLabel('Not in the class from').fill('2099-07-01');
  await teacher.getByRole('button', { name: 'Save' }).click();
  await expect(member('Tess Brandsma')).toContainText('until 1 Jul 2099');
  await member('Tess Brandsma')
    .getByRole('button', { name: /Actions for/u })
    .click();
  await teacher.getByRole('menuitem', { name: 'Move to HC2' }).click();
  await expect(teacher.getByText('Tess Brandsma now belongs to HC2')).toBeVisible();
  await expect(teacher.getByText('1 student ·')).toBeVisible();
  await teacher.keyboard.press('Control+z');
  await expect(teacher.getByText('2 students ·')).toBeVisible();

  await goTo(teacher, 'Classes');
  const course = teacher.locator('section').filter({ hasText: 'Hedge Craft' });
  await course.getByRole('button', { name: 'Change' }).click();
  await expectAccessible(teacher);
  await course.getByRole('button', { name: 'Remove course' }).click();
  await teacher.getByRole('dialog').getByRole('button', { name: 'Remove' }).click();
  await expect(
    teacher.getByText('Hedge Craft removed. Everything handed out to it has been taken back'),
  ).toBeVisible();
  await expect(teacher.getByRole('heading', { name: 'Hedge Craft' })).toHaveCount(0);
  await teacher.keyboard.press('Control+z');
  await expect(teacher.getByRole('heading', { name: 'Hedge Craft' })).toBeVisible();
});

test('the office saves the lists for the school’s system, and takes them in again without a change', async ({
  browser,
}) => {
  const office = await openAs(browser, 'office');
  await expect(office.getByRole('heading', { level: 1, name: 'Classes' })).toBeVisible();
  const [download] = await Promise.all([
    office.waitForEvent('download'),
    office.getByRole('link', { name: 'Save as OneRoster' }).click(),
  ]);
  await office.getByRole('button', { name: 'Import from the school system' }).click();
  await office.getByLabel('Zip file').setInputFiles(await download.path());
  await expect(office.getByText(/Courses: 0 new, \d+ known/u)).toBeVisible();
  await expect(office.getByText(/People: 0 new, \d+ known/u)).toBeVisible();
  await expect(office.getByText('0 join, 0 leave')).toBeVisible();
  await expectAccessible(office);
  await office.context().close();
});

test('somebody with an account joins when they say so, or when the office does', async ({
  browser,
}) => {
  await goTo(teacher, 'Classes');
  await teacher.getByRole('link', { name: /HC1/u }).click();
  await teacher.getByRole('button', { name: 'Import a list' }).click();
  await teacher
    .getByLabel('The list')
    .fill(
      'Mina Kovarik;mina.kovarik@fennmoor.example\nPriya Raghavane;priya.raghavane@fennmoor.example',
    );
  await teacher.getByRole('button', { name: 'Check the list' }).click();
  await expect(teacher.getByRole('heading', { name: '2 will be asked to join' })).toBeVisible();
  await teacher.getByRole('button', { name: 'Import 2 lines' }).click();
  await expect(
    teacher.getByRole('heading', { name: '2 people have been asked to join' }),
  ).toBeVisible();
  await expectAccessible(teacher);

  const student = await openAs(browser, 'studentA');
  await visit(student, '/new');
  await expect(student.getByRole('heading', { name: 'A class asks you to join' })).toBeVisible();
  await expectAccessible(student);
  await student.getByRole('button', { name: 'Join', exact: true }).click();
  await expect(student.getByText('You are in HC1 now')).toBeVisible();
  await expect(student.getByRole('heading', { name: 'A class asks you to join' })).toBeHidden();
  await expect(student.getByRole('link', { name: /Hedge lessons/u })).toBeVisible();
  await student.context().close();

  const office = await openAs(browser, 'office');
  await visit(office, '/classes');
  await expect(
    office.getByRole('heading', { name: '1 person waits to join a class' }),
  ).toBeVisible();
  await expectAccessible(office);
  await office.getByRole('button', { name: 'Say no' }).click();
  await expect(office.getByText('Request declined')).toBeVisible();
  await office.context().close();

  await teacher.reload();
  await expect(member('Mina Kovarik')).toBeVisible();
  await expect(teacher.getByText('Priya Raghavane')).toBeHidden();
});

test('a student has their own classes, and none of the places of those who teach', async ({
  page,
}) => {
  await signIn(page, 'studentB');
  await visit(page, '/classes');
  await expect(page.getByRole('heading', { level: 1, name: 'My classes' })).toBeVisible();
  // What is for those who teach leads a student back to their own first page.
  for (const path of ['/today', '/who-sees-what', '/see-as/visitor', '/doors', '/staff-room']) {
    await visit(page, path);
    await expect(page).toHaveURL(/\/new$/u);
  }
});
