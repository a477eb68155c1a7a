import { expect, test, type Page } from '@playwright/test';
import { DEVICES } from './devices.ts';
import { api, expectAccessible, openAs, visit } from './steps.ts';

/** A folder that is read as a whole, handed out to a class: one part with two pages, another with one. */
async function makeReader(teacher: Page, title: string) {
  const { courses } = await api(teacher, 'GET /api/courses');
  const classes = courses.flatMap((course) => course.classes);
  const folder = async (parentId: string | null, name: string) =>
    (await api(teacher, 'POST /api/folders', { body: { parentId, title: name } })).id;
  const top = await folder(null, title);
  await api(teacher, 'PATCH /api/folders/:folder', {
    params: { folder: top },
    body: { display: 'reader' },
  });
  await api(teacher, 'POST /api/grants', {
    body: {
      things: [{ kind: 'folder', id: top }],
      audiences: [{ kind: 'class', id: classes.find(({ code }) => code === 'SO1A')!.id }],
    },
  });
  const page = async (folderId: string, name: string, html: string) => {
    const { id } = await api(teacher, 'POST /api/pages', { body: { folderId, title: name } });
    const body = { html, base: 0, after: null };
    await api(teacher, 'POST /api/placements/:placement/shown', {
      params: { placement: id },
      body,
    });
    return id;
  };
  const jars = await folder(top, 'Jars');
  const log = await page(jars, 'Log', `<p>Newest first.</p>${'<p>A line.</p>'.repeat(40)}`);
  await page(jars, 'Lids', '<p>Every jar has one.</p>');
  const about = await folder(top, 'About');
  await page(about, 'Last page', `<p>The end of it.</p>${'<p>A line.</p>'.repeat(40)}`);
  return { top, log, page, about };
}

/** Other journeys walk the tree: what this one has made does not stay in it. */
const remove = (teacher: Page, id: string) =>
  api(teacher, 'POST /api/bin', { body: { things: [{ kind: 'folder', id }] } });

for (const [device, options] of Object.entries(DEVICES))
  test(`a reader is read from its topmost page on, on a ${device}`, async ({ browser }) => {
    const teacher = await openAs(browser, 'teacher');
    const { top, page, about, log } = await makeReader(teacher, `Reader, ${device} ${Date.now()}`);
    const student = await openAs(browser, 'studentA', options);
    await visit(student, `/folder/${top}`);
    await expect(student.getByText('Newest first.')).toBeInViewport();
    const contents = async () => {
      if (device === 'laptop') return;
      await student.getByRole('button', { name: 'Contents' }).click();
    };
    await contents();
    const nav = student.getByRole('navigation', { name: 'Contents' });
    await expect(nav.getByRole('link')).toHaveCount(3);
    await expectAccessible(student);
    await nav.getByRole('link', { name: /Last page/u }).click();
    await expect(student.getByText('The end of it.')).toBeInViewport();
    if (device === 'laptop')
      await expect(nav.getByRole('link', { name: /Last page/u })).toHaveAttribute(
        'aria-current',
        'location',
      );
    const beyond = await student.evaluate(
      () => document.documentElement.scrollWidth - window.innerWidth,
    );
    expect(beyond).toBeLessThanOrEqual(0);

    // What comes in below shows by itself, and a page that is changed is read as it is now.
    await page(about, 'Pages that came later', '<p>Fresh.</p>');
    await expect(student.getByRole('heading', { name: 'Pages that came later' })).toBeVisible();
    await api(teacher, 'POST /api/placements/:placement/shown', {
      params: { placement: log },
      body: { html: '<p>Newest of all.</p>', base: 1, after: null },
    });
    await student.getByRole('heading', { name: 'Log' }).scrollIntoViewIfNeeded();
    await expect(student.getByText('Newest of all.')).toBeVisible();
    await remove(teacher, top);
    await Promise.all([teacher, student].map((one) => one.context().close()));
  });

test('a reader is printed as a whole, and its teacher writes on from it by the keys', async ({
  browser,
}) => {
  const teacher = await openAs(browser, 'teacher');
  const { top } = await makeReader(teacher, `Reader to print ${Date.now()}`);
  await visit(teacher, `/folder/${top}`);
  await teacher.getByRole('link', { name: 'Read it' }).focus();
  await teacher.keyboard.press('Enter');
  await expect(teacher.getByText('Newest first.')).toBeVisible();
  await teacher.evaluate(() => {
    window.print = () => {
      document.body.dataset.printed = document.body.innerText;
    };
  });
  await teacher.getByRole('button', { name: 'Print all' }).focus();
  await teacher.keyboard.press('Enter');
  await expect(teacher.locator('body')).toHaveAttribute('data-printed', /The end of it/u);
  const printed = await teacher.locator('body').getAttribute('data-printed');
  expect(printed).toContain('Newest first.');
  expect(printed).toContain('Every jar has one.');
  await expectAccessible(teacher);
  await teacher.getByRole('button', { name: 'New page' }).focus();
  await teacher.keyboard.press('Enter');
  await expect(teacher.getByLabel('Title of the page')).toBeFocused();
  await remove(teacher, top);
  await teacher.context().close();
});
