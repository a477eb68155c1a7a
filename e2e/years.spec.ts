import { expect, test } from '@playwright/test';
import { startServerApart } from './server.ts';
import { expectAccessible, openAs, visit } from './steps.ts';

/** Years of a sample school of their own: what closing takes concerns everybody. */
let server: Awaited<ReturnType<typeof startServerApart>>;
test.beforeAll(async () => {
  server = await startServerApart();
});
test.afterAll(() => server.stop());

test('a year is closed and opened again by the keys alone: students lose what their classes had, teachers read on', async ({
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
  await office.getByRole('button', { name: 'Close 2026/27' }).press('Enter');
  const sheet = office.getByRole('dialog');
  await expect(sheet).toContainText('90 students in 5 classes will no longer see');
  await expect(sheet).toContainText('hand-in boxes still take something');
  await expectAccessible(office);
  await sheet.getByRole('button', { name: 'Close the year' }).press('Enter');
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
  await office.getByRole('button', { name: 'Open again: 2026/27' }).press('Enter');
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

test('last year’s library is carried over by keyboard alone, mended, found again and undone', async ({
  browser,
}) => {
  const there = { baseURL: server.address };
  const page = await openAs(browser, 'teacher', there);
  await visit(page, '/library');
  await page.getByRole('link', { name: 'Carry over' }).focus();
  await page.keyboard.press('Enter');
  await page.getByRole('combobox', { name: 'to' }).focus();
  await page.keyboard.type('2026/27');
  await page.getByRole('combobox', { name: 'From' }).focus();
  await page.keyboard.type('2025/26');
  const choice = page.getByRole('form', { name: 'What is carried over' });
  const follow = choice.getByRole('group', { name: 'Classes that follow SO1A' });
  await expect(follow.getByRole('button', { name: 'SO1A' })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  await follow.getByRole('button', { name: 'SO1B' }).focus();
  await page.keyboard.press('Enter');
  await choice.getByLabel('Hand the new folders out').focus();
  await page.keyboard.press('Space');
  const preview = page.getByRole('region', { name: 'What will be made' });
  await expect(preview).toContainText(
    /SO1A \(\d+ students\) will see 6 things now\.\s+1 more later/u,
  );
  await expect(preview.getByRole('cell', { name: 'Sheets of the SO1B pit' })).toBeVisible();
  const name = preview.getByLabel('New name for Soil Science I, last year').first();
  await name.focus();
  await page.keyboard.press('ControlOrMeta+a');
  await page.keyboard.type('Soil again');
  await page.keyboard.press('Tab');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Carry over 10 folders, 14 things' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByText('Carried over: 10 folders, 14 things')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Nothing to carry over' })).toBeDisabled();
  await expectAccessible(page);

  // The class has it, but for what is held back.
  const student = await openAs(browser, 'studentA', there);
  await visit(student, '/classes');
  await student.getByRole('link', { name: /Soil again/u }).click();
  await student.getByRole('link', { name: /2 In the laboratory/u }).click();
  await expect(student.getByRole('link', { name: /Reading pH strips/u }).first()).toBeVisible();
  await expect(student.getByText('Answers, kept back')).toHaveCount(0);

  // One page is mended where it is written, the other from the list.
  const marks = page.getByRole('group', { name: 'What looks out of date' });
  await expect(marks.getByRole('listitem')).toHaveCount(2);
  await marks.getByRole('button', { name: 'Change How the course went' }).first().focus();
  await page.keyboard.press('Enter');
  await expect(marks.getByRole('listitem')).toHaveCount(1);
  const address = await marks.getByRole('link').getAttribute('href');
  await visit(page, address!.replace('/item/', '/write/'));
  await expect(page.getByRole('group', { name: 'What looks out of date' })).toBeVisible();

  await visit(page, '/carry-over');
  await page.getByRole('button', { name: 'Undo: 2025/26 → 2026/27' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByText('Undone', { exact: true })).toBeVisible();
  await visit(student, '/classes');
  await expect(student.getByRole('link', { name: /Soil again/u })).toHaveCount(0);

  // In the end last year goes into the Bin in one step, and comes back by another.
  await page.getByRole('combobox', { name: 'From' }).focus();
  await page.keyboard.type('2025/26');
  const old = page.getByRole('group').filter({ hasText: 'Put 2025/26 away' });
  await page.getByText('Put 2025/26 away').focus();
  await page.keyboard.press('Enter');
  for (const box of await old.getByRole('checkbox').all()) await expect(box).toBeChecked();
  await old.getByRole('button', { name: /into the Bin/u }).focus();
  await expectAccessible(page);
  await page.keyboard.press('Enter');
  const sure = page.getByRole('dialog').getByRole('button', { name: 'Remove' });
  const cleared = page.getByText(/of 2025\/26 (?:is|are) in the Bin/u);
  await expect(sure.or(cleared)).toBeVisible();
  if (await sure.isVisible()) await sure.press('Enter');
  await expect(cleared).toBeVisible();
  await expect(page.getByText('No folders of that year.')).toBeVisible();
  await page.getByRole('button', { name: 'Undo', exact: true }).press('Enter');
  await expect(page.getByText('Put 2025/26 away')).toBeVisible();
  for (const one of [page, student]) await one.context().close();
});
