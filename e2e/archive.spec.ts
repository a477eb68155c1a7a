import { expect, test } from '@playwright/test';
import {
  addFiles,
  audience,
  download,
  expectAccessible,
  makeFolder,
  openAs,
  row,
  textFile,
  visit,
} from './steps.ts';

/** Taking along, for teachers and students; and the room that files take. */
test('a folder, and several things at once, as one archive; a student gets only what they see', async ({
  browser,
}) => {
  const teacher = await openAs(browser, 'teacher');
  await makeFolder(teacher, 'Böden to take');
  await audience(teacher, 'SO1A').click();
  await expect(audience(teacher, 'SO1A')).toBeChecked();
  const address = teacher.url();
  await makeFolder(teacher, 'Inner');
  await addFiles(teacher, [textFile('Inside.txt', 'take inside')]);
  await expect(row(teacher, 'Inside')).toBeVisible();
  await visit(teacher, address);
  await addFiles(
    teacher,
    ['One', 'Two', 'Three'].map((n) => textFile(`${n}.txt`, `take ${n}`)),
  );
  await expect(teacher.getByText(/3 files added/u)).toBeVisible();
  await teacher.getByRole('button', { name: 'Close' }).click();

  for (const title of ['One', 'Two'])
    await row(teacher, title)
      .getByRole('link')
      .click({ modifiers: ['Control'] });
  const chosen = await download(teacher, () =>
    teacher
      .getByRole('group', { name: '2 chosen' })
      .getByRole('link', { name: 'Download' })
      .click(),
  );
  expect(chosen.name).toBe('Böden to take.zip');
  expect(chosen.bytes.toString('latin1')).toContain('take Two');
  expect(chosen.bytes.toString('latin1')).not.toContain('take Three');

  const student = await openAs(browser, 'studentA');
  await visit(student, address);
  const all = await download(student, () =>
    student.getByRole('link', { name: 'Download all' }).click(),
  );
  expect(all.name).toBe('Böden to take.zip');
  for (const text of ['take inside', 'take One', 'take Two', 'take Three'])
    expect(all.bytes.toString('latin1')).toContain(text);
  await student.getByRole('button', { name: 'Choose' }).click();
  await student.getByRole('checkbox', { name: 'Choose Inner' }).check();
  await student.getByRole('checkbox', { name: 'Choose Three' }).check();
  await expectAccessible(student);
  const some = await download(student, () =>
    student.getByRole('link', { name: 'Download 2' }).click(),
  );
  expect(some.bytes.toString('latin1')).toContain('take inside');
  expect(some.bytes.toString('latin1')).not.toContain('take One');
  await teacher.context().close();
  await student.context().close();
});

test('Space says what is used by what, what is left, and what only lies in the Bin', async ({
  browser,
}) => {
  const page = await openAs(browser, 'otherTeacher');
  await makeFolder(page, 'Takes room');
  await addFiles(page, [
    { name: 'Large.txt', mimeType: 'text/plain', buffer: Buffer.alloc(3_000_000, 'room ') },
  ]);
  await expect(row(page, 'Large')).toBeVisible();
  await row(page, 'Large').getByRole('link').focus();
  await page.keyboard.press('Delete');
  await expect(page.getByText('Large is in the Bin.')).toBeVisible();
  await page.getByRole('link', { name: 'Space', exact: true }).click();
  await expect(page.getByText(/taken up, out of 20 GB/u)).toBeVisible();
  await expect(page.getByText('1 file is only in the Bin and takes up 3 MB.')).toBeVisible();
  await expect(page.locator('.apexcharts-bar-area').first()).toBeVisible();
  await expect(page.getByRole('listitem').filter({ hasText: 'Text: 3 MB, 1 file' })).toBeAttached();
  await expectAccessible(page);
  await page.context().close();
});
