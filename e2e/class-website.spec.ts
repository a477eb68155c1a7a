import { expect, test, type Page } from '@playwright/test';
import { DEVICES } from './devices.ts';
import { api, expectAccessible, openAs, visit } from './steps.ts';

/** A course with a class, and on its page a heading with a folder and a note: they go when the journey ends. */
let made: { teacher: Page; course: string; folder: string } | null = null;
test.afterEach(async () => {
  if (!made) return;
  const { teacher, course, folder } = made;
  made = null;
  await api(teacher, 'POST /api/bin', { body: { things: [{ kind: 'folder', id: folder }] } });
  await api(teacher, 'DELETE /api/courses/:course', { params: { course } });
  await teacher.context().close();
});

async function makeClassPage(teacher: Page) {
  const { years } = await api(teacher, 'GET /api/courses');
  const stamp = String(Date.now()).slice(-6);
  const { id: course } = await api(teacher, 'POST /api/courses', {
    body: { title: `Water ${stamp}`, colour: 'lake', yearId: years[0]!.id, classes: [`W${stamp}`] },
  });
  const { courses } = await api(teacher, 'GET /api/courses');
  const { id: classId, code } = courses.find(({ id }) => id === course)!.classes[0]!;
  const { id: folder } = await api(teacher, 'POST /api/folders', {
    body: { parentId: null, title: `Ponds ${stamp}` },
  });
  made = { teacher, course, folder };
  await api(teacher, 'POST /api/links', {
    body: { folderId: folder, url: 'https://ponds.example/', title: 'Pond map' },
  });
  const { id: headingId } = await api(teacher, 'POST /api/class-pages/:class/headings', {
    params: { class: classId },
    body: { title: 'Outside' },
  });
  const put = (title: string, text: string, things: { kind: 'folder'; id: string }[]) =>
    api(teacher, 'POST /api/entries', {
      body: { title, text, things, on: [{ classId, headingId }] },
    });
  await put('Only for us', 'The key is under the pot.', []);
  await put('To the pond', 'Bring boots.', [{ kind: 'folder', id: folder }]);
  return { classId, code, folder: `Ponds ${stamp}`, title: `Water ${stamp}` };
}

test('a website is opened by the keys alone, with its first public folder, and closed again', async ({
  browser,
}) => {
  const teacher = await openAs(browser, 'teacher');
  const { classId, code, folder, title } = await makeClassPage(teacher);
  await visit(teacher, `/class-page/${classId}`);
  await teacher.getByRole('button', { name: 'Class website' }).press('Enter');
  const form = teacher.getByRole('form', { name: `The website of ${code}` });
  await expect(form.getByRole('status')).toHaveText('Visitors will see nothing yet.');
  await form.getByRole('checkbox', { name: 'Outside' }).press('Space');
  await form.getByRole('checkbox', { name: `Open “${folder}” to visitors` }).press('Space');
  await form.getByRole('checkbox', { name: 'Show the text of “To the pond”' }).press('Space');
  await expect(form.getByRole('status')).toContainText(
    `Visitors will see 1 entry. “${folder}” will be open to everybody`,
  );
  await expectAccessible(teacher);
  await form.getByLabel('About everything else').selectOption('the titles of headings and entries');
  await form.getByRole('button', { name: 'Open the website' }).press('Enter');
  await expect(teacher.getByText(`Website of ${code} opened`)).toBeVisible();
  await expect(teacher.getByTitle('On the website of the class')).toBeVisible();

  await teacher.getByRole('button', { name: 'Class website' }).press('Enter');
  await expect(form.getByRole('button', { name: 'Copy the address' })).toBeVisible();
  await expectAccessible(teacher);
  const address = (await form.getByRole('link', { name: 'Look at it' }).getAttribute('href'))!;
  const visitor = await (await browser.newContext()).newPage();
  await visit(visitor, address);
  await expect(visitor.getByRole('heading', { level: 1, name: title })).toBeVisible();
  await expect(visitor.getByText('Bring boots.')).toBeVisible();
  await expect(visitor.getByText('Only for us')).toBeVisible();
  await expect(visitor.getByText('The key is under the pot.')).toHaveCount(0);
  await visitor.getByRole('button', { name: folder }).press('Enter');
  await expect(visitor.getByRole('link', { name: 'Pond map' })).toBeVisible();

  // What is taken from it goes from the open page, and comes back by Undo.
  await form.getByRole('checkbox', { name: 'Outside' }).press('Space');
  await form.getByRole('button', { name: 'Save' }).press('Enter');
  await expect(visitor.getByText('Nothing is open to visitors here yet.')).toBeVisible();
  const toast = teacher.getByText(`Website of ${code} changed`).locator('..');
  await toast.getByRole('button', { name: 'Undo' }).press('Enter');
  await expect(visitor.getByText('Bring boots.')).toBeVisible();

  await teacher.getByRole('button', { name: 'Class website' }).press('Enter');
  await form.getByRole('button', { name: 'Close the website' }).press('Enter');
  await expect(teacher.getByText(`Website of ${code} closed`)).toBeVisible();
  await visitor.reload();
  await expect(
    visitor.getByRole('heading', { name: 'This address has been closed' }),
  ).toBeVisible();
  await visitor.context().close();
});

for (const [device, options] of Object.entries(DEVICES))
  test(`on a ${device} whoever comes reads the website, walks its folders, and is told what is for the class alone`, async ({
    browser,
  }) => {
    const teacher = await openAs(browser, 'teacher');
    const { doors } = await api(teacher, 'GET /api/doors');
    await teacher.context().close();
    const site = doors.find(({ title }) => title === 'Soil Science I SO1A')!;
    const visitor = await (await browser.newContext(options)).newPage();
    await visit(visitor, site.address);
    await expect(visitor.getByRole('heading', { level: 1, name: 'Soil Science I' })).toBeVisible();
    await expect(visitor.getByText('Boots, gloves, a ruler of 30 cm.')).toBeVisible();
    await expect(visitor.getByText('Soil profile')).toBeVisible();
    await expect(visitor.getByText('At the pit')).toHaveCount(0);
    await expectAccessible(visitor);
    const wide = await visitor.evaluate(() => document.documentElement.scrollWidth);
    expect(wide).toBeLessThanOrEqual(options.viewport!.width);
    await visitor.getByRole('link', { name: 'Open Field guides by itself' }).click();
    await expect(visitor.getByRole('heading', { level: 1, name: /Field guides/u })).toBeVisible();
    await visitor
      .getByRole('link', { name: /Leaf shapes/u })
      .first()
      .click();
    await expect(visitor).toHaveURL(/\/item\//u);
    await expect(visitor.getByText('Leaf shapes, pocket card').first()).toBeVisible();
    await visitor.goBack();
    await visitor.getByRole('link', { name: 'Class website' }).click();
    await expect(visitor.getByRole('heading', { name: 'To take along' })).toBeVisible();
    const signIn = visitor.getByRole('link', { name: 'Sign in to see the whole page' });
    const [opened] = await Promise.all([visitor.waitForEvent('popup'), signIn.click()]);
    await expect(opened).toHaveURL(/sign-in/u);
    await visitor.context().close();
  });

test('a website elsewhere shows it in a frame, from its address alone', async ({ browser }) => {
  const visitor = await (await browser.newContext()).newPage();
  await visit(visitor, process.env.E2E_WEBSITE!);
  const frame = visitor.frameLocator('iframe[title="Soil Science I SO1A"]');
  await expect(frame.getByRole('heading', { name: 'To take along' })).toBeVisible();
  await frame.getByRole('link', { name: 'Open Field guides by itself' }).click();
  await expect(frame.getByRole('heading', { level: 1, name: /Field guides/u })).toBeVisible();
  await visitor.context().close();
});
