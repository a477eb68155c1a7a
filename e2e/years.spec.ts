import { expect, test } from '@playwright/test';
import { startServerApart } from './server.ts';
import { expectAccessible, openAs, visit } from './steps.ts';

/** Years of a sample school of their own: what closing takes concerns everybody. */
let server: Awaited<ReturnType<typeof startServerApart>>;
test.beforeAll(async () => {
  server = await startServerApart();
});
test.afterAll(() => server.stop());

test('a year is closed and opened again: students lose what their classes had, teachers read on', async ({
  browser,
}) => {
  const there = { baseURL: server.address };
  const office = await openAs(browser, 'office', there);
  const student = await openAs(browser, 'studentA', there);
  await visit(student, '/classes');
  const units = student.getByRole('link', { name: /Grafting/u });
  await expect(units.first()).toBeVisible();
  await visit(office, '/years');
  await expect(office.getByText('5 classes · 90 students')).toBeVisible();
  await expectAccessible(office);
  await office.getByRole('button', { name: 'Close 2026/27' }).click();
  const sheet = office.getByRole('dialog');
  await expect(sheet).toContainText('90 students in 5 classes will no longer see');
  await expect(sheet).toContainText('hand-in boxes still take something');
  await expectAccessible(office);
  await sheet.getByRole('button', { name: 'Close the year' }).click();
  await expect(office.getByText('2026/27 closed', { exact: true })).toBeVisible();
  await expect(office.getByRole('button', { name: 'Open again: 2026/27' })).toBeVisible();
  // It was open in front of them.
  await expect(units).toHaveCount(0);
  const teacher = await openAs(browser, 'teacher', there);
  await visit(teacher, '/library');
  await teacher
    .getByRole('treeitem', { name: /Plant Propagation/u })
    .first()
    .click();
  await expect(teacher.getByRole('heading', { level: 1 })).toContainText('Plant Propagation');
  await office.getByRole('button', { name: 'Open again: 2026/27' }).click();
  await expect(office.getByRole('button', { name: 'Close 2026/27' })).toBeVisible();
  await visit(student, '/classes');
  await expect(units.first()).toBeVisible();
  for (const page of [office, student, teacher]) await page.context().close();
});

test('the next year is made with the classes of this one by keyboard alone, and changed', async ({
  browser,
}) => {
  const office = await openAs(browser, 'office', { baseURL: server.address });
  await visit(office, '/years');
  await office.getByRole('button', { name: 'New year' }).focus();
  await office.keyboard.press('Enter');
  const form = office.getByRole('form', { name: 'New year' });
  await expect(form.getByLabel('What it is called')).toHaveValue('2027/28');
  await expectAccessible(office);
  await form.getByLabel('FL1 again').focus();
  await office.keyboard.press('Space');
  await form.getByLabel('Code in place of SO1B').focus();
  await office.keyboard.press('Control+A');
  await office.keyboard.type('so1a');
  await office.keyboard.press('Enter');
  await expect(form.getByRole('alert')).toHaveText(/code/u);
  await office.keyboard.press('Control+A');
  await office.keyboard.type('SO1C');
  await office.keyboard.press('Enter');
  await expect(office.getByText('2027/28 made, with 4 classes')).toBeVisible();
  await expect(office.getByText('4 classes · no students')).toBeVisible();
  await expect(office.getByRole('button', { name: 'New year' })).toBeFocused();

  await office.getByRole('button', { name: 'Change 2027/28' }).focus();
  await office.keyboard.press('Enter');
  await office.getByLabel('What it is called').focus();
  await office.keyboard.press('Control+A');
  await office.keyboard.type('2026/27');
  await office.keyboard.press('Enter');
  await expect(office.getByText('There is a year called that already.')).toBeVisible();
  await office.keyboard.press('Control+A');
  await office.keyboard.type('Next year');
  await office.keyboard.press('Enter');
  await expect(office.getByText('Next year changed')).toBeVisible();
  await visit(office, '/classes');
  await expect(office.getByText('SO1C').first()).toBeVisible();
  await office.context().close();
});
