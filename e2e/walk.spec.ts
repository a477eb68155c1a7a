import { expect, test, type Page } from '@playwright/test';
import { makePdf } from '../demo/src/files/pdf.ts';
import { makePicture } from '../demo/src/files/picture.ts';
import {
  addFiles,
  audience,
  dropFiles,
  expectAccessible,
  makeFolder,
  openAs,
  row,
  textFile,
  visit,
} from './steps.ts';

/** A folder handed out to a class, from end to end. The steps build on each other. */
test.describe.configure({ mode: 'serial' });

const UNIT = 'Walk, water and air';
let teacher: Page;
let student: Page;
let outer = '';
let inner = '';
let door = '';
let pdfAddress = '';

const idIn = (page: Page) => page.url().split('/').at(-1) ?? '';

test.beforeAll(async ({ browser }) => {
  teacher = await openAs(browser, 'teacher');
  student = await openAs(browser, 'studentA');
});
test.afterAll(async () => {
  await teacher.context().close();
  await student.context().close();
});

test('1 the sign-in page offers the sample people, and signs in by address and password', async ({
  page,
}) => {
  await visit(page, '/library');
  await expect(page).toHaveURL(/\/sign-in\?to=/u);
  await expectAccessible(page);
  await page.getByLabel('Email address').fill('ilse.vandermoor@fennmoor.example');
  await page.getByLabel('Password').fill('fennmoor');
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Library' })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: /Signed in as/u }).click();
  await page.getByRole('button', { name: 'Sign out' }).click();
  await expect(page.getByRole('button', { name: 'Sign in', exact: true })).toBeVisible();
});

test('2 folders in folders, many files by picking and by dropping, with kind, size and day', async () => {
  await makeFolder(teacher, UNIT);
  outer = idIn(teacher);
  await makeFolder(teacher, 'Rings and tubes');
  inner = idIn(teacher);
  await expect(teacher.getByRole('navigation', { name: 'Folders above this one' })).toContainText(
    `Library›${UNIT}`,
  );
  await expect(teacher.getByRole('treeitem', { name: 'Rings and tubes' })).toHaveAttribute(
    'aria-current',
    'page',
  );
  await expect(teacher.getByText('Nothing in this folder yet')).toBeVisible();

  const pdf = await makePdf({
    title: 'Sinking rings',
    course: 'Soil Science I',
    code: 'SO1',
    colour: '#2f6f4f',
    blocks: [{ text: 'How fast does water sink?' }, { newPage: true }, { lines: 10 }],
  });
  // One byte more than the picture in the library, which would else be placed here instead of kept twice.
  const picture = Buffer.concat([await makePicture('soilPit'), Buffer.from([0])]);
  await addFiles(teacher, [
    { name: 'Sinking rings.pdf', mimeType: 'application/pdf', buffer: pdf },
    { name: 'Böden 土壌.jpg', mimeType: 'image/jpeg', buffer: picture },
    textFile('Notes.txt', 'Water sinks faster in sand.'),
  ]);
  await expect(teacher.getByText(/^3 files added to Rings and tubes\.$/u)).toBeVisible();
  await dropFiles(teacher, [textFile('Dropped.csv', 'minute,mm\n1,12\n2,19\n')]);
  await expect(teacher.getByText(/^1 file added to Rings and tubes\.$/u)).toBeVisible();
  await expect(row(teacher, 'Sinking rings')).toContainText(
    /PDF.*Not handed out · \d+ \w+ · \d+ KB/u,
  );
  await expect(row(teacher, 'Dropped')).toContainText('CSV');
  await expectAccessible(teacher);
});

test('3 handed out in the panel: the sentence before, the toast after, the tabs at once', async () => {
  await teacher
    .getByRole('navigation', { name: 'Folders above this one' })
    .getByRole('link', { name: UNIT })
    .click();
  const panel = teacher.getByRole('complementary', { name: 'Who sees this folder' });
  await expect(panel).toContainText('Nobody but you');
  await expect(audience(teacher, 'SO1A')).toHaveAccessibleDescription(
    '24 students will see 4 items straight away, and everything added later.',
  );
  await expect(panel.getByText('would see 4 items').first()).toBeVisible();
  await audience(teacher, 'SO1A').click();
  await expect(teacher.getByText(`${UNIT} handed out to SO1A`)).toBeVisible();
  await expect(audience(teacher, 'SO1A')).toBeChecked();
  await expect(panel).toContainText('24 students in 1 class');
  await expect(row(teacher, 'Rings and tubes').getByText('SO1A: out now')).toBeAttached();

  await teacher.keyboard.press('Control+z');
  await expect(audience(teacher, 'SO1A')).not.toBeChecked();
  await audience(teacher, 'SO1A').click();
  await expect(audience(teacher, 'SO1A')).toBeChecked();
  await expectAccessible(teacher);
});

test('4 the student finds it under New and My classes, opens a PDF and a picture, downloads', async () => {
  await visit(student, '/new');
  await expect(student.getByRole('link', { name: /Sinking rings/u })).toBeVisible();
  await expectAccessible(student);
  await student
    .getByRole('navigation', { name: 'Places' })
    .getByRole('link', { name: 'My classes' })
    .click();
  await student.locator('#main').getByRole('link', { name: UNIT }).click();
  await expect(student.getByRole('heading', { level: 1, name: UNIT })).toBeVisible();
  await student.getByRole('link', { name: /Rings and tubes/u }).click();
  await expect(student.getByRole('navigation', { name: 'Folders above this one' })).toContainText(
    `My classes›${UNIT}`,
  );
  await expectAccessible(student);

  await student
    .locator('#main')
    .getByRole('link', { name: /^(New)?\s*Sinking rings/u })
    .click();
  await expect(student).toHaveURL(/\/item\//u);
  pdfAddress = student.url();
  await expect(student.getByLabel('Page 1 of 2')).toContainText('How fast does water sink?');
  await expectAccessible(student);
  // The arrow keys go to the neighbours. Files that come in together lie in the order in which they arrive.
  const picture = student.getByRole('img', { name: 'Böden 土壌' });
  for (const key of [
    'ArrowLeft',
    'ArrowLeft',
    'ArrowLeft',
    'ArrowRight',
    'ArrowRight',
    'ArrowRight',
  ]) {
    if ((await student.getByRole('heading', { level: 1 }).textContent()) === 'Böden 土壌') break;
    const address = student.url();
    await student.keyboard.press(key);
    await student
      .waitForURL((url) => url.href !== address, { timeout: 1500 })
      .catch(() => undefined);
  }
  await expect(picture).toHaveJSProperty('naturalWidth', 1600);
  await expectAccessible(student);

  const [download] = await Promise.all([
    student.waitForEvent('download'),
    student.getByRole('link', { name: 'Download' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('Böden 土壌.jpg');
});

test('5 what is added later is there at the next look; one item lies in two folders', async () => {
  await teacher
    .getByRole('link', { name: /Rings and tubes/u })
    .first()
    .click();
  await addFiles(teacher, [textFile('Added later.txt', 'later')]);
  await expect(row(teacher, 'Added later')).toBeVisible();
  await visit(student, '/new');
  await expect(student.getByRole('link', { name: /Added later/u })).toBeVisible();

  await teacher.getByRole('treeitem', { name: 'Masters' }).click();
  await row(teacher, 'Ideas for the spring term')
    .getByRole('button', { name: /Actions for/u })
    .click();
  await teacher.getByRole('menuitem', { name: 'Also put in …' }).click();
  await teacher.getByLabel('Which folder?').fill('water and air rings');
  await teacher.keyboard.press('Enter');
  await teacher.getByRole('button', { name: 'Put in Rings and tubes' }).click();
  await expect(
    teacher.getByText('Ideas for the spring term is now in Rings and tubes too'),
  ).toBeVisible();
  await expect(row(teacher, 'Ideas for the spring term')).toContainText('also in Rings and tubes');
  await expect(row(teacher, 'Ideas for the spring term').getByText('SO1A: out now')).toBeAttached();
  await visit(teacher, `/folder/${inner}`);
  await expect(row(teacher, 'Ideas for the spring term')).toContainText('also in Masters');
  await visit(student, `/folder/${inner}`);
  await expect(student.getByText('Ideas for the spring term')).toBeVisible();
  await expect(student.getByText('Masters')).toHaveCount(0);
});

test('6 a public door opens only what lies behind it, and closes at once', async ({ browser }) => {
  await visit(teacher, `/folder/${outer}`);
  await audience(teacher, 'Public').click();
  await expect(
    teacher.getByText('Visitors will see 6 items straight away, and everything added later.'),
  ).toHaveCount(2);
  await teacher.getByRole('button', { name: 'Open to all' }).click();
  door = await teacher.getByLabel('Address of this door').inputValue();
  await teacher.context().grantPermissions(['clipboard-read', 'clipboard-write']);
  await teacher.getByRole('button', { name: 'Copy', exact: true }).click();
  await expect(teacher.getByRole('button', { name: 'Copied' })).toBeVisible();
  expect(await teacher.evaluate(() => navigator.clipboard.readText())).toBe(door);

  const visitor = await (await browser.newContext()).newPage();
  await visit(visitor, door);
  await expect(visitor.getByRole('heading', { level: 1, name: UNIT })).toBeVisible();
  await expect(visitor.getByRole('navigation', { name: 'Places' })).toHaveCount(0);
  await expect(visitor.getByText('Library')).toHaveCount(0);
  await expectAccessible(visitor);
  await visitor.getByRole('link', { name: /Rings and tubes/u }).click();
  const [download] = await Promise.all([
    visitor.waitForEvent('download'),
    visitor.getByRole('link', { name: 'Download Sinking rings' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('Sinking rings.pdf');
  await visitor.getByRole('link', { name: /^Notes/u }).click();
  await expect(visitor.getByText('Water sinks faster in sand.')).toBeVisible();

  await audience(teacher, 'Public').click();
  await expect(teacher.getByText(`${UNIT}: address closed`)).toBeVisible();
  await expect(audience(teacher, 'Public')).not.toBeChecked();
  await visit(visitor, door);
  await expect(
    visitor.getByRole('heading', { name: 'This address has been closed' }),
  ).toBeVisible();
  await expect(visitor.getByText(UNIT)).toHaveCount(0);
  await expectAccessible(visitor);
  await visitor.context().close();
});

test('7 a student of another class learns nothing from any address', async ({ browser }) => {
  const other = await openAs(browser, 'studentElsewhere');
  const placement = pdfAddress.split('/').at(-1);
  for (const address of [`/folder/${outer}`, `/folder/${inner}`, `/item/${placement}`]) {
    await visit(other, address);
    // The wall says for whom it is, and not what.
    await expect(
      other.getByRole('heading', { name: 'This is not handed out to you' }),
    ).toBeVisible();
    await expect(other.getByText(/rings|water/iu)).toHaveCount(0);
  }
  const session = other.context().request;
  for (const path of [
    `folders/${outer}`,
    `folders/${inner}/contents`,
    `folders/${inner}/audience`,
    `placements/${placement}`,
    `placements/${placement}/content`,
  ]) {
    const reply = await session.get(`/api/${path}`);
    expect(reply.status(), path).toBe(404);
    expect(await reply.text()).not.toMatch(/rings|water/iu);
  }
  for (const place of ['/new', '/classes']) {
    await visit(other, place);
    await expect(other.getByRole('heading', { level: 1 })).toBeVisible();
    await expect(other.getByText(UNIT)).toHaveCount(0);
  }
  await other.context().close();
});

test('8 taken back it is gone at once, and Undo brings it back', async () => {
  await visit(teacher, `/folder/${outer}`);
  await audience(teacher, 'SO1A').click();
  await expect(teacher.getByText('24 students will no longer see 6 items.')).toHaveCount(2);
  await teacher.getByRole('button', { name: 'Take back' }).click();
  await expect(teacher.getByText(`${UNIT} taken back from SO1A`)).toBeVisible();
  await visit(student, pdfAddress);
  await expect(
    student.getByRole('heading', { name: 'This is not handed out to you' }),
  ).toBeVisible();
  await visit(student, '/classes');
  await expect(student.getByRole('heading', { level: 1, name: 'My classes' })).toBeVisible();
  await expect(student.getByText(UNIT)).toHaveCount(0);

  await teacher.getByRole('button', { name: 'Undo' }).click();
  await expect(audience(teacher, 'SO1A')).toBeChecked();
  await visit(student, pdfAddress);
  await expect(student.getByRole('heading', { level: 1, name: 'Sinking rings' })).toBeVisible();
});
