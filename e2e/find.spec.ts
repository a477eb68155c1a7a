import { expect, test } from '@playwright/test';
import { makeText } from '../demo/src/files/office.ts';
import {
  addFiles,
  expectAccessible,
  goTo,
  makeFolder,
  openAs,
  pick,
  row,
  textFile,
} from './steps.ts';

/** Finding by name and by what is inside, and looking at files of many kinds in place. */
test('what is written inside an office file is found once its preview is made; others find only what they see', async ({
  browser,
}) => {
  const page = await openAs(browser, 'teacher');
  await makeFolder(page, 'To be found');
  const docx = await makeText({
    title: 'Grafting knives',
    paragraphs: ['Sharpen the zwickelmesser on a wet stone.'],
  });
  await addFiles(page, [
    { name: 'Knives.docx', mimeType: 'application/octet-stream', buffer: Buffer.from(docx) },
    textFile('Marks.csv', 'name;mark\nMina;2\n'),
    textFile('Howto.md', '# How to\n\nFirst **sharpen**.\n\n<script>alert(1)</script>\n'),
  ]);
  await expect(page.getByText(/3 files added/u)).toBeVisible();
  await page.getByRole('button', { name: 'Close' }).click();

  await row(page, 'Knives').getByRole('link').click();
  await expect(page.getByLabel('Page 1 of 1')).toContainText('zwickelmesser', { timeout: 120_000 });
  await page.keyboard.press('Escape');
  await row(page, 'Marks').getByRole('link').click();
  await expect(page.getByRole('cell', { name: 'Mina' })).toBeVisible();
  await expectAccessible(page);
  await page.keyboard.press('Escape');
  await row(page, 'Howto').getByRole('link').click();
  await expect(page.getByRole('heading', { name: 'How to', exact: true })).toBeVisible();
  await expect(page.getByText('<script>alert(1)</script>')).toBeVisible();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Tiles' }).click();
  await expect(page.locator('#main [data-at] img')).toHaveCount(1);
  await expect
    .poll(() =>
      page.locator('#main [data-at] img').evaluate((img: HTMLImageElement) => img.naturalWidth),
    )
    .toBeGreaterThan(100);

  await page.keyboard.press('/');
  await page.getByLabel('A name, or words inside').fill('zwickelm');
  const hit = page.getByRole('option', { name: /Knives/u });
  await expect(hit).toContainText('zwickelmesser');
  await expect(hit).toContainText('To be found');
  await expectAccessible(page);
  await page.getByLabel('Kind').selectOption('Pictures');
  await expect(
    page.getByText('Nothing found. Try fewer letters, or take a filter away.'),
  ).toBeVisible();
  await page.getByLabel('Kind').selectOption('Office files');
  await expect(hit).toBeVisible();
  await page.getByLabel('A name, or words inside').press('ArrowDown');
  await expect(page.getByLabel('A name, or words inside')).toHaveAttribute(
    'aria-activedescendant',
    /./u,
  );
  await page.getByLabel('A name, or words inside').press('Enter');
  await expect(page.getByRole('heading', { level: 1, name: 'Knives' })).toBeVisible();

  const student = await openAs(browser, 'studentA');
  await student.keyboard.press('/');
  await student.getByLabel('A name, or words inside').fill('zwickelm');
  await expect(student.getByText(/Nothing found/u)).toBeVisible();
  await student.getByLabel('A name, or words inside').fill('pH strp');
  await expect(
    student.getByRole('option', { name: /Lesson 14, reading a pH strip/u }),
  ).toBeVisible();
  // Whoever knows what comes first need not wait for it.
  await student.keyboard.press('Control+a');
  await student.keyboard.type('Lesson 14');
  await student.keyboard.press('Enter');
  await expect(student.getByRole('heading', { level: 1, name: /Lesson 14/u })).toBeVisible();
  await page.context().close();
  await student.context().close();
});

test('what was opened over a page gives the focus back to what had it', async ({ browser }) => {
  const page = await openAs(browser, 'otherTeacher');
  await makeFolder(page, 'Focus');
  await goTo(page, 'Library');
  const { keyboard } = page;
  const title = row(page, 'Focus').getByRole('link');
  await title.focus();
  await keyboard.press('/');
  await expect(page.getByLabel('A name, or words inside')).toBeFocused();
  await keyboard.press('Escape');
  await expect(title).toBeFocused();
  await pick(page, 'Focus', 'Move …');
  await expect(page.getByRole('dialog')).toContainText('Focus');
  await keyboard.press('Escape');
  await expect(row(page, 'Focus').getByRole('button', { name: /Actions for/u })).toBeFocused();
  const another = page.getByRole('button', { name: 'New folder' });
  await another.focus();
  await keyboard.press('Enter');
  await expect(page.getByLabel('Name of the folder')).toBeFocused();
  await keyboard.press('Escape');
  await expect(another).toBeFocused();
  await page.context().close();
});
