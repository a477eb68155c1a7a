import { expect, test, type Page } from '@playwright/test';
import sharp from 'sharp';
import { makePicture } from '../demo/src/files/picture.ts';
import { cameraOnBoard } from './camera.ts';
import { DEVICES } from './devices.ts';
import config from './playwright.config.ts';
import { addFiles, api, expectAccessible, openAs, share, textFile, visit } from './steps.ts';

const { launchOptions } = config.use!;
test.use({
  launchOptions: {
    ...launchOptions,
    args: [...launchOptions!.args!, ...(await cameraOnBoard())],
  },
});

const PHONE = { ...DEVICES['phone']!, permissions: ['camera'] };
const board = await makePicture('board');
const picture = (name: string, buffer = board) => ({ name, mimeType: 'image/jpeg', buffer });
const pages = (page: Page) => page.getByRole('list', { name: 'Pages' }).getByRole('listitem');
const inTray = async (page: Page, name: string | RegExp) =>
  (await api(page, 'GET /api/tray')).files.find((file) => file.name.match(name));

/** The width and height of the picture on the screen, in its own pixels. */
const sizeOf = (page: Page, alt: string) =>
  page.getByRole('img', { name: alt, exact: true }).evaluate((image: HTMLImageElement) => ({
    width: image.naturalWidth,
    height: image.naturalHeight,
  }));

test('a picture of the board goes to a class with three actions, and back with one', async ({
  browser,
}) => {
  // Open before: what is said of the round, with its Undo, does not stay for ever.
  const student = await openAs(browser, 'studentA');
  const page = await openAs(browser, 'teacher', PHONE);
  await visit(page, '/today');
  await page.getByRole('link', { name: 'Photograph' }).tap();
  await page.getByRole('button', { name: 'Take a picture' }).tap();
  await expect(page.getByText('1 page')).toBeVisible();
  await expectAccessible(page);
  const title = await page.getByLabel('Title').inputValue();
  expect(title).toMatch(/^Board, /u);
  await page.getByRole('button', { name: 'SO1A 2 Texture & pH' }).tap();
  await expect(
    page.getByText('1 file put in place. SO1A: 24 students will see 1 item'),
  ).toBeVisible();
  expect(new URL(page.url()).pathname).toBe('/today');
  await expect(student.getByRole('link', { name: title })).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).tap();
  await expect(student.getByRole('link', { name: title })).toBeHidden();
  await student.context().close();
  const file = (await inTray(page, `${title}.pdf`))!;
  await api(page, 'POST /api/tray/remove', { body: { files: [file.id] } });
  await page.context().close();
});

test('several pictures are straightened, kept when the telephone dies, and make one document', async ({
  browser,
}) => {
  const page = await openAs(browser, 'teacher', PHONE);
  await visit(page, '/pictures');
  await addFiles(page, [
    picture('one.jpg'),
    { ...textFile('no picture.jpg', 'Only its name says so.'), mimeType: 'image/jpeg' },
    picture('two.jpg', await sharp(board).rotate(90).jpeg().toBuffer()),
  ]);
  await expect(page.getByText('2 pages')).toBeVisible();
  await expect(page.getByText(/no picture\.jpg is not a picture/u)).toBeVisible();
  await page.getByRole('button', { name: 'Page 2, not readable' }).tap();
  await page.getByRole('button', { name: 'Remove' }).tap();
  await expect(pages(page)).toHaveCount(2);

  // The board is cut out of the wall around it, in its own proportions.
  await page.getByRole('button', { name: 'Page 1' }).tap();
  const cut = await sizeOf(page, 'Page 1');
  expect(cut.width / cut.height).toBeGreaterThan(1.5);
  expect(cut.width).toBeLessThan(1450);
  await page.getByRole('button', { name: 'Turn' }).tap();
  await expect.poll(async () => (await sizeOf(page, 'Page 1')).width).toBe(cut.height);
  await page.getByRole('button', { name: 'Corners' }).tap();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Whole picture' }).tap();
  await page.getByRole('button', { name: 'Show the page' }).tap();
  await expect.poll(async () => (await sizeOf(page, 'Page 1')).width).toBe(1600);
  // A corner by the keys of a keyboard.
  await page.getByRole('button', { name: 'Corners' }).tap();
  await page.getByRole('button', { name: 'Upper right corner' }).focus();
  for (let n = 0; n < 25; n += 1) await page.keyboard.press('ArrowLeft');
  await page.getByRole('button', { name: 'Lower right corner' }).focus();
  for (let n = 0; n < 25; n += 1) await page.keyboard.press('ArrowLeft');
  await page.getByRole('button', { name: 'Show the page' }).tap();
  await expect.poll(async () => (await sizeOf(page, 'Page 1')).width).toBe(1200);

  await page.reload();
  await expect(page.getByText('2 pages')).toBeVisible();
  await page.getByRole('button', { name: 'Page 1' }).tap();
  expect((await sizeOf(page, 'Page 1')).width).toBe(1200);
  await page.getByRole('button', { name: 'Remove' }).tap();
  await expect(pages(page)).toHaveCount(1);
  await page.getByRole('button', { name: 'Undo' }).tap();
  await expect(page.getByText('2 pages')).toBeVisible();
  await page.getByLabel('Title').fill('Two sheets');
  await page.getByRole('button', { name: 'Into the tray' }).tap();
  await expect(page.getByRole('listitem', { name: 'Two sheets, in the tray' })).toBeVisible();
  const { id } = (await inTray(page, 'Two sheets.pdf'))!;
  const content = await page.request.get(`/api/tray/${id}/content`);
  expect((await content.body()).toString('latin1').match(/\/Type ?\/Page\b/gu)).toHaveLength(2);
  await visit(page, '/pictures');
  await expect(page.getByRole('heading', { name: 'Photograph' })).toBeVisible();
  await expect(pages(page)).toHaveCount(0);
  await api(page, 'POST /api/tray/remove', { body: { files: [id] } });
  await page.context().close();
});

test('twenty photographs of twelve megapixels make one document', async ({ browser }) => {
  const page = await openAs(browser, 'teacher', { ...PHONE, permissions: [] });
  await visit(page, '/pictures');
  const large = await sharp(board).resize(4000, 3000).jpeg({ quality: 90 }).toBuffer();
  await addFiles(
    page,
    Array.from({ length: 20 }, (_, n) => picture(`IMG_${n}.jpg`, large)),
  );
  await expect(page.getByText('20 pages')).toBeVisible({ timeout: 120_000 });
  await page.getByLabel('Title').fill('Twenty sheets');
  await page.getByRole('button', { name: 'Into the tray' }).tap();
  await expect(page.getByRole('listitem', { name: 'Twenty sheets, in the tray' })).toBeVisible({
    timeout: 60_000,
  });
  const { id, size } = (await inTray(page, 'Twenty sheets.pdf'))!;
  expect(size).toBeLessThan(20 << 20);
  await api(page, 'POST /api/tray/remove', { body: { files: [id] } });
  await page.context().close();
});

test('without a connection pictures wait on the device, and go on when there is one', async ({
  browser,
}) => {
  const page = await openAs(browser, 'teacher', PHONE);
  await visit(page, '/pictures');
  await page.evaluate(() => navigator.serviceWorker.ready.then(() => undefined));
  await expect
    .poll(() =>
      page.evaluate(
        async () => (await caches.match('/index.html', { ignoreSearch: true })) !== undefined,
      ),
    )
    .toBe(true);
  await expect
    .poll(() =>
      page.evaluate(async () =>
        (await (await caches.open('parts')).keys()).some(({ url }) => url.includes('capture')),
      ),
    )
    .toBe(true);
  await page.context().setOffline(true);
  await page.reload();
  await page.getByRole('button', { name: 'Take a picture' }).tap();
  await expect(page.getByText('1 page')).toBeVisible();
  await page.getByLabel('Title').fill('Taken in the field');
  await page.getByRole('button', { name: 'Into the tray' }).tap();
  await expect(page.getByText('Taken in the field waits on this device')).toBeVisible();
  await page.reload();
  await page.context().setOffline(false);
  await page.evaluate(() => window.dispatchEvent(new Event('online')));
  await visit(page, '/today');
  await expect
    .poll(async () => (await inTray(page, 'Taken in the field.pdf'))?.proposal !== undefined)
    .toBe(true);
  const { id } = (await inTray(page, 'Taken in the field.pdf'))!;
  await api(page, 'POST /api/tray/remove', { body: { files: [id] } });
  await page.context().close();
});

test('what another program shares is in the tray', async ({ browser }) => {
  const page = await openAs(browser, 'teacher', PHONE);
  // Before the application is on the device it can take nothing, and says so.
  await share(page, ['Too early.txt']);
  await expect(page.getByText('The shared files could not be added')).toBeVisible();
  await visit(page, '/pictures');
  await page.evaluate(() => navigator.serviceWorker.ready.then(() => undefined));
  await page.waitForFunction(() => navigator.serviceWorker.controller !== null);
  await share(page, ['Shared one.txt', 'Shared two.txt']);
  for (const title of ['Shared one', 'Shared two'])
    await expect(page.getByRole('listitem', { name: `${title}, in the tray` })).toBeVisible();
  const { files } = await api(page, 'GET /api/tray');
  const shared = files.filter(({ name }) => name.startsWith('Shared'));
  await api(page, 'POST /api/tray/remove', { body: { files: shared.map(({ id }) => id) } });
  await page.context().close();
});

test('where there is no camera, the pictures of the device are chosen', async ({ browser }) => {
  const page = await openAs(browser, 'teacher', DEVICES['laptop']);
  await page.addInitScript(() => {
    navigator.mediaDevices.getUserMedia = () =>
      Promise.reject(new DOMException('no camera', 'NotFoundError'));
  });
  await visit(page, '/pictures');
  await expect(page.getByText('There is no camera here')).toBeVisible();
  await expectAccessible(page);
  await addFiles(page, [picture('one.jpg')]);
  await expect(page.getByText('1 page')).toBeVisible();
  await page.getByRole('button', { name: 'Page 1' }).click();
  await page.getByRole('button', { name: 'Remove' }).click();
  await expect(pages(page)).toHaveCount(0);
  await page.context().close();
});
