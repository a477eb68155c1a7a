import { expect, test, type Page } from '@playwright/test';
import { DEVICES, TEACHING } from './devices.ts';
import { addFiles, api, expectAccessible, openAs, pick, row, visit } from './steps.ts';

/** A picture of one pixel. */
const PNG =
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==';

const text = (page: Page) => page.getByRole('textbox', { name: 'Text of the page' });
const state = (page: Page) => page.getByRole('status').filter({ visible: true }).last();

/** In which the folders of these journeys are: the tree of the library stays short for others. */
let around: string | undefined;

/** A folder of the teacher, handed out to a class; resolves to its id. */
async function handedFolder(teacher: Page, title: string): Promise<string> {
  const { classes } = await api(teacher, 'GET /api/courses').then(({ courses }) => ({
    classes: courses.flatMap((course) => course.classes),
  }));
  around ??= (
    await api(teacher, 'POST /api/folders', {
      body: { parentId: null, title: `Readers ${Date.now()}` },
    })
  ).id;
  const { id } = await api(teacher, 'POST /api/folders', { body: { parentId: around, title } });
  await api(teacher, 'POST /api/grants', {
    body: {
      things: [{ kind: 'folder', id }],
      audiences: [{ kind: 'class', id: classes.find(({ code }) => code === 'SO1A')!.id }],
    },
  });
  return id;
}

async function madePage(teacher: Page, folderId: string, title: string, html: string) {
  const { id } = await api(teacher, 'POST /api/pages', { body: { folderId, title } });
  if (html)
    await api(teacher, 'POST /api/placements/:placement/shown', {
      params: { placement: id },
      body: { html, base: 0, after: null },
    });
  return id;
}

test('a page is written by the keys alone, shown, and read; students have what is new at once', async ({
  browser,
}) => {
  const teacher = await openAs(browser, 'teacher');
  const student = await openAs(browser, 'studentA');
  const folder = await handedFolder(teacher, 'Reader of the keys');
  await visit(teacher, `/folder/${folder}`);
  await teacher.getByRole('button', { name: 'New page' }).focus();
  await teacher.keyboard.press('Enter');
  await expect(teacher.getByLabel('Title of the page')).toBeFocused();
  await teacher.keyboard.type('Autumn log');
  await teacher.keyboard.press('Enter');
  await expect(text(teacher)).toBeFocused();
  await teacher.keyboard.type('# Friday');
  await teacher.keyboard.press('Enter');
  await teacher.keyboard.type('We read the strips in **daylight**, not under the lamp.');
  await teacher.keyboard.press('Enter');
  await teacher.keyboard.type('- Clay holds the lime longer.');
  await teacher.keyboard.press('Enter');
  await teacher.keyboard.type('One jar each.');
  await teacher.keyboard.press('Enter');
  await teacher.keyboard.press('Enter');
  await teacher.keyboard.type('[ ] Bring the jar');
  await expect(teacher.getByText(/Draft saved/u)).toBeVisible();
  await visit(student, `/folder/${folder}`);
  await expect(student.getByRole('heading', { name: 'Reader of the keys' })).toBeVisible();
  await expect(student.getByText('Autumn log')).toHaveCount(0);

  await teacher.getByRole('button', { name: 'Show it' }).focus();
  await teacher.keyboard.press('Enter');
  await expect(teacher.getByText('Readers get this text.')).toBeVisible();
  await expectAccessible(teacher);

  await student.getByRole('link', { name: 'Autumn log' }).click();
  await expect(student.getByRole('heading', { level: 2, name: 'Friday' })).toBeVisible();
  await expect(student.locator('.page-text strong')).toHaveText('daylight');
  await expect(student.locator('.page-text li[data-checked=false]')).toHaveText('Bring the jar');
  await expectAccessible(student);

  await teacher.keyboard.press('Shift+Tab');
  await text(teacher).focus();
  await teacher.keyboard.press('Control+End');
  await teacher.keyboard.type(' and a lid');
  await teacher.getByRole('button', { name: 'Show it' }).click();
  await expect(student.locator('.page-text')).toContainText('Bring the jar and a lid');
  await Promise.all([teacher, student].map((page) => page.context().close()));
});

test('a page takes tables, pictures, formulas, notes set apart and parts that fold', async ({
  browser,
}) => {
  const teacher = await openAs(browser, 'teacher');
  const folder = await handedFolder(teacher, 'Reader of everything');
  const id = await madePage(teacher, folder, 'Everything', '');
  await visit(teacher, `/write/${id}`);
  await text(teacher).click();
  const insert = async (what: string) => {
    await teacher.getByRole('button', { name: 'Insert something else' }).click();
    await teacher.getByRole('menuitem', { name: what, exact: true }).click();
  };
  await teacher.keyboard.type('Before ');
  await insert('Formula in the line');
  await teacher.getByLabel('Formula in TeX').fill('\\frac{a}{b}');
  await expect(text(teacher).locator('.katex')).toHaveCount(1);
  await text(teacher).press('Control+End');
  await teacher.keyboard.press('Enter');
  await insert('Table');
  await teacher.keyboard.type('Plot');
  await teacher.keyboard.press('Tab');
  await teacher.keyboard.type('pH');
  await teacher.keyboard.press('Tab');
  await teacher.keyboard.type('Lime');
  await teacher.getByRole('button', { name: 'Add a row below' }).click();
  await expect(text(teacher).locator('tr')).toHaveCount(4);
  await text(teacher).press('Control+End');
  await insert('Note set apart');
  await teacher.keyboard.type('Not under the lamp.');
  await text(teacher).press('Control+End');
  await teacher.locator('input[type=file][accept="image/*"]').setInputFiles({
    name: 'jar.png',
    mimeType: 'image/png',
    buffer: Buffer.from(PNG, 'base64'),
  });
  await expect(text(teacher).locator('img[src*="/pictures/"]')).toHaveCount(1);
  await text(teacher).locator('img[src*="/pictures/"]').click();
  await teacher.getByLabel(/What the picture shows/u).fill('A jar of soil');
  await expectAccessible(teacher);
  await teacher.getByRole('button', { name: 'Show it' }).click();
  await expect(teacher.getByText('Readers get this text.')).toBeVisible();
  await teacher.getByRole('link', { name: 'Read', exact: true }).click();
  const read = teacher.locator('.page-text');
  await expect(read.locator('.katex')).toHaveCount(1);
  await expect(read.locator('th').first()).toHaveText('Plot');
  await expect(read.locator('aside')).toHaveText('Not under the lamp.');
  const picture = read.getByRole('img', { name: 'A jar of soil' });
  await expect
    .poll(() => picture.evaluate((img) => (img as HTMLImageElement).naturalWidth))
    .toBe(1);
  await expectAccessible(teacher);
  await teacher.context().close();
});

test('what is pasted comes out clean, and nothing in it runs', async ({ browser }) => {
  const teacher = await openAs(browser, 'teacher');
  const folder = await handedFolder(teacher, 'Reader of pastes');
  const id = await madePage(teacher, folder, 'Pasted', '');
  await visit(teacher, `/write/${id}`);
  await text(teacher).click();
  const asked: string[] = [];
  teacher.on('request', (request) => asked.push(request.url()));
  await text(teacher).evaluate((element) => {
    const html = `<meta charset=utf-8><style>p{color:red}</style><p class=MsoNormal style="mso-x:y" onclick="window.ran=1">
      <b>Lime</b> <span style="font-size:30pt">holds</span><o:p></o:p></p><script>window.ran=1</scr${'ipt'}>
      <img src="https://elsewhere.example/a.png" onerror="window.ran=1"><a href="javascript:window.ran=1">press</a>
      <iframe src="https://elsewhere.example/"></iframe><h1>Water</h1><p>half \ud83d of one</p>`;
    const data = new DataTransfer();
    data.setData('text/html', html);
    data.setData('text/plain', 'Lime holds');
    element.dispatchEvent(
      new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }),
    );
  });
  await expect(text(teacher).locator('strong')).toHaveText('Lime');
  await expect(teacher.getByText('1 picture was left out')).toBeVisible();
  await expect(text(teacher).locator('[style*=mso], script, iframe, [onclick]')).toHaveCount(0);
  await teacher.getByRole('button', { name: 'Show it' }).click();
  await teacher.getByRole('link', { name: 'Read', exact: true }).click();
  await expect(teacher.locator('.page-text strong')).toHaveText('Lime');
  await expect(teacher.locator('.page-text [href^=javascript]')).toHaveCount(0);
  await expect(teacher.locator('.page-text')).toContainText('half \ufffd of one');
  expect(await teacher.evaluate(() => 'ran' in window)).toBe(false);
  expect(asked.filter((url) => url.includes('elsewhere.example'))).toEqual([]);
  await teacher.context().close();
});

test('a draft is kept on the device while there is no connection, and goes on when there is', async ({
  browser,
}) => {
  const teacher = await openAs(browser, 'teacher');
  const folder = await handedFolder(teacher, 'Reader without a line');
  const id = await madePage(teacher, folder, 'Offline', '<p>One</p>');
  await visit(teacher, `/write/${id}`);
  await text(teacher).click();
  // To open a page is no change of it.
  await expect(teacher.getByText('Readers get this text.')).toBeVisible();
  await teacher.context().setOffline(true);
  await teacher.keyboard.press('Control+End');
  await teacher.keyboard.type(' and two');
  await expect(teacher.getByText(/kept on this device/u)).toBeVisible();
  await teacher.context().setOffline(false);
  await expect(teacher.getByText(/Draft saved/u)).toBeVisible();
  await teacher.reload();
  await expect(text(teacher)).toContainText('One and two');
  await teacher.context().close();
});

test('what the same teacher wrote in two windows is in both, and neither is written over', async ({
  browser,
}) => {
  const first = await openAs(browser, 'teacher');
  const folder = await handedFolder(first, 'Reader of two windows');
  const id = await madePage(first, folder, 'Two windows', '<p>Begun</p>');
  await visit(first, `/write/${id}`);
  const second = await first.context().newPage();
  await visit(second, `/write/${id}`);
  await text(second).click();
  await text(first).press('Control+End');
  await first.keyboard.type(' in the first');
  await expect(first.getByText(/Draft saved/u)).toBeVisible();
  await text(second).press('Control+End');
  await second.keyboard.type(' in the second');
  const elsewhere = second.getByRole('region', { name: 'What you wrote elsewhere' });
  await expect(elsewhere).toContainText('Begun in the first');
  await second.getByRole('button', { name: 'Put this text below that one' }).click();
  await expect(second.getByText(/Draft saved/u)).toBeVisible();
  await expect(text(second)).toContainText('in the first');
  await expect(text(second)).toContainText('in the second');
  await first.context().close();
});

for (const device of TEACHING)
  test(`a new day begins at the top by one key, with the date of the school, on a ${device}`, async ({
    browser,
  }) => {
    const options = { ...DEVICES[device], timezoneId: 'Pacific/Kiritimati' };
    const teacher = await openAs(browser, 'teacher', options);
    const folder = await handedFolder(teacher, `Reader of days, ${device}`);
    const id = await madePage(teacher, folder, 'Days', '<h2>Yesterday</h2><p>Clay</p>');
    await visit(teacher, `/write/${id}`);
    await text(teacher).click();
    await text(teacher).press('Control+Enter');
    await teacher.keyboard.type('We read the strips.');
    const { person } = await api(teacher, 'GET /api/session');
    const { timeZone } = person!.school;
    // What is written belongs to the last lesson of the class, as far as a timetable tells.
    const { lessonDay } = await api(teacher, 'GET /api/placements/:placement/draft', {
      params: { placement: id },
    });
    const today = new Intl.DateTimeFormat('sv-SE', { timeZone }).format(new Date());
    const day = lessonDay ?? today;
    expect(day <= today).toBe(true);
    const heading = text(teacher).locator(`h2[data-day="${day}"]`);
    await expect(heading).toHaveText(/^(Mon|Tues|Wednes|Thurs|Fri|Satur|Sun)day \d+ [A-Z][a-z]+$/u);
    await expect(text(teacher).locator('> *').nth(1)).toHaveText('We read the strips.');
    await teacher.getByRole('button', { name: 'Show it' }).click();
    await expect(teacher.getByText('Readers get this text.')).toBeVisible();
    await teacher.getByRole('button', { name: 'New day' }).click();
    await expect(heading).toHaveCount(2);
    await teacher.context().close();
  });

test('a Markdown file becomes a page, with its lists to tick off', async ({ browser }) => {
  const teacher = await openAs(browser, 'teacher');
  const folder = await handedFolder(teacher, 'Reader of Markdown');
  await visit(teacher, `/folder/${folder}`);
  const markdown =
    '# Field day\n\n- [x] Spades\n- [ ] Jars\n\n<script>alert(1)</script> ![x](https://elsewhere.example/a.png)\n';
  await addFiles(teacher, [
    { name: 'Field day.md', mimeType: 'text/markdown', buffer: Buffer.from(markdown) },
  ]);
  await expect(row(teacher, 'Field day')).toBeVisible();
  await pick(teacher, 'Field day', 'Make a page of it');
  await expect(teacher.getByLabel('Title of the page')).toHaveValue('Field day');
  await expect(text(teacher).getByRole('heading', { name: 'Field day' })).toBeVisible();
  await expect(text(teacher).getByRole('checkbox')).toHaveCount(2);
  await expect(text(teacher).getByRole('checkbox').first()).toBeChecked();
  await expect(text(teacher)).toContainText('<script>alert(1)</script>');
  await expect(text(teacher).locator('img[src*="elsewhere"]')).toHaveCount(0);
  await teacher.context().close();
});

test('versions of a page are compared, and an earlier one is made the newest', async ({
  browser,
}) => {
  const teacher = await openAs(browser, 'teacher');
  const folder = await handedFolder(teacher, 'Reader of versions');
  const id = await madePage(teacher, folder, 'Versions', '<p>One jar each.</p><p>Same</p>');
  await api(teacher, 'POST /api/placements/:placement/shown', {
    params: { placement: id },
    body: { html: '<p>One jar each, lid on.</p><p>Same</p>', base: 1, after: null },
  });
  await visit(teacher, `/write/${id}/versions`);
  await expect(teacher.locator('ins')).toContainText(', lid on');
  await expectAccessible(teacher);
  await teacher.getByRole('button', { name: /Version 1/u }).click();
  await teacher.getByRole('button', { name: 'Make version 1 the newest' }).click();
  await expect(teacher.getByRole('button', { name: /Version 3/u })).toBeVisible();
  await expect(teacher.locator('del')).toContainText(', lid on');
  await teacher.context().close();
});

for (const [device, options] of Object.entries(DEVICES))
  test(`a student writes on a page of their desk, on a ${device}`, async ({ browser }) => {
    const student = await openAs(browser, 'studentB', options);
    const title = `My notes, ${device}`;
    await visit(student, '/desk');
    await student.getByRole('button', { name: 'New page' }).click();
    await expect(student.getByLabel('Title of the page')).toBeFocused();
    await student.keyboard.type(title);
    await student.keyboard.press('Enter');
    await student.keyboard.type('Clay holds lime.');
    await student.getByRole('button', { name: 'Save', exact: true }).click();
    await expect(student.getByText(`${title} saved`)).toBeVisible();
    await expectAccessible(student);
    expect(
      await student.evaluate(() => document.documentElement.scrollWidth - window.innerWidth),
    ).toBeLessThanOrEqual(0);
    await student.getByRole('link', { name: 'Read', exact: true }).click();
    await expect(student.locator('.page-text')).toHaveText('Clay holds lime.');
    await student.context().close();
  });

test('of two who write on one page the later one sees both, and nothing is lost', async ({
  browser,
}) => {
  const first = await openAs(browser, 'teacher');
  const second = await openAs(browser, 'teacher');
  const folder = await handedFolder(first, 'Reader of two');
  const id = await madePage(first, folder, 'For two', '<p>Begun</p>');
  await Promise.all([first, second].map((page) => page.goto(`/write/${id}`)));
  await text(second).click();
  await second.keyboard.press('Control+End');
  await second.keyboard.type(' by the second');
  await text(first).click();
  await first.keyboard.press('Control+End');
  await first.keyboard.type(' by the first');
  await first.getByRole('button', { name: 'Show it' }).click();
  await expect(first.getByText('Readers get this text.')).toBeVisible();
  await second.getByRole('button', { name: 'Show it' }).click();
  const both = second.getByRole('region', { name: 'What readers get now' });
  await expect(both).toContainText('Begun by the first');
  await expect(text(second)).toContainText('Begun by the second');
  await expectAccessible(second);
  await second.getByRole('button', { name: 'Put this text below that one' }).click();
  await second.getByRole('button', { name: 'Show it' }).click();
  await expect(state(second)).toContainText('Readers get this text.');
  await expect(text(second)).toContainText('Begun by the first');
  await expect(text(second)).toContainText('Begun by the second');
  await Promise.all([first, second].map((page) => page.context().close()));
});

for (const [device, options] of Object.entries(DEVICES))
  test(`a page is read on a ${device}`, async ({ browser }) => {
    const teacher = await openAs(browser, 'teacher');
    const student = await openAs(browser, 'studentA', options);
    const folder = await handedFolder(teacher, `Reader on a ${device}`);
    const wide = `<table><tr>${'<td>wide cell</td>'.repeat(12)}</tr></table>`;
    const id = await madePage(
      teacher,
      folder,
      'Wide',
      `<h2>Begin</h2>${wide}<pre><code>${'x'.repeat(300)}</code></pre>`,
    );
    await visit(student, `/item/${id}`);
    await expect(student.getByRole('heading', { name: 'Begin' })).toBeVisible();
    const beyond = () =>
      student.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
    expect(await beyond()).toBeLessThanOrEqual(0);
    await expectAccessible(student);
    await Promise.all([teacher, student].map((page) => page.context().close()));
  });

test('a page refers to things of the library: cards open in place, and what its readers do not see is handed out from it', async ({
  browser,
}) => {
  const teacher = await openAs(browser, 'teacher');
  const student = await openAs(browser, 'studentA');
  const folder = await handedFolder(teacher, 'Reader with cards');
  const seen = await api(teacher, 'POST /api/folders', {
    body: { parentId: folder, title: 'Jars seen' },
  });
  await madePage(teacher, seen.id, 'How to clean a jar', '<p>With sand.</p>');
  const title = `Jars unseen ${Date.now()}`;
  await api(teacher, 'POST /api/folders', { body: { parentId: around!, title } });
  const id = await madePage(teacher, folder, 'With cards', '<p>Read this first.</p>');

  await visit(teacher, `/write/${id}`);
  await text(teacher).focus();
  await teacher.keyboard.press('Control+End');
  for (const name of ['Jars seen', title]) {
    await teacher.getByRole('button', { name: 'Insert something else' }).focus();
    await teacher.keyboard.press('Enter');
    await teacher.getByRole('menuitem', { name: /from the library/u }).press('Enter');
    await teacher.keyboard.type(name);
    await expect(teacher.getByRole('option', { name }).first()).toBeVisible();
    await teacher.keyboard.press('Enter');
    await expect(text(teacher).getByText(name)).toBeVisible();
  }
  await expect(text(teacher).getByText('Some readers of this page do not see this:')).toHaveCount(
    1,
  );
  await expectAccessible(teacher);
  await teacher.getByRole('button', { name: 'Show it' }).click();
  await expect(teacher.getByText('Readers get this text.')).toBeVisible();

  await visit(student, `/item/${id}`);
  const cards = student.locator('.page-text .thing-card');
  await expect(cards).toHaveCount(1);
  await expect(student.getByText(title)).toHaveCount(0);
  await student.getByRole('button', { name: 'Jars seen' }).click();
  await student.getByRole('button', { name: 'How to clean a jar' }).click();
  await expect(student.getByText('With sand.')).toBeVisible();
  await expectAccessible(student);

  await text(teacher).getByRole('button', { name: 'Hand it out to them' }).click();
  await expect(text(teacher).getByText('Some readers of this page do not see this:')).toHaveCount(
    0,
  );
  await student.reload();
  await expect(student.getByRole('button', { name: title })).toBeVisible();
  await Promise.all([teacher, student].map((page) => page.context().close()));
});

test('a page that is shown while it is written reaches its readers as it grows, in one version', async ({
  browser,
}) => {
  const teacher = await openAs(browser, 'teacher');
  const student = await openAs(browser, 'studentA');
  const folder = await handedFolder(teacher, 'Reader of the lesson');
  const id = await madePage(teacher, folder, 'On the board', '<p>Lime.</p>');
  await visit(student, `/item/${id}`);
  await expect(student.locator('.page-text')).toHaveText('Lime.');
  await visit(teacher, `/write/${id}`);
  await teacher.getByRole('switch', { name: 'Show while writing' }).click();
  for (const word of ['Sand.', 'Clay.']) {
    await text(teacher).press('Control+End');
    await teacher.keyboard.type(` ${word}`);
    await expect(student.locator('.page-text')).toContainText(word);
  }
  await expect(teacher.getByText('Readers get this text.')).toBeVisible();
  const { versions } = await api(teacher, 'GET /api/placements/:placement/versions', {
    params: { placement: id },
  });
  expect(versions.map(({ number }) => number)).toEqual([2, 1]);
  await Promise.all([teacher, student].map((page) => page.context().close()));
});

test('a page begins from last year’s: what is out of date is marked, and changed one by one or at once', async ({
  browser,
}) => {
  const teacher = await openAs(browser, 'teacher');
  const folder = await handedFolder(teacher, 'Reader of this year');
  const { hits } = await api(teacher, 'GET /api/find', {
    query: { words: 'Soil Science I, last year', kind: 'folder' },
  });
  const { years } = await api(teacher, 'GET /api/courses');
  const label = years
    .map((year) => year.label)
    .sort()
    .at(-1)!;
  const [now] = label.split('/').map(Number) as [number];
  const name = `Field days ${Date.now()}`;
  const old = `<p>All of ${now - 1}/${String(now).slice(2)}, due on 21 November ${now - 1} and 4 December ${now - 1}.</p>`;
  await madePage(teacher, hits[0]!.id, name, old);
  const id = await madePage(teacher, folder, 'Field days now', '');
  await visit(teacher, `/write/${id}`);
  await teacher.getByRole('button', { name: 'begin from another page' }).focus();
  await teacher.keyboard.press('Enter');
  await teacher.keyboard.type(name);
  await expect(teacher.getByRole('option', { name })).toBeVisible();
  await teacher.keyboard.press('Enter');
  const group = teacher.getByRole('group', { name: 'What looks out of date' });
  await expect(group.getByRole('status')).toHaveText('3 things look out of date');
  await expect(text(teacher).locator('.stale')).toHaveCount(3);
  await expectAccessible(teacher);
  await group.getByRole('button', { name: 'Change it', exact: true }).click();
  await expect(text(teacher)).toContainText(`All of ${label}`);
  await group.getByRole('button', { name: 'Next', exact: true }).click();
  await group.getByRole('button', { name: 'Leave it', exact: true }).click();
  await group.getByRole('button', { name: 'Change it', exact: true }).click();
  await expect(group).toHaveCount(0);
  await expect(text(teacher)).toContainText(`and 4 December ${now - 1}`);
  await expect(text(teacher)).not.toContainText(`November ${now - 1}`);
  await teacher.keyboard.press('Control+z');
  await expect(text(teacher)).toContainText(`21 November ${now - 1}`);
  await teacher.context().close();
});
