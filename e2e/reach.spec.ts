import { expect, test, type Browser, type Page } from '@playwright/test';
import { DEVICES } from './devices.ts';
import { api, expectAccessible, openAs, visit } from './steps.ts';

/** Who has opened what. The last step changes what the school tells, so that they follow each other. */
test.describe.configure({ mode: 'serial' });

/** A folder of the teacher’s with a link in it, handed out to SO1A; and what takes it away again. */
async function handOut(teacher: Page, title: string) {
  const { id } = await api(teacher, 'POST /api/folders', { body: { parentId: null, title } });
  const link = { folderId: id, title: `${title}, key`, url: 'https://key.example/' };
  const placement = (await api(teacher, 'POST /api/links', { body: link })).id;
  const { classes } = await api(teacher, 'GET /api/timetable');
  const classId = classes.find(({ code }) => code === 'SO1A')!.id;
  const things = [{ kind: 'folder' as const, id }];
  await api(teacher, 'POST /api/grants', {
    body: { things, audiences: [{ kind: 'class', id: classId }] },
  });
  const away = () => api(teacher, 'POST /api/bin', { body: { things } });
  return { id, placement, classId, away };
}

async function openedBy(browser: Browser, who: 'studentA', placement: string) {
  const student = await openAs(browser, who);
  await api(student, 'PUT /api/placements/:placement/opened', { params: { placement } });
  await student.context().close();
}

for (const [device, options] of Object.entries(DEVICES))
  test(`a teacher sees who has not looked and writes to just these, on a ${device}`, async ({
    browser,
  }) => {
    const teacher = await openAs(browser, 'teacher', options);
    const title = `Sieve, ${device}`;
    const { id, placement, away } = await handOut(teacher, title);
    await openedBy(browser, 'studentA', placement);
    await visit(teacher, `/reach/folder/${id}`);
    await expect(
      teacher.getByRole('heading', { level: 1, name: `Who has opened “${title}”` }),
    ).toBeVisible();
    await expect(teacher.getByText('of 24 students have opened something here')).toBeVisible();
    const table = teacher.getByRole('table');
    await expect(table.getByRole('row', { name: 'Mina Kovarik opened' })).toBeAttached();
    await expect(table.getByRole('row', { name: / not opened$/u })).toHaveCount(23);
    await expectAccessible(teacher);
    expect(
      await teacher.evaluate(() => document.documentElement.scrollWidth - innerWidth),
    ).toBeLessThanOrEqual(0);
    await teacher.getByRole('link', { name: `${title}, key` }).click();
    await expect(
      teacher.getByRole('heading', { level: 2, name: '23 have not opened it' }),
    ).toBeVisible();
    await expect(teacher.getByRole('heading', { level: 2, name: '1 has opened it' })).toBeVisible();
    await teacher.getByRole('button', { name: 'Write to these 23 …' }).click();
    await teacher.getByLabel('Cover note').fill('The key is there: compare your results.');
    await expectAccessible(teacher);
    await teacher.getByRole('button', { name: 'Send' }).click();
    await expect(teacher.getByText(/^The note is on its way to \d+ people$/u)).toBeVisible();
    const { notes } = await api(teacher, 'GET /api/notes');
    expect(notes[0]).toMatchObject({ reminder: true, title: `${title}, key` });
    await away();
    await teacher.context().close();
  });

test('from the library and the page of a class, by keyboard alone', async ({ browser }) => {
  const teacher = await openAs(browser, 'teacher');
  const { id, classId, away } = await handOut(teacher, 'Drain gauge');
  await visit(teacher, `/folder/${id}`);
  const link = teacher.getByRole('link', { name: 'Who has opened it' });
  await link.focus();
  await teacher.keyboard.press('Enter');
  await expect(teacher).toHaveURL(new RegExp(`/reach/folder/${id}$`, 'u'));
  await expect(teacher.getByText('of 24 students have opened something here')).toBeVisible();
  await visit(teacher, `/class-page/${classId}`);
  await teacher.getByRole('link', { name: 'Who has opened what' }).focus();
  await teacher.keyboard.press('Enter');
  await expect(teacher).toHaveURL(new RegExp(`/reach/class/${classId}$`, 'u'));
  const things = teacher.getByRole('list').filter({ hasText: 'Drain gauge, key' }).first();
  await things.getByRole('link', { name: 'Drain gauge, key' }).focus();
  await teacher.keyboard.press('Enter');
  await expect(
    teacher.getByRole('heading', { level: 2, name: '24 have not opened it' }),
  ).toBeVisible();
  // Only the class is looked at, of whose page it was.
  await expect(teacher).toHaveURL(new RegExp(`class=${classId}`, 'u'));
  await away();
  await teacher.context().close();
});

test('visitors are counted, and never named', async ({ browser }) => {
  const teacher = await openAs(browser, 'teacher');
  const { id, placement, away } = await handOut(teacher, 'Weather board');
  const door = await api(teacher, 'POST /api/doors', {
    body: { thing: { kind: 'folder', id }, kind: 'public' },
  });
  const visitor = await (
    await browser.newContext({ userAgent: 'Mozilla/5.0 (X11; Linux x86_64) Firefox/130.0' })
  ).newPage();
  await visit(visitor, new URL(door.address).pathname);
  const link = visitor.getByRole('link', { name: /Weather board, key/u });
  const counted = visitor.waitForResponse((reply) => reply.url().endsWith('/opened'));
  const [page] = await Promise.all([visitor.context().waitForEvent('page'), link.click()]);
  expect((await counted).status()).toBe(204);
  await page.close();
  await visitor.context().close();
  await visit(teacher, `/reach/item/${placement}`);
  await expect(teacher.getByText('Visitors have opened it once.')).toBeVisible();
  await away();
  await teacher.context().close();
});

test('students read what is recorded of them, and the office sets what is told', async ({
  browser,
}) => {
  const teacher = await openAs(browser, 'teacher');
  const { placement, away } = await handOut(teacher, 'Lysimeter');
  await openedBy(browser, 'studentA', placement);
  const student = await openAs(browser, 'studentA');
  await student.getByRole('button', { name: /^Signed in as/u }).click();
  await student.getByRole('link', { name: 'What is recorded' }).click();
  await expect(student.getByText(/^Your teachers can see it for what they have/u)).toBeVisible();
  await expect(student.getByRole('link', { name: 'Lysimeter, key' })).toBeVisible();
  await expectAccessible(student);

  const office = await openAs(browser, 'office');
  await visit(office, '/recorded');
  const level = async () => (await api(office, 'GET /api/school/reach')).level;
  await office.getByRole('radio', { name: /^Numbers only/u }).check();
  await expect(office.getByText('Saved: everybody can read it on this page')).toBeVisible();
  await expectAccessible(office);
  await visit(teacher, `/reach/item/${placement}`);
  await expect(teacher.getByText(/Your school tells numbers only/u)).toBeVisible();
  await expect(
    teacher.getByRole('heading', { level: 2, name: '23 have not opened it' }),
  ).toBeVisible();
  await expect(teacher.getByText('Mina Kovarik')).toHaveCount(0);
  await student.reload();
  await expect(student.getByText(/how many have opened a thing, without names/u)).toBeVisible();

  await office.getByRole('radio', { name: /^Nothing/u }).check();
  await expect.poll(level).toBe('nothing');
  await teacher.reload();
  await expect(teacher.getByText('Your school does not tell who has opened what.')).toBeVisible();
  await office.getByRole('radio', { name: /^With names/u }).check();
  await expect.poll(level).toBe('names');
  // What was opened until now stays untold.
  await teacher.reload();
  await expect(
    teacher.getByRole('heading', { level: 2, name: '24 have not opened it' }),
  ).toBeVisible();
  await away();
  for (const page of [teacher, student, office]) await page.context().close();
});
