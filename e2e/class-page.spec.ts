import { expect, test, type Page } from '@playwright/test';
import { DEVICES, TEACHING } from './devices.ts';
import { api, expectAccessible, openAs, visit } from './steps.ts';

/** The courses and folders of a journey go with it: other journeys count classes, and walk the tree. */
const made: { teacher: Page; course: string }[] = [];
const folders: string[] = [];
test.afterEach(async () => {
  for (const { teacher, course } of made.splice(0)) {
    const things = folders.splice(0).map((id) => ({ kind: 'folder' as const, id }));
    if (things.length > 0) await api(teacher, 'POST /api/bin', { body: { things } });
    await api(teacher, 'DELETE /api/courses/:course', { params: { course } });
    await teacher.context().close();
  }
});

/** A course of the teacher with two classes, made for one journey. */
async function makeClasses(teacher: Page, title: string) {
  const { years } = await api(teacher, 'GET /api/courses');
  const stamp = String(Date.now()).slice(-5);
  const codes = [`A${stamp}`, `B${stamp}`];
  const yearId = years[0]!.id;
  const { id } = await api(teacher, 'POST /api/courses', {
    body: { title, colour: 'lake', yearId, classes: codes },
  });
  made.push({ teacher, course: id });
  const { courses } = await api(teacher, 'GET /api/courses');
  const classes = courses.find((course) => course.id === id)!.classes;
  return classes.map(({ id: classId, code }) => ({ id: classId, code }));
}
async function folderOf(teacher: Page, title: string, parentId: string | null = null) {
  const { id } = await api(teacher, 'POST /api/folders', { body: { parentId, title } });
  if (parentId === null) folders.push(id);
  return id;
}

test('an entry with two things goes to several classes at a time, by the keys alone, and comes back by Undo', async ({
  browser,
}) => {
  const teacher = await openAs(browser, 'teacher');
  const [first, second] = await makeClasses(teacher, 'Two gardens');
  const stamp = Date.now();
  const around = await folderOf(teacher, `Beds ${stamp}`);
  await folderOf(teacher, `Bed of beans ${stamp}`, around);
  await folderOf(teacher, `Bed of peas ${stamp}`, around);
  await visit(teacher, `/class-page/${first!.id}`);
  await teacher.getByRole('button', { name: 'New entry' }).focus();
  await teacher.keyboard.press('Enter');
  const find = teacher.getByRole('combobox', { name: /Add a folder or file/u });
  for (const name of [`Bed of beans ${stamp}`, `Bed of peas ${stamp}`]) {
    await expect(find).toBeFocused();
    await teacher.keyboard.type(name);
    await teacher.keyboard.press('Enter');
    await expect(teacher.getByRole('button', { name: `Take ${name} out` })).toBeVisible();
  }
  await teacher.getByLabel('Title', { exact: true }).fill('Two beds');
  await teacher.getByRole('checkbox', { name: second!.code }).press('Space');
  await expectAccessible(teacher);
  await teacher.getByRole('button', { name: 'Put it on the page' }).press('Enter');
  const entry = teacher.getByRole('article').filter({ hasText: 'Two beds' });
  await expect(entry).toContainText(`Bed of beans ${stamp}`);
  await expect(entry.getByTitle(`${first!.code}: out now`)).toBeVisible();
  await expectAccessible(teacher);

  // As the class sees it.
  await teacher.getByRole('link', { name: `See it as ${first!.code}` }).click();
  await expect(teacher.getByRole('heading', { name: 'Two beds' })).toBeVisible();
  await expect(teacher.getByRole('button', { name: `Bed of peas ${stamp}` })).toBeVisible();
  await expectAccessible(teacher);
  await visit(teacher, `/class-page/${second!.id}`);
  await expect(teacher.getByRole('article').filter({ hasText: 'Two beds' })).toBeVisible();
  await teacher.getByRole('button', { name: 'What to do with Two beds' }).focus();
  await teacher.keyboard.press('Enter');
  await teacher.getByRole('menuitem', { name: 'Take from the page' }).press('Enter');
  await expect(teacher.getByRole('article')).toHaveCount(0);
  await teacher.getByRole('button', { name: 'Undo' }).click();
  await expect(teacher.getByRole('article').filter({ hasText: 'Two beds' })).toBeVisible();
});

for (const device of TEACHING)
  test(`headings and entries are made, moved and kept as drafts in place, on a ${device}`, async ({
    browser,
  }) => {
    const teacher = await openAs(browser, 'teacher', DEVICES[device]);
    const [klass] = await makeClasses(teacher, `Headings, ${device}`);
    await visit(teacher, `/class-page/${klass!.id}`);
    for (const title of ['Profile', 'Texture']) {
      await teacher.getByRole('button', { name: 'New heading' }).click();
      await teacher.keyboard.type(title);
      await teacher.keyboard.press('Enter');
      await expect(teacher.getByRole('heading', { level: 2, name: title })).toBeVisible();
    }
    for (const title of ['One', 'Two']) {
      await teacher.getByRole('button', { name: 'New entry' }).click();
      await teacher.getByLabel('Title', { exact: true }).fill(title);
      await teacher.keyboard.press('Tab');
      await teacher.keyboard.type(`What ${title} says`);
      await teacher.getByRole('button', { name: 'Put it on the page' }).click();
      await expect(teacher.getByRole('article').filter({ hasText: title })).toBeVisible();
    }
    const articles = teacher.getByRole('article');
    await expect(articles).toContainText([/Two/u, /One/u]);
    const menu = async (title: string, action: string) => {
      await teacher.getByRole('button', { name: `What to do with ${title}`, exact: true }).click();
      await teacher.getByRole('menuitem', { name: action }).click();
    };
    await menu('Two', 'Move down');
    await expect(articles).toContainText([/One/u, /Two/u]);
    await menu('One', 'Move under “Texture”');
    await expect(articles).toContainText([/Two/u, /One/u]);
    await teacher.getByRole('switch', { name: 'Number the headings' }).click();
    await expect(teacher.getByRole('heading', { level: 2, name: '2 Texture' })).toBeVisible();
    await expectAccessible(teacher);
    const wide = await teacher.evaluate(
      () => document.documentElement.scrollWidth - window.innerWidth,
    );
    expect(wide).toBeLessThanOrEqual(0);
    await menu('One', 'Keep as a draft');
    await expect(teacher.getByTitle(`${klass!.code}: held back`)).toBeVisible();
    await teacher.getByRole('link', { name: `See it as ${klass!.code}` }).click();
    await expect(teacher.getByRole('heading', { name: 'Two' })).toBeVisible();
    await expect(teacher.getByText('What One says')).toHaveCount(0);
    await expect(teacher.getByText('Texture')).toHaveCount(0);
  });

test('an entry is dragged under another heading, and what has none is put under one', async ({
  browser,
}) => {
  const teacher = await openAs(browser, 'teacher');
  const [klass] = await makeClasses(teacher, 'Dragged');
  const heading = async (title: string) =>
    (
      await api(teacher, 'POST /api/class-pages/:class/headings', {
        params: { class: klass!.id },
        body: { title },
      })
    ).id;
  const [from, to] = [await heading('From here'), await heading('To there')];
  for (const [title, headingId] of [
    ['Carried', from],
    ['Waiting', to],
  ] as const)
    await api(teacher, 'POST /api/entries', {
      body: { title, text: title, on: [{ classId: klass!.id, headingId }] },
    });
  const folder = await folderOf(teacher, `By itself ${Date.now()}`);
  await api(teacher, 'POST /api/grants', {
    body: {
      things: [{ kind: 'folder', id: folder }],
      audiences: [{ kind: 'class', id: klass!.id }],
    },
  });
  await visit(teacher, `/class-page/${klass!.id}`);
  const articles = teacher.getByRole('article');
  await expect(articles).toContainText([/Carried/u, /Waiting/u]);
  const box = (await articles.nth(1).boundingBox())!;
  await articles.nth(0).hover();
  await teacher.mouse.down();
  await teacher.mouse.move(box.x + box.width / 2, box.y + box.height * 0.8, { steps: 8 });
  await teacher.mouse.move(box.x + box.width / 2, box.y + box.height * 0.9, { steps: 4 });
  await teacher.mouse.up();
  await expect(articles).toContainText([/Waiting/u, /Carried/u]);
  await expect(teacher.getByText('Nothing under this heading yet')).toBeVisible();
  await teacher.getByRole('button', { name: 'Undo' }).click();
  await expect(articles).toContainText([/Carried/u, /Waiting/u]);

  await teacher.getByRole('button', { name: /What to do with By itself/u }).click();
  await teacher.getByRole('menuitem', { name: 'Move under “To there”' }).click();
  await expect(articles).toHaveCount(3);
  await expect(teacher.getByText('Also handed out')).toHaveCount(0);
});

test('what an entry gives a class, and takes from it, is said before; on all pages at once too', async ({
  browser,
}) => {
  const teacher = await openAs(browser, 'teacher');
  const { courses } = await api(teacher, 'GET /api/courses');
  const classes = courses.flatMap((course) => course.classes);
  const [one, two] = ['SO1A', 'SO1B'].map((code) => classes.find((c) => c.code === code)!);
  const title = `Compost heap ${Date.now()}`;
  const { id: folder } = await api(teacher, 'POST /api/folders', {
    body: { parentId: null, title },
  });
  await api(teacher, 'POST /api/links', {
    body: { folderId: folder, url: 'https://compost.example/', title: 'Heap' },
  });
  await visit(teacher, `/class-page/${one!.id}`);
  await teacher.getByRole('button', { name: 'New entry' }).press('Enter');
  const find = teacher.getByRole('combobox', { name: /Add a folder or file/u });
  await find.fill(title);
  await teacher.getByRole('option', { name: title }).waitFor();
  await find.press('Enter');
  await teacher.getByRole('checkbox', { name: two!.code }).press('Space');
  await expect(teacher.getByRole('status').filter({ hasText: 'SO1A' })).toContainText('SO1B');
  await teacher.getByRole('button', { name: 'Put it on the page' }).press('Enter');
  const entry = teacher.getByRole('article').filter({ hasText: title });
  await expect(entry).toBeVisible();

  await entry.getByRole('button', { name: `What to do with ${title}` }).press('Enter');
  await teacher.getByRole('menuitem', { name: 'When …' }).press('Enter');
  await teacher.getByRole('radio', { name: 'Held back' }).press('Space');
  await teacher.getByRole('checkbox', { name: 'Also on SO1B' }).press('Space');
  await expectAccessible(teacher);
  await teacher.getByRole('button', { name: 'Save' }).press('Enter');
  const question = teacher.getByRole('dialog');
  await expect(question).toContainText('SO1A');
  await expect(question).toContainText('SO1B');
  await question.getByRole('button', { name: 'Save' }).press('Enter');
  await expect(entry.getByTitle('SO1A: held back')).toBeVisible();
  const coming = teacher.getByRole('region', { name: 'Going to show' });
  await coming.getByRole('button', { name: title }).press('Enter');
  await expect(teacher.getByRole('listitem').filter({ has: entry })).toBeFocused();
  await teacher.getByRole('button', { name: 'Undo' }).last().press('Enter');
  await expect(entry.getByTitle('SO1A: out now')).toBeVisible();

  await entry.getByRole('button', { name: `What to do with ${title}` }).press('Enter');
  await teacher.getByRole('menuitem', { name: 'Take from all 2 pages' }).press('Enter');
  await question.getByRole('button', { name: 'Take from all 2 pages' }).press('Enter');
  await expect(entry).toHaveCount(0);
  await visit(teacher, `/class-page/${two!.id}`);
  await expect(teacher.getByRole('heading', { name: 'Soil Science I' })).toBeVisible();
  await expect(entry).toHaveCount(0);
  await api(teacher, 'POST /api/bin', { body: { things: [{ kind: 'folder', id: folder }] } });
  await teacher.context().close();
});

test('a new page is made for an entry, and written next; headings are dragged, and the page is seen beside', async ({
  browser,
}) => {
  const teacher = await openAs(browser, 'teacher', { viewport: { width: 1440, height: 900 } });
  const [klass] = await makeClasses(teacher, 'Pages');
  const folder = await folderOf(teacher, `Written ${Date.now()}`);
  await api(teacher, 'PATCH /api/class-pages/:class', {
    params: { class: klass!.id },
    body: { currentFolderId: folder },
  });
  for (const title of ['First part', 'Second part'])
    await api(teacher, 'POST /api/class-pages/:class/headings', {
      params: { class: klass!.id },
      body: { title },
    });
  await visit(teacher, `/class-page/${klass!.id}`);
  const heads = teacher.getByRole('heading', { level: 2, name: /part/u });
  await expect(heads).toHaveText([/First/u, /Second/u]);
  const box = (await heads.nth(1).boundingBox())!;
  await heads.nth(0).hover();
  await teacher.mouse.down();
  await teacher.mouse.move(box.x + 30, box.y + box.height * 0.8, { steps: 8 });
  await teacher.mouse.move(box.x + 30, box.y + box.height * 0.9, { steps: 4 });
  await teacher.mouse.up();
  await expect(heads).toHaveText([/Second/u, /First/u]);
  await teacher.getByRole('button', { name: 'Undo' }).press('Enter');
  await expect(heads).toHaveText([/First/u, /Second/u]);

  await teacher.getByRole('switch', { name: /^Beside it/u }).press('Space');
  const beside = teacher.getByRole('complementary', { name: /^Beside it/u });
  await expect(beside).toBeVisible();
  await teacher.getByRole('button', { name: 'New entry' }).press('Enter');
  await teacher.getByLabel('Title', { exact: true }).fill('What we saw at the pond');
  await teacher.getByRole('button', { name: 'New page' }).press('Enter');
  await expect(
    teacher.getByRole('button', { name: 'Take What we saw at the pond out' }),
  ).toBeVisible();
  await teacher.getByRole('button', { name: 'Put it on the page' }).press('Enter');
  await expect(teacher.getByRole('textbox', { name: 'Text of the page' })).toBeVisible();
  await teacher.getByRole('textbox', { name: 'Text of the page' }).click();
  await teacher.keyboard.type('Frogs.');
  await teacher.getByRole('button', { name: 'Show it' }).press('Enter');
  await expect(teacher.getByText('Readers get this text.')).toBeVisible();
  await visit(teacher, `/class-page/${klass!.id}`);
  await beside.getByRole('button', { name: 'What we saw at the pond' }).press('Enter');
  await expect(beside.getByText('Frogs.')).toBeVisible();
  await teacher.getByRole('switch', { name: /^Beside it/u }).press('Space');
  await expect(beside).toHaveCount(0);
});

test('an entry of another class is used again as a draft, with what is out of date', async ({
  browser,
}) => {
  const teacher = await openAs(browser, 'teacher');
  const [first, second] = await makeClasses(teacher, 'Again');
  const title = `Sowing for ${first!.code}`;
  await api(teacher, 'POST /api/entries', {
    body: { title, text: `Bring seed, ${first!.code}.`, on: [{ classId: first!.id }] },
  });
  await visit(teacher, `/class-page/${second!.id}`);
  await teacher.getByRole('button', { name: 'Use again' }).focus();
  await teacher.keyboard.press('Enter');
  await teacher.getByLabel('Words in its title or text').fill(title);
  await teacher.getByRole('button', { name: new RegExp(title, 'u') }).press('Enter');
  await expect(teacher.getByLabel('Title', { exact: true })).toHaveValue(title);
  await expectAccessible(teacher);
  await teacher.getByRole('button', { name: 'Change all' }).press('Enter');
  await expect(teacher.getByLabel('Title', { exact: true })).toHaveValue(
    `Sowing for ${second!.code}`,
  );
  await teacher.getByRole('button', { name: 'Keep as a draft' }).press('Enter');
  await expect(teacher.getByTitle(`${second!.code}: held back`)).toBeVisible();
  await expect(teacher.getByText(`Bring seed, ${second!.code}.`)).toBeVisible();
});

test('files and addresses become things of an entry, and go into the current folder of the class', async ({
  browser,
}) => {
  const teacher = await openAs(browser, 'teacher');
  const [klass] = await makeClasses(teacher, 'Files');
  const unit = `Unit of today ${Date.now()}`;
  const folder = await folderOf(teacher, unit);
  await api(teacher, 'POST /api/grants', {
    body: {
      things: [{ kind: 'folder', id: folder }],
      audiences: [{ kind: 'class', id: klass!.id }],
    },
  });
  await api(teacher, 'POST /api/links', {
    body: { folderId: folder, url: 'https://soil.example/before' },
  });
  await visit(teacher, `/class-page/${klass!.id}`);
  await teacher.getByRole('button', { name: 'New entry' }).click();
  await teacher.getByLabel('Title', { exact: true }).fill('What we saw today');
  await teacher.locator('input[type=file]').setInputFiles({
    name: 'Board.txt',
    mimeType: 'text/plain',
    buffer: Buffer.from(`what stood on the board ${unit}`),
  });
  // The class has no current folder yet: the file waits for it.
  await expect(teacher.getByText('1 file is waiting for that')).toBeVisible();
  await teacher.getByRole('button', { name: `Use ${unit}` }).press('Enter');
  await expect(teacher.getByRole('button', { name: 'Take Board out' })).toBeVisible();
  const find = teacher.getByRole('combobox', { name: /Add a folder or file/u });
  await find.fill('https://weather.example/today');
  await find.press('Enter');
  await expect(teacher.getByRole('button', { name: 'Take today out' })).toBeVisible();
  await expectAccessible(teacher);
  await teacher.getByRole('button', { name: 'Put it on the page' }).click();
  const entry = teacher.getByRole('article').filter({ hasText: 'What we saw today' });
  await expect(entry).toContainText('Board');
  const { items } = await api(teacher, 'GET /api/folders/:folder/contents', {
    params: { folder },
  });
  expect(items.map(({ title }) => title)).toContain('Board');
});

for (const [device, options] of Object.entries(DEVICES))
  test(`a student has the page of a class in one step, and what opens on it, on a ${device}`, async ({
    browser,
  }) => {
    const teacher = await openAs(browser, 'teacher');
    const student = await openAs(browser, 'studentA', options);
    const { courses } = await api(teacher, 'GET /api/courses');
    const { id } = courses.flatMap((c) => c.classes).find((c) => c.code === 'SO1A')!;
    for (const from of ['/new', '/classes']) {
      await visit(student, from);
      await student.getByRole('link', { name: 'Soil Science I', exact: true }).first().click();
      await expect(student).toHaveURL(new RegExp(`/class-page/${id}`, 'u'));
    }
    const lesson = student.getByRole('article').filter({ hasText: 'Quiz 4, for practice' });
    await lesson.getByRole('button', { name: 'Quiz 4, blank' }).click();
    await expect(lesson.getByText('of 1', { exact: true })).toBeVisible();
    await expect(student.getByText('Next: compost')).toHaveCount(0);
    await student.getByRole('button', { name: /Course reader/u }).click();
    await expect(student.getByRole('button', { name: /Also handed out/u })).toBeVisible();
    await expectAccessible(student);
    const beyond = await student.evaluate(
      () => document.documentElement.scrollWidth - window.innerWidth,
    );
    expect(beyond).toBeLessThanOrEqual(0);
    // What is added is there by itself.
    const title = `For the ${device} ${Date.now()}`;
    const made = await api(teacher, 'POST /api/entries', {
      body: { title, text: 'Read this.', on: [{ classId: id }] },
    });
    await expect(student.getByRole('heading', { name: title })).toBeVisible();
    await api(teacher, 'DELETE /api/appearances/:appearance', {
      params: { appearance: made.appearances[0]! },
    });
    await expect(student.getByRole('heading', { name: title })).toHaveCount(0);
    await Promise.all([teacher, student].map((page) => page.context().close()));
  });

for (const [device, options] of Object.entries(DEVICES))
  test(`a kept page of a class opens without a connection, with what is on it, on a ${device}`, async ({
    browser,
  }) => {
    const student = await openAs(browser, 'studentB', options);
    const context = student.context();
    await visit(student, '/classes');
    await student.getByRole('link', { name: 'Soil Science I', exact: true }).first().click();
    await student.getByRole('button', { name: 'Keep SO1B at hand' }).click();
    await expect(student.getByRole('button', { name: /Let SO1B go|Remove SO1B/u })).toBeVisible();
    await visit(student, '/kept');
    const kept = student.getByRole('listitem').filter({ hasText: 'SO1B Soil Science I' });
    await expect(kept).toContainText('Class page');
    await student.getByRole('switch', { name: 'Readable without a connection' }).click();
    await expect(kept).toContainText('stored here', { timeout: 60_000 });
    await expectAccessible(student);
    await student.evaluate(() => navigator.serviceWorker.ready);
    await context.setOffline(true);
    await visit(student, '/kept');
    await kept.getByRole('link').click();
    const lesson = student.getByRole('article').filter({ hasText: 'Quiz 4, for practice' });
    await lesson.getByRole('button', { name: 'Quiz 4, blank' }).click();
    await expect(lesson.getByText('of 1', { exact: true })).toBeVisible();
    await expect(student.getByRole('button', { name: 'Keep SO1B at hand' })).toHaveCount(0);
    await expectAccessible(student);
    await context.setOffline(false);
    const { things } = await api(student, 'GET /api/kept');
    for (const { id } of things.filter(({ kind }) => kind === 'class'))
      await api(student, 'DELETE /api/kept/:kept', { params: { kept: id } });
    await context.close();
  });
