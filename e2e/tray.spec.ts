import { expect, test, type Browser, type Page } from '@playwright/test';
import { DEVICES } from './devices.ts';
import { api, dropFiles, expectAccessible, openAs, textFile, visit } from './steps.ts';

/** The tray without the files of the sample, which come back afterwards. */
async function openTray(browser: Browser, device: keyof typeof DEVICES) {
  const page = await openAs(browser, 'teacher', DEVICES[device]);
  const { files } = await api(page, 'GET /api/tray');
  const ids = files.map(({ id }) => id);
  if (ids.length > 0) await api(page, 'POST /api/tray/remove', { body: { files: ids } });
  await visit(page, '/today');
  const tray = page.getByRole('region', { name: 'Tray' });
  await expect(tray.getByText('Drop the day’s files here')).toBeVisible();
  const done = async () => {
    if (ids.length > 0) await api(page, 'POST /api/tray/restore', { body: { files: ids } });
    await page.context().close();
  };
  return { page, done };
}
const region = (page: Page) => page.getByRole('region', { name: /tray/iu });
const row = (page: Page, title: string) =>
  region(page).getByRole('listitem', { name: `${title}, in the tray` });
const put = (page: Page, n: number) =>
  region(page).getByRole('button', { name: `Put ${n} in place` });
const titlesOf = async (page: Page, folder: string) => {
  const { folders } = await api(page, 'GET /api/library/tree');
  const id = folders.find(({ title }) => title === folder)!.id;
  const { items } = await api(page, 'GET /api/folders/:folder/contents', {
    params: { folder: id },
  });
  return items.map(({ title }) => title);
};

test('a day’s files go to three classes with four actions, and back with one', async ({
  browser,
}) => {
  const { page, done } = await openTray(browser, 'laptop');
  await dropFiles(
    page,
    [
      textFile('SO1A lesson 15 worms.txt', 'Worms in the compost, seen at noon.'),
      textFile('B lesson 15.txt', 'Worms again, for the other class.'),
      textFile('PR2A lesson 15 heel cuttings.txt', 'Heel cuttings of lavender.'),
    ],
    region(page).getByText('Drop the day’s files here'),
  );
  await expect(region(page).getByRole('heading', { name: '3 files in the tray' })).toBeVisible();
  // Its title is as the series has it by now: other journeys have added to that.
  const named = page.getByLabel('Title of SO1A lesson 15 worms.txt');
  await expect(named).toHaveValue(/\b15\b.*worms$/u);
  const title = await named.inputValue();
  await expect(row(page, title).getByText('SO1A is in the name')).toBeVisible();
  await expect(region(page)).toContainText('SO1A: 24 students will see 1 item');
  await expectAccessible(page);
  await put(page, 3).click();
  await expect(page.getByText('3 files put in place')).toBeVisible();
  expect(await titlesOf(page, '2 Texture & pH')).toEqual(expect.arrayContaining([title]));
  const student = await openAs(browser, 'studentA');
  await expect(student.getByRole('link', { name: title })).toBeVisible();
  await student.context().close();

  // The list of the day says what went where.
  await expect(page.getByRole('region', { name: 'Put in place' })).toContainText(title);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(region(page).getByRole('heading', { name: '3 files in the tray' })).toBeVisible();
  expect(await titlesOf(page, '2 Texture & pH')).not.toContain(title);

  // One is what the library has by now; it is not added twice.
  await put(page, 3).click();
  await expect(page.getByText('3 files put in place')).toBeVisible();
  await dropFiles(
    page,
    [textFile('worms again.txt', 'Worms in the compost, seen at noon.')],
    region(page).getByText('Drop the day’s files here'),
  );
  await expect(row(page, 'Worms again').getByText('Not added again')).toBeVisible();
  await expect(region(page).getByRole('button', { name: 'Put in place' })).toBeDisabled();
  await row(page, 'Worms again').getByRole('button', { name: 'Take out of the tray' }).click();
  await expect(page.getByText('1 file taken out of the tray')).toBeVisible();
  const { rounds } = await api(page, 'GET /api/tray/rounds');
  await api(page, 'POST /api/tray/rounds/:round/back', { params: { round: rounds[0]!.id } });
  const left = (await api(page, 'GET /api/tray')).files.map(({ id }) => id);
  await api(page, 'POST /api/tray/remove', { body: { files: left } });
  await done();
});

test('all of a row is changed with the keyboard alone, and put in place with it', async ({
  browser,
}) => {
  const { page, done } = await openTray(browser, 'laptop');
  await dropFiles(
    page,
    [
      textFile('IMG_4711.txt', 'What is on the board.'),
      textFile('IMG_4712.txt', 'And on the other.'),
    ],
    region(page).getByText('Drop the day’s files here'),
  );
  await expect(region(page).getByRole('heading', { name: '2 files in the tray' })).toBeVisible();
  await visit(page, '/library');
  await expect(page.getByRole('heading', { level: 1, name: 'Library' })).toBeVisible();
  await page.keyboard.press('t');
  await expect(row(page, 'IMG_4711')).toBeFocused();
  await page.keyboard.press('ArrowDown');
  await expect(row(page, 'IMG_4712')).toBeFocused();
  await page.keyboard.press('ArrowUp');
  // Title, class, folder and time, each with its key; Escape is back at the row.
  await page.keyboard.press('t');
  await page.keyboard.press('Control+a');
  await page.keyboard.type('The board of bed 3');
  await page.keyboard.press('Enter');
  await expect(row(page, 'The board of bed 3')).toBeVisible();
  await row(page, 'The board of bed 3').focus();
  await page.keyboard.press('c');
  await page.keyboard.press('Enter');
  await page.keyboard.type('SO1B');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
  await expect(row(page, 'The board of bed 3')).toContainText('SO1B');
  await row(page, 'The board of bed 3').focus();
  await page.keyboard.press('g');
  await page.keyboard.press('h');
  await expect(row(page, 'The board of bed 3').getByLabel(/goes out/u)).toHaveValue('held');
  await page.keyboard.press('Escape');
  await expect(row(page, 'The board of bed 3')).toBeFocused();
  await expect(put(page, 1)).toBeEnabled();
  await page.keyboard.press('Control+Enter');
  await expect(page.getByText('1 file put in place')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(row(page, 'The board of bed 3')).toBeVisible();
  await row(page, 'IMG_4712').focus();
  await page.keyboard.press('Delete');
  await expect(page.getByText('1 file taken out of the tray')).toBeVisible();
  const left = (await api(page, 'GET /api/tray')).files.map(({ id }) => id);
  await api(page, 'POST /api/tray/remove', { body: { files: left } });
  await done();
});

test('files dropped on the upper edge of any page wait in the tray', async ({ browser }) => {
  const { page, done } = await openTray(browser, 'laptop');
  await visit(page, '/library');
  await expect(page.getByRole('heading', { level: 1, name: 'Library' })).toBeVisible();
  const transfer = await page.evaluateHandle(() => {
    const data = new DataTransfer();
    data.items.add(new File(['Dropped on the edge.'], 'edge.txt', { type: 'text/plain' }));
    return data;
  });
  await page.locator('#main').dispatchEvent('dragover', { dataTransfer: transfer });
  const edge = page.getByText('Drop here for the tray');
  await edge.dispatchEvent('drop', { dataTransfer: transfer });
  await expect(page.getByText('1 file added to Tray')).toBeVisible();
  await page.keyboard.press('t');
  await expect(row(page, 'Edge')).toBeVisible();
  const left = (await api(page, 'GET /api/tray')).files.map(({ id }) => id);
  await api(page, 'POST /api/tray/remove', { body: { files: left } });
  await done();
});

for (const device of ['tablet', 'phone'] as const)
  test(`files are put in place on a ${device}, and a class is moved on`, async ({ browser }) => {
    const { page, done } = await openTray(browser, device);
    await region(page)
      .locator('input[type=file]')
      .setInputFiles([textFile(`scan ${device}.txt`, `Scanned on a ${device}.`)]);
    const title = `Scan ${device}`;
    await expect(row(page, title)).toBeVisible();
    await row(page, title)
      .getByRole('button', { name: /^Classes for/u })
      .tap();
    await page.getByRole('option', { name: /PR2A/u }).tap();
    await page.keyboard.press('Escape');
    await expect(put(page, 1)).toBeEnabled();
    await expectAccessible(page);
    // A page that is too wide makes the window of a tablet wider.
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(
      DEVICES[device]!.viewport!.width,
    );
    await put(page, 1).tap();
    await expect(page.getByText('1 file put in place')).toBeVisible();
    await page.getByRole('button', { name: 'Undo' }).tap();
    await expect(row(page, title)).toBeVisible();
    await region(page).getByRole('button', { name: 'Current folders' }).tap();
    const folders = page.getByRole('dialog', { name: 'Current folders' });
    const soil = folders.getByRole('listitem').filter({ hasText: 'SO1A' });
    await soil.getByRole('button', { name: 'Move on to 3 Compost' }).tap();
    await expect(soil.getByText('3 Compost', { exact: true })).toBeVisible();
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'Undo' }).tap();
    await region(page).getByRole('button', { name: 'Current folders' }).tap();
    await expect(soil.getByText('2 Texture & pH')).toBeVisible();
    await page.keyboard.press('Escape');
    const left = (await api(page, 'GET /api/tray')).files.map(({ id }) => id);
    await api(page, 'POST /api/tray/remove', { body: { files: left } });
    await done();
  });
