import { expect, test } from '@playwright/test';
import { audience, makeFolder, openAs, row } from './steps.ts';

/** Everything without a mouse. */
test('a teacher makes a folder, hands it out, takes it back and undoes, by keyboard alone', async ({
  browser,
}) => {
  const page = await openAs(browser, 'teacher');
  await page.getByRole('button', { name: 'New folder' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Name of the folder')).toBeFocused();
  await page.keyboard.type('By keyboard');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1, name: 'By keyboard' })).toBeVisible();

  await audience(page, 'PR2A').focus();
  await page.keyboard.press('Space');
  await expect(audience(page, 'PR2A')).toBeChecked();
  await audience(page, 'PR2A').focus();
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Take back' })).toBeFocused();
  await page.keyboard.press('Escape');
  await expect(audience(page, 'PR2A')).toBeFocused();
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Take back' })).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(audience(page, 'PR2A')).not.toBeChecked();
  await page.keyboard.press('Control+z');
  await expect(audience(page, 'PR2A')).toBeChecked();
  await page.keyboard.press('Control+z');
  await expect(audience(page, 'PR2A')).not.toBeChecked();
  await page.context().close();
});

test('switches that are pressed one right after the other are all obeyed', async ({ browser }) => {
  const page = await openAs(browser, 'teacher');
  await makeFolder(page, 'Pressed quickly');
  for (const code of ['SO1A', 'SO1B', 'PR2A']) {
    await audience(page, code).focus();
    await page.keyboard.press('Space');
  }
  for (const code of ['SO1A', 'SO1B', 'PR2A']) await expect(audience(page, code)).toBeChecked();
  await page.reload();
  for (const code of ['SO1A', 'SO1B', 'PR2A']) await expect(audience(page, code)).toBeChecked();
  await page.context().close();
});

test('tree and list are walked with arrows, Enter opens, Del removes, Ctrl Z brings back', async ({
  browser,
}) => {
  const page = await openAs(browser, 'otherTeacher');
  const tree = page.getByRole('treeitem', { name: 'Orchard Care' });
  await tree.focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Orchard Care/u })).toBeVisible();
  const first = page.getByRole('link', { name: /Winter pruning/u });
  await first.focus();
  await page.keyboard.press('ArrowDown');
  await expect(page.getByRole('link', { name: /Dawn in row 4/u })).toBeFocused();
  await page.keyboard.press('Home');
  await expect(first).toBeFocused();
  await page.keyboard.press('Delete');
  await expect(page.getByRole('dialog')).toContainText('will no longer see 1 item');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/Winter pruning, where to cut is in the Bin/u)).toBeVisible();
  await expect(first).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(first).toBeVisible();

  const menu = row(page, 'Winter pruning').getByRole('button', { name: /Actions for/u });
  await menu.focus();
  await page.keyboard.press('Enter');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Escape');
  await expect(menu).toBeFocused();
  await page.context().close();
});

test('a student opens a handout in two steps after signing in, and comes back by keyboard', async ({
  browser,
}) => {
  const page = await openAs(browser, 'studentB');
  await page.keyboard.press('?');
  await expect(
    page.getByRole('dialog', { name: 'Keys' }).getByText('move through a list or the tree'),
  ).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toHaveCount(0);
  await page.getByRole('link', { name: /Quiz 4, blank/u }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Page 1 of 1')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('heading', { level: 1, name: '2 Texture & pH' })).toBeVisible();
  await expect(page.getByText('Answer keys')).toHaveCount(0);
  await expect(page.getByText('Notes for the field trip')).toHaveCount(0);
  await page.context().close();
});
