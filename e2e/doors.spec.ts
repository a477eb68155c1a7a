import { expect, test, type Page } from '@playwright/test';
import {
  addFiles,
  api,
  audience,
  expectAccessible,
  goTo,
  makeFolder,
  openAs,
  openLetter,
  row,
  textFile,
  visit,
} from './steps.ts';

/** Doors and the wall, from both sides. The steps build on each other. */
test.describe.configure({ mode: 'serial' });

let teacher: Page;
let visitor: Page;
let folder = '';
let short = '';
test.beforeAll(async ({ browser }) => {
  teacher = await openAs(browser, 'teacher');
  visitor = await (await browser.newContext()).newPage();
});
test.afterAll(async () => {
  await teacher.context().close();
  await visitor.context().close();
});
const sheet = () => teacher.getByRole('dialog');

test('what looks confidential is flagged before a door opens; a short address can be said aloud', async () => {
  await goTo(teacher, 'Library');
  await makeFolder(teacher, 'Open evening');
  folder = teacher.url();
  await addFiles(teacher, [
    textFile('Programme.txt', 'At six in the glasshouse.'),
    textFile('Marks of last year.txt', '1, 2, 3'),
  ]);
  await expect(row(teacher, 'Marks of last year')).toBeVisible();
  await teacher.getByRole('button', { name: 'Close' }).click();
  await audience(teacher, 'Public').click();
  await expect(
    teacher.getByText('“Marks of last year” looks confidential (“marks”).'),
  ).toBeVisible();
  await expectAccessible(teacher);
  await teacher.getByRole('button', { name: 'Open to all' }).click();
  await teacher.getByRole('button', { name: 'More …' }).click();
  await sheet().getByRole('button', { name: 'Make a short address' }).click();
  await expect(sheet().getByText(/\/at\/[a-z]+-\d{5}/u)).toBeVisible();
  short = /\/at\/([a-z]+-\d{5})/u.exec((await sheet().textContent())!)![1]!;
  await expect(sheet().getByRole('img', { name: 'QR code of the address' })).toHaveJSProperty(
    'complete',
    true,
  );
  expect(
    await sheet()
      .getByRole('img', { name: 'QR code of the address' })
      .evaluate((image: HTMLImageElement) => image.naturalWidth),
  ).toBeGreaterThan(0);
  await expectAccessible(teacher);
  await visit(visitor, '/at');
  await expectAccessible(visitor);
  await visitor.getByLabel('Short address').fill(short.toUpperCase().replace('-', '  '));
  await visitor.getByRole('button', { name: 'Open' }).click();
  await expect(visitor.getByRole('heading', { level: 1, name: 'Open evening' })).toBeVisible();
  await visit(visitor, '/at/nosuch-00000');
  await expect(visitor.getByText('There is no such short address.')).toBeVisible();
});

test('on a class website the folder is walked, previewed and taken along; nothing else of ours is framed', async () => {
  const website = process.env.E2E_WEBSITE!;
  const html = await sheet().getByLabel('For a class website').inputValue();
  await sheet().getByRole('button', { name: 'Small' }).click();
  expect(await sheet().getByLabel('For a class website').inputValue()).toContain('width="360"');
  await sheet().getByRole('button', { name: 'Close' }).click();

  await visit(visitor, website);
  const shown = visitor.frameLocator('iframe').last();
  await expect(shown.getByRole('heading', { level: 1 })).toBeVisible();
  await expect(visitor.getByRole('link', { name: 'Field guides' })).toBeVisible();

  // Our own HTML on a page of the website; and frames of what must not be framed.
  const frames = (inner: string) =>
    visitor.evaluate((body) => {
      document.body.innerHTML = body;
    }, inner);
  await frames(html);
  await expect(shown.getByRole('heading', { level: 1, name: 'Open evening' })).toBeVisible();
  await shown
    .getByRole('link', { name: /Programme/u })
    .first()
    .click();
  await expect(shown.getByText('At six in the glasshouse.')).toBeVisible();
  const address = process.env.E2E_ADDRESS!;
  const token = /\/embed\/([\w-]+)/u.exec(html)![1];
  for (const path of [
    '/library',
    `/open/${token}`,
    '/sign-in',
    '/embed/nothing-of-the-kind',
    '/post-room',
  ]) {
    const refused = visitor.waitForEvent('console', (message) => /frame/iu.test(message.text()));
    await frames(`<iframe src="${address}${path}"></iframe>`);
    expect((await refused).text(), path).toMatch(/frame-ancestors|X-Frame-Options/iu);
  }
});

test('a word, an end, a card with several, and a new address', async ({ browser }) => {
  await visit(teacher, folder);
  await teacher.getByRole('button', { name: 'More …' }).click();
  await sheet().getByLabel('Password to ask for').fill('Glasshouse');
  await sheet().getByRole('button', { name: 'Save' }).click();
  await expect(
    teacher.getByText('The door to Open evening now asks for the password'),
  ).toBeVisible();
  await expect(sheet().getByLabel('For a class website')).toHaveCount(0);
  await visit(visitor, `/at/${short}`);
  await expect(
    visitor.getByRole('heading', { name: 'This address asks for a password' }),
  ).toBeVisible();
  await expect(visitor.getByText('Open evening')).toHaveCount(0);
  await visitor.getByLabel('Password').fill('garden');
  await visitor.getByRole('button', { name: 'Open', exact: true }).click();
  await expect(visitor.getByText('That is not the password.')).toBeVisible();
  await expectAccessible(visitor);
  await visitor.getByLabel('Password').fill('glasshouse');
  await visitor.getByRole('button', { name: 'Open', exact: true }).click();
  await expect(visitor.getByRole('heading', { level: 1, name: 'Open evening' })).toBeVisible();

  const student = await openAs(browser, 'studentElsewhere');
  await visit(student, `/at/${short}`);
  await student.getByLabel('Password').fill('glasshouse');
  await student.getByRole('button', { name: 'Open', exact: true }).click();
  await student.getByRole('button', { name: 'Keep Open evening at hand' }).click();
  await expect(student.getByText('Open evening is now in Kept')).toBeVisible();
  await visit(student, '/kept');
  await row(student, 'Open evening').getByRole('link').first().click();
  await expect(student.getByRole('heading', { level: 1, name: 'Open evening' })).toBeVisible();
  await student.context().close();

  await sheet().getByLabel('Open until').fill('2020-01-01T08:00');
  await sheet().getByLabel('Open until').blur();
  await sheet().getByRole('button', { name: 'Save' }).click();
  await expect(teacher.getByText('Open evening: end of the door changed')).toBeVisible();
  await visitor.reload();
  await expect(visitor.getByRole('heading', { name: 'This address has ended' })).toBeVisible();
  await sheet().getByRole('button', { name: 'Close' }).click();

  await teacher.getByRole('link', { name: 'Doors' }).click();
  await teacher.getByRole('checkbox', { name: 'Put Open evening on the card' }).check();
  await teacher.getByRole('checkbox', { name: 'Put Field guides on the card' }).check();
  await expectAccessible(teacher);
  await teacher.emulateMedia({ media: 'print' });
  await expect(teacher.locator('.door-on-card')).toHaveCount(2);
  await expect(teacher.locator('.door-card').getByText(short)).toBeVisible();
  await expect(teacher.getByRole('heading', { name: 'Doors' })).toBeHidden();
  await teacher.emulateMedia({ media: 'screen' });
  const line = teacher.getByRole('listitem').filter({ hasText: 'Open evening' });
  await line.getByRole('button', { name: 'Change …' }).click();
  await sheet().getByRole('button', { name: 'Make a new address' }).click();
  await teacher.getByRole('button', { name: 'Make a new address' }).last().click();
  await expect(teacher.getByText('Open evening has a new address')).toBeVisible();
  await visit(visitor, `/at/${short}`);
  await expect(visitor.getByText('There is no such short address.')).toBeVisible();
});

test('a school door asks strangers to sign in, and then leads on', async ({ browser }) => {
  await visit(teacher, folder);
  await audience(teacher, 'School').click();
  await teacher.getByRole('button', { name: 'Open to the school' }).click();
  await expect(audience(teacher, 'School')).toBeChecked();
  const door = await teacher
    .getByRole('listitem')
    .filter({ has: audience(teacher, 'School') })
    .getByRole('textbox')
    .inputValue();
  const stranger = await (await browser.newContext()).newPage();
  await visit(stranger, door);
  await expect(
    stranger.getByRole('heading', { name: 'For people at Fennmoor College' }),
  ).toBeVisible();
  await stranger.getByRole('link', { name: 'Sign in' }).click();
  await stranger.getByRole('button', { name: 'Priya Raghavane' }).click();
  await expect(stranger.getByRole('heading', { level: 1, name: 'Open evening' })).toBeVisible();
  await stranger.context().close();
});

test('at the wall one may ask; Today shows it, one answer lets in, and the answer comes by mail', async ({
  browser,
}) => {
  await goTo(teacher, 'Library');
  await makeFolder(teacher, 'Only for some');
  const closed = teacher.url();
  const student = await openAs(browser, 'studentB');
  await visit(student, closed);
  await expect(
    student.getByRole('heading', { name: 'This is not handed out to you' }),
  ).toBeVisible();
  await student.getByLabel('Ask Ilse Vandermoor to let you see it').fill('I was ill last week.');
  await expectAccessible(student);
  await student.getByRole('button', { name: 'Ask', exact: true }).click();
  await expect(student.getByText('You have asked.')).toBeVisible();

  await goTo(teacher, /^Today/u);
  const request = teacher.getByRole('listitem').filter({ hasText: 'I was ill last week.' });
  await expect(request).toContainText('Priya Raghavane asks to see');
  await expectAccessible(teacher);
  await request.getByRole('button', { name: 'Hand out to SO1B' }).click();
  await expect(teacher.getByText('Only for some handed out to SO1B')).toBeVisible();
  await student.reload();
  await expect(student.getByRole('heading', { level: 1, name: 'Only for some' })).toBeVisible();
  await teacher.keyboard.press('Control+z');
  await expect(request).toBeVisible();
  await student.reload();
  await expect(student.getByText('You have asked.')).toBeVisible();
  await request.getByRole('button', { name: 'Say no' }).click();
  await expect(teacher.getByText('Priya Raghavane will be told no')).toBeVisible();
  await student.context().close();

  await teacher.getByRole('button', { name: 'Words that look confidential' }).click();
  const words = sheet().getByLabel('Words that look confidential');
  await words.fill('programme');
  await sheet().getByRole('button', { name: 'Save' }).click();
  await expect(teacher.getByText('Words saved')).toBeVisible();
  await teacher.getByRole('button', { name: 'Words that look confidential' }).click();
  await sheet().getByRole('button', { name: 'Bring back the original words' }).click();
  await expect(teacher.getByText('The original words are back')).toBeVisible();
});

test('a visitor without an account asks at a closed address, and gets a link by mail', async ({
  browser,
}) => {
  await goTo(teacher, 'Library');
  await makeFolder(teacher, 'Was open');
  const folder = teacher.url().split('/').at(-1)!;
  const door = await api(teacher, 'POST /api/doors', {
    body: {
      thing: { kind: 'folder', id: folder },
      kind: 'public',
    },
  });
  await api(teacher, 'DELETE /api/doors/:door', { params: { door: door.id } });
  const visitor = await (await browser.newContext()).newPage();
  await visit(visitor, door.address);
  await visitor.getByLabel('Your name').fill('Ada Fernley');
  await visitor.getByLabel('Your email address').fill('ada@outside.example');
  await visitor.getByLabel('Ask the teacher to let you see it').fill('My son was ill.');
  await expectAccessible(visitor);
  await visitor.getByRole('button', { name: 'Ask', exact: true }).click();
  await expect(visitor.getByText('The answer will come by email')).toBeVisible();

  await goTo(teacher, /^Today/u);
  const request = teacher.getByRole('listitem').filter({ hasText: 'My son was ill.' });
  await expect(request).toContainText('Ada Fernley (visitor, ada@outside.example) asks to see');
  await request.getByRole('button', { name: 'Send a link' }).click();
  await expect(sheet()).toContainText('Visitors will see 1 folder.');
  await sheet().getByRole('button', { name: 'Send a link' }).click();
  await expect(teacher.getByText('Ada Fernley will get a link.')).toBeVisible();
  await openLetter(visitor, 'ada@outside.example', 'Your request to Ilse Vandermoor');
  await visitor.getByRole('article').getByRole('link').click();
  await expect(visitor.getByRole('heading', { level: 1, name: 'Was open' })).toBeVisible();
  await teacher.keyboard.press('Control+z');
  await expect(request).toBeVisible();
  await visitor.reload();
  await expect(
    visitor.getByRole('heading', { name: 'This address has been closed' }),
  ).toBeVisible();
  await visitor.context().close();
});
