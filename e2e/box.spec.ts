import { expect, test, type Page } from '@playwright/test';
import { DEVICES } from './devices.ts';
import {
  addFiles,
  api,
  download,
  expectAccessible,
  goTo,
  openAs,
  share,
  textFile,
  visit,
} from './steps.ts';

/** Makes a box for SO1A; resolves to its id. */
async function makeBox(page: Page, title: string, more: object = {}): Promise<string> {
  const { classes } = await api(page, 'GET /api/timetable');
  const classId = classes.find(({ code }) => code === 'SO1A')!.id;
  const made = await api(page, 'POST /api/boxes', {
    body: { title, classIds: [classId], ...more },
  });
  return made.ids[0]!;
}
/** Takes what students have handed in out of a box again, and the box away. */
async function clear(teacher: Page, boxId: string) {
  const { places } = await api(teacher, 'GET /api/boxes/:box', { params: { box: boxId } });
  for (const { placeId } of places.filter(({ files }) => files > 0)) {
    const { things } = await api(teacher, 'GET /api/places/:place', { params: { place: placeId } });
    await api(teacher, 'POST /api/bin', {
      body: { things: things.map((one) => ({ kind: 'placement' as const, id: one.placementId })) },
    });
  }
  await api(teacher, 'DELETE /api/boxes/:box', { params: { box: boxId } });
}

for (const [device, options] of Object.entries(DEVICES))
  test(`work is handed in, gone through and talked about, on a ${device}`, async ({ browser }) => {
    const title = `Mulch, ${device}`;
    const teacher = await openAs(browser, 'teacher', options);
    // Others make classes meanwhile: which one comes next is no matter of this.
    const { courses } = await api(teacher, 'GET /api/courses');
    const so1a = courses.flatMap(({ classes }) => classes).find(({ code }) => code === 'SO1A')!;
    await visit(teacher, `/class-page/${so1a.id}`);
    await teacher.getByRole('button', { name: 'New hand-in box' }).click();
    await teacher.getByLabel('What is to be handed in').fill(title);
    await teacher.getByLabel('What to do (optional)').fill('Write down what you have seen.');
    await expectAccessible(teacher);
    await teacher.getByRole('button', { name: 'Make the box' }).click();
    await expect(teacher.getByText(`${title} made for 24 students`)).toBeVisible();
    const row = teacher.getByRole('listitem').filter({ hasText: title });
    await expect(row).toContainText('0 of 24 are in');

    const student = await openAs(browser, 'studentA', options);
    await student.getByRole('link', { name: title }).click();
    await expect(student.getByRole('heading', { level: 1, name: title })).toBeVisible();
    await expect(student.getByText('Write down what you have seen.')).toBeVisible();
    await expect(student.getByText('Nothing handed in yet')).toBeVisible();
    await addFiles(student, [textFile('Mulch.txt', 'White threads under the leaves.')]);
    await expect(student.getByText(/^1 handed in, /u)).toBeVisible();
    await expectAccessible(student);

    // The teacher goes through them.
    await teacher.reload();
    await expect(row).toContainText('1 of 24 are in · 1 new');
    await row.getByRole('link', { name: title }).click();
    const tabs = teacher.getByRole('navigation', { name: 'Students' });
    await expect(tabs.getByRole('link', { name: 'Mina Kovarik' })).toHaveAttribute(
      'aria-current',
      'page',
    );
    await expect(teacher.getByText('White threads under the leaves.')).toBeVisible();
    await teacher
      .getByRole('textbox', { name: 'Write a remark' })
      .fill('What do you think these threads are?');
    await teacher.getByRole('button', { name: 'Write it' }).click();
    await expect(teacher.getByText('Remark written')).toBeVisible();
    await expectAccessible(teacher);
    expect(
      await teacher.evaluate(() => document.documentElement.scrollWidth - innerWidth),
    ).toBeLessThanOrEqual(0);

    // The student is told, reads it and answers.
    await student.reload();
    await expect(student.getByText(/^1 handed in, .* · seen /u)).toBeVisible();
    await visit(student, '/new');
    await expect(student.getByRole('link', { name: title })).toContainText('1 new remark');
    await student.getByRole('link', { name: title }).click();
    await student.getByRole('link', { name: 'Mulch' }).last().click();
    await expect(student.getByText('White threads under the leaves.')).toBeVisible();
    await expect(student.getByText('What do you think these threads are?')).toBeVisible();
    await student.getByRole('button', { name: 'Answer' }).click();
    await student.getByRole('textbox', { name: 'Answer' }).fill('A fungus');
    await student.getByRole('button', { name: 'Answer' }).click();
    await expect(student.getByText('A fungus')).toBeVisible();
    await expectAccessible(student);
    await teacher.reload();
    await expect(teacher.getByText('A fungus')).toBeVisible();

    // Nobody else comes here.
    const id = new URL(teacher.url()).pathname.split('/')[2]!;
    const other = await openAs(browser, 'studentB', options);
    await visit(other, `/box/${id}`);
    await expect(other.getByText('This hand-in box is not there any more')).toBeVisible();
    await other.context().close();
    await student.context().close();
    await clear(teacher, id);
    await teacher.context().close();
  });

test('a box is gone through by keyboard alone, with a phrase on a key, and a mark that is moved', async ({
  browser,
}) => {
  const page = await openAs(browser, 'teacher');
  const { taught } = await api(page, 'GET /api/boxes');
  const box = taught.find(({ title }) => title === 'Soil log, my plot')!;
  await visit(page, `/box/${box.id}`);
  const current = page.getByRole('navigation', { name: 'Students' }).locator('[aria-current]');
  await expect(current).toBeVisible();
  const { places } = await api(page, 'GET /api/boxes/:box', { params: { box: box.id } });
  const names = places.map(({ name }) => name);
  const first = names.indexOf((await current.textContent())!.replace('New', '').trim());
  const handedIn = places.findIndex((place, n) => n > first && place.files === 1);
  for (let n = first; n < handedIn; n += 1) await page.keyboard.press('ArrowRight');
  await expect(current).toContainText(names[handedIn]!);
  await expect(page.getByRole('heading', { level: 2, name: names[handedIn] })).toBeVisible();
  await page.keyboard.press('ArrowLeft');
  await expect(current).toContainText(names[handedIn - 1]!);
  await page.keyboard.press('ArrowRight');
  await expect(page.locator('.pdfViewer .page').first()).toBeVisible();

  // A phrase about the whole, and back.
  const remarks = page.getByRole('region', { name: 'Remarks' }).getByRole('listitem');
  const before = await remarks.count();
  await page.keyboard.press('1');
  await expect(remarks).toHaveCount(before + 1);
  await expect(remarks.last()).toContainText('The unit is missing.');
  await page.keyboard.press('Control+z');
  await expect(remarks).toHaveCount(before);

  // A point on the page, moved by keys, then the phrase.
  await page
    .locator('.pdfViewer .page')
    .first()
    .click({ position: { x: 200, y: 200 } });
  const mark = page.getByRole('button', { name: 'The place of the new remark' });
  await expect(mark).toBeVisible();
  const at = (await mark.boundingBox())!;
  await mark.focus();
  await page.keyboard.press('ArrowDown');
  await expect.poll(async () => (await mark.boundingBox())!.y).toBeGreaterThan(at.y);
  await page.keyboard.press('3');
  await expect(remarks.last()).toContainText('Well measured.');
  const number = page.getByRole('button', { name: 'Remark 1', exact: true });
  await expect(number).toBeVisible();
  await number.click();
  await expect(remarks.filter({ hasText: 'Well measured.' })).toBeFocused();
  await page.keyboard.press('Control+z');
  await expect(remarks).toHaveCount(before);
  await page.context().close();
});

test('work goes from the desk into a box and back, and a box that has ended takes nothing', async ({
  browser,
}) => {
  const teacher = await openAs(browser, 'teacher');
  const id = await makeBox(teacher, 'Hedges, essay');
  const student = await openAs(browser, 'studentA');
  const desk = await api(student, 'POST /api/desk');
  await visit(student, '/desk');
  await expect(student.getByRole('button', { name: 'Add files' })).toBeEnabled();
  await addFiles(student, [textFile('Hedges.txt', 'Hornbeam keeps its leaves.')]);
  await expect(student.getByRole('link', { name: 'Hedges' })).toBeVisible();
  await visit(student, `/box/${id}`);
  await student.getByRole('button', { name: 'From my desk' }).click();
  const sheet = student.getByRole('dialog', { name: 'Hand in to “Hedges, essay”' });
  await sheet.getByRole('checkbox', { name: 'Hedges' }).check();
  await sheet.getByRole('button', { name: 'Hand in', exact: true }).click();
  await expect(student.getByText('1 thing handed in to Hedges, essay')).toBeVisible();
  await expect(student.getByRole('link', { name: 'Hedges' })).toBeVisible();
  await student.getByRole('button', { name: 'Undo' }).click();
  await expect(student.getByText('Nothing handed in yet')).toBeVisible();

  // A copy, which stays on the desk as well.
  await student.getByRole('button', { name: 'From my desk' }).click();
  await sheet.getByRole('checkbox', { name: 'Hedges' }).check();
  await sheet.getByRole('button', { name: 'Hand in a copy' }).click();
  await expect(student.getByText(/^1 handed in, /u)).toBeVisible();
  const onDesk = await api(student, 'GET /api/folders/:folder/contents', {
    params: { folder: desk.folderId },
  });
  expect(onDesk.items.map(({ title }) => title)).toContain('Hedges');

  // The end comes; the page of the student says so, and offers nothing that would be refused.
  const yesterday = new Date(Date.now() - 86_400_000).toISOString();
  await api(teacher, 'PATCH /api/boxes/:box', {
    params: { box: id },
    body: { endsAt: yesterday, takesLate: false },
  });
  await student.reload();
  await expect(student.getByText('Nothing more can be handed in or changed here.')).toBeVisible();
  await expect(student.getByRole('button', { name: 'Add files' })).toBeHidden();
  await student.getByRole('button', { name: 'What to do with Hedges' }).click();
  await expect(student.getByRole('menuitem', { name: 'Withdraw' })).toBeHidden();
  await student.keyboard.press('Escape');
  await api(student, 'POST /api/bin', {
    body: {
      things: onDesk.items
        .filter(({ title }) => title === 'Hedges')
        .map((item) => ({ kind: 'placement' as const, id: item.placementId })),
    },
  });
  await student.context().close();
  await clear(teacher, id);
  await teacher.context().close();
});

test('a worksheet is given to each as their own copy, worked on and handed in; taken back where nobody has opened it', async ({
  browser,
}) => {
  const teacher = await openAs(browser, 'teacher');
  const id = await makeBox(teacher, 'Field card, filled in');
  const { taught } = await api(teacher, 'GET /api/boxes');
  const { classId } = taught.find((box) => box.id === id)!;
  await visit(teacher, `/class-page/${classId}`);
  const row = teacher.getByRole('listitem').filter({ hasText: 'Field card, filled in' });
  await row.getByRole('button', { name: 'What to do with Field card, filled in' }).click();
  await teacher.getByRole('menuitem', { name: 'Give each a copy' }).click();
  const sheet = teacher.getByRole('dialog', { name: 'A copy for each in “Field card, filled in”' });
  await expect(sheet.getByRole('combobox')).toBeFocused();
  await teacher.keyboard.type('Texture by feel, field card');
  await teacher
    .getByRole('option', { name: /Texture by feel, field card/u })
    .first()
    .waitFor();
  await teacher.keyboard.press('Enter');
  await expect(
    sheet.getByText(
      '24 students of SO1A will each get a copy to work on, and whoever joins later.',
    ),
  ).toBeVisible();
  await expectAccessible(teacher);
  await sheet.getByRole('button', { name: 'Give the copies' }).click();
  await expect(teacher.getByText(/given to 24 students/u)).toBeVisible();
  await expect(sheet.getByText('opened by 0 of 24')).toBeVisible();

  const student = await openAs(browser, 'studentA');
  // Under New the copy is new as well; the box leads to all that is in it.
  await student
    .getByRole('region', { name: 'To hand in' })
    .getByRole('link', { name: 'Field card, filled in' })
    .click();
  await expect(
    student.getByRole('heading', { level: 1, name: 'Field card, filled in' }),
  ).toBeVisible();
  await student.getByRole('link', { name: /Texture by feel, field card/u }).click();
  await expect(student.getByText('from Ilse Vandermoor', { exact: false })).toBeVisible();
  await expect(student.locator('.textLayer').first()).toBeVisible();
  await student.context().close();

  await sheet.getByRole('button', { name: 'Take back' }).click();
  await expect(
    teacher.getByText('Copies taken back, but for 1 that has been opened'),
  ).toBeVisible();
  await sheet.getByRole('button', { name: 'Close' }).click();
  const { places } = await api(teacher, 'GET /api/boxes/:box', { params: { box: id } });
  for (const { placeId } of places) {
    const { things } = await api(teacher, 'GET /api/places/:place', { params: { place: placeId } });
    if (things.length > 0)
      await api(teacher, 'POST /api/bin', {
        body: {
          things: things.map((one) => ({ kind: 'placement' as const, id: one.placementId })),
        },
      });
  }
  await api(teacher, 'DELETE /api/boxes/:box', { params: { box: id } });
  await teacher.context().close();
});

test('at the end of the year boxes are closed, taken along, cleared in one step and kept after all', async ({
  browser,
}) => {
  const teacher = await openAs(browser, 'teacher');
  const ids = [
    await makeBox(teacher, 'Rain gauge, log'),
    await makeBox(teacher, 'Frost, observations'),
  ];
  const student = await openAs(browser, 'studentA');
  await visit(student, `/box/${ids[0]}`);
  await addFiles(student, [textFile('Gauge.txt', 'Four millimetres on Tuesday.')]);
  await expect(student.getByText(/^1 handed in, /u)).toBeVisible();
  for (const box of ids)
    await api(teacher, 'PATCH /api/boxes/:box', { params: { box }, body: { closed: true } });

  await visit(teacher, '/today');
  await teacher.getByRole('link', { name: 'Closed hand-in boxes' }).click();
  const closed = (title: string) => teacher.getByRole('listitem').filter({ hasText: title });
  await expect(closed('Rain gauge, log')).toContainText('1 of 24 are in');
  await closed('Rain gauge, log').getByRole('button', { name: 'Clear', exact: true }).click();
  await expect(closed('Rain gauge, log')).toContainText('Deleted for good on ');
  await expectAccessible(teacher);

  await visit(student, '/new');
  await expect(student.getByRole('link', { name: 'Rain gauge, log' })).toContainText(
    'Will be deleted on ',
  );
  await student.getByRole('link', { name: 'All you have handed in' }).click();
  await expect(student.getByRole('link', { name: 'Rain gauge, log' })).toBeVisible();
  await expectAccessible(student);
  const taken = await download(student, () =>
    student.getByRole('link', { name: 'Take all along' }).click(),
  );
  expect(taken.name).toBe('Mina Kovarik.zip');
  expect(taken.bytes.toString('latin1')).toContain('SO1A Rain gauge, log/Gauge.txt');

  await closed('Rain gauge, log').getByRole('button', { name: 'Keep' }).click();
  await expect(closed('Rain gauge, log')).toContainText('1 of 24 are in');
  await visit(student, '/handed-in');
  await expect(student.getByRole('link', { name: 'Rain gauge, log' })).toContainText('Closed');
  await student.context().close();
  for (const box of ids) await clear(teacher, box);
  await teacher.context().close();
});

test('a box is made from a folder; what another program shares goes into it', async ({
  browser,
}) => {
  const teacher = await openAs(browser, 'teacher');
  await goTo(teacher, 'Library');
  await teacher.getByRole('link', { name: '2 Texture & pH' }).first().click();
  await teacher.getByRole('button', { name: 'New hand-in box' }).click();
  const form = teacher.getByRole('form', { name: 'New hand-in box' });
  await expect(form.getByLabel('What is to be handed in')).toHaveValue('2 Texture & pH');
  for (const code of ['SO1A', 'SO1B'])
    await expect(form.getByRole('checkbox', { name: code })).toBeChecked();
  await form.getByLabel('What is to be handed in').fill('Texture, my samples');
  await expectAccessible(teacher);
  await form.getByRole('button', { name: 'Make the box' }).click();
  await expect(teacher.getByText('Texture, my samples made for 46 students')).toBeVisible();
  const { taught } = await api(teacher, 'GET /api/boxes');
  const ids = taught.filter(({ title }) => title === 'Texture, my samples').map(({ id }) => id);
  expect(ids).toHaveLength(2);

  const student = await openAs(browser, 'studentA', DEVICES.phone);
  // Before the application is on the device it can take nothing, and says so.
  await share(student, ['Too early.txt']);
  await expect(student.getByText('The file did not arrive.')).toBeVisible();
  await goTo(student, 'Kept');
  await student.getByRole('switch', { name: 'Readable without a connection' }).click();
  await student.evaluate(() => navigator.serviceWorker.ready.then(() => undefined));
  await student.waitForFunction(() => navigator.serviceWorker.controller !== null);
  await share(student, ['Sample one.txt', 'Sample two.txt']);
  await expect(
    student.getByRole('heading', { name: '2 files have been shared: where should they go?' }),
  ).toBeVisible();
  await expectAccessible(student);
  await student.getByRole('button', { name: 'SO1A Texture, my samples' }).click();
  // Other boxes of the list say what is in them, too.
  await expect(
    student.getByRole('heading', { level: 1, name: 'Texture, my samples' }),
  ).toBeVisible();
  await expect(student.getByText(/^2 handed in, /u)).toBeVisible();
  await expect(student.getByText(/You have room for .* more\./u)).toBeVisible();
  await goTo(student, 'Kept');
  await student.getByRole('switch', { name: 'Readable without a connection' }).click();
  await student.context().close();
  for (const id of ids) await clear(teacher, id);
  await teacher.context().close();
});
