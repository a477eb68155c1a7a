import { expect, test, type Page } from '@playwright/test';
import { DEVICES } from './devices.ts';
import { addFiles, api, expectAccessible, openAs, row, textFile, visit } from './steps.ts';

/** A parent with a link, on a laptop, a tablet and a phone: no account, no explanation. */
let teacher: Page;
let folder = '';
let address = '';

test.beforeAll(async ({ browser }) => {
  teacher = await openAs(browser, 'teacher');
  const made = await api(teacher, 'POST /api/folders', {
    body: {
      parentId: null,
      title: 'Summer show',
    },
  });
  folder = made.id;
  const door = await api(teacher, 'POST /api/doors', {
    body: {
      thing: { kind: 'folder', id: folder },
      kind: 'public',
    },
  });
  address = door.address;
  await api(teacher, 'PATCH /api/doors/:door', {
    params: { door: door.id },
    body: {
      coverText: 'What is on, and where to stand.',
    },
  });
  await visit(teacher, `/folder/${folder}`);
  await addFiles(teacher, [
    textFile('Where to stand.txt', 'By the pond, not in it.'),
    textFile('What is on.txt', 'Roses at noon.'),
  ]);
  await expect(teacher.getByText('2 files added')).toBeVisible();
});
test.afterAll(() => teacher.context().close());

for (const [device, options] of Object.entries(DEVICES))
  test(`on a ${device}: title, text, contents, preview, download, feed, and what is added shows`, async ({
    browser,
  }) => {
    const context = await browser.newContext(options);
    const visitor = await context.newPage();
    const parts: string[] = [];
    visitor.on('request', (request) => parts.push(new URL(request.url()).pathname));
    await visit(visitor, address);
    await expect(visitor.getByRole('heading', { level: 1 })).toHaveText('Summer show');
    await expect(visitor).toHaveTitle('Summer show');
    await expect(visitor.getByText('What is on, and where to stand.')).toBeVisible();
    await expect(visitor.getByRole('navigation', { name: 'Places' })).toHaveCount(0);
    // What people with an account need is not loaded.
    expect(parts.filter((path) => /\/first-|\.people-|\/api\/session/u.test(path))).toEqual([]);
    await expectAccessible(visitor);

    const title = `Rain plan, ${device}`;
    await api(teacher, 'POST /api/links', {
      body: {
        folderId: folder,
        title,
        url: 'https://rain.example/',
      },
    });
    await expect(visitor.getByText(title)).toBeVisible();

    const all = visitor.waitForEvent('download');
    await visitor.getByRole('link', { name: 'Download all' }).click();
    expect((await all).suggestedFilename()).toBe('Summer show.zip');
    const feed = await visitor
      .getByRole('link', { name: 'Feed of what is new' })
      .getAttribute('href');
    const read = await visitor.request.get(feed!);
    expect(await read.text()).toContain(title);

    await visitor
      .getByRole('listitem')
      .filter({ hasText: 'Where to stand' })
      .locator('[data-row]')
      .click();
    await expect(visitor.getByText('By the pond, not in it.')).toBeVisible();
    await expectAccessible(visitor);
    const one = visitor.waitForEvent('download');
    await visitor
      .getByRole('link', { name: 'Download', exact: true })
      .filter({ visible: true })
      .click();
    expect((await one).suggestedFilename()).toBe('Where to stand.txt');
    expect(await context.cookies()).toEqual([]);
    await visitor.goBack();
    await expect(visitor.getByRole('heading', { level: 1 })).toHaveText('Summer show');
    await context.close();
  });

test('a student keeps the folder of a door, and takes a copy through it', async ({ browser }) => {
  const student = await openAs(browser, 'studentElsewhere');
  await visit(student, address);
  await student.getByRole('button', { name: 'Keep Summer show at hand' }).click();
  await expect(student.getByText('Summer show is now in Kept')).toBeVisible();
  await student.getByRole('button', { name: 'Take a copy' }).click();
  await expect(student.getByText(/copies are on your desk now/u)).toBeVisible();
  await visit(student, '/kept');
  await expect(row(student, 'Summer show')).toContainText('by an address');
  await row(student, 'Summer show').locator('[data-row]').click();
  await expect(student).toHaveURL(/\/open\//u);
  await expect(student.getByText('What is on, and where to stand.')).toBeVisible();
  await student.context().close();
});
