import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test, type CDPSession, type Locator, type Page } from '@playwright/test';
import { startServerApart } from './server.ts';
import {
  addFiles,
  arriving,
  audience,
  expectAccessible,
  incoming,
  makeFolder,
  openAs,
  row,
  signIn,
  textFile,
} from './steps.ts';

/** Filling the library: dropping, pasting, links, same names and contents, and uploads that are broken off. */
let page: Page;
const scratch = mkdtempSync(join(tmpdir(), 'sammlung-drop-'));
test.beforeEach(async ({ browser }) => {
  page = await openAs(browser, 'teacher');
});
test.afterEach(() => page.context().close());
test.afterAll(() => rmSync(scratch, { recursive: true }));

const closePanel = () => incoming(page).getByRole('button', { name: 'Close' }).click();

/** Lets so many bytes a second up: 0 is a line that is gone, -1 as many as there are. */
async function throttled(client: CDPSession, bytes: number) {
  await client.send('Network.enable');
  await client.send('Network.emulateNetworkConditions', {
    offline: bytes === 0,
    latency: 0,
    downloadThroughput: -1,
    uploadThroughput: bytes,
  });
}

/** Drops files and folders of the disk onto an element, as the system does. */
async function dropFromDisk(onto: Locator, paths: string[]) {
  const client = await page.context().newCDPSession(page);
  const data = { items: [], files: paths, dragOperationsMask: 1 };
  for (const type of ['dragEnter', 'dragOver', 'dragOver', 'drop'] as const) {
    // Other journeys fill the same library: what is aimed at may move on the way, and off the screen.
    await onto.scrollIntoViewIfNeeded();
    const box = (await onto.boundingBox())!;
    const at = { x: box.x + box.width / 3, y: box.y + box.height / 2 };
    await client.send('Input.dispatchDragEvent', { type, ...at, data });
    await page.evaluate(() => new Promise((resolve) => requestAnimationFrame(resolve)));
  }
}

test('a dropped folder keeps its structure, 20 deep and empty ones too; also onto a row and the tree', async () => {
  const top = join(scratch, 'Field week');
  const deep = join(top, ...Array.from({ length: 19 }, (_, n) => `L${n + 2}`));
  mkdirSync(deep, { recursive: true });
  mkdirSync(join(top, 'Empty'));
  writeFileSync(join(top, 'Plan.txt'), 'plan of the week');
  writeFileSync(join(deep, 'Deepest.txt'), 'at the bottom');
  writeFileSync(join(top, '.DS_Store'), 'litter');
  const single = join(scratch, 'Single.txt');
  writeFileSync(single, 'a single one');

  await makeFolder(page, 'Dropped here');
  await dropFromDisk(page.getByText('Drop files anywhere here.'), [top]);
  await expect(incoming(page)).toContainText(
    /2 files added to (Field week, L20|L20, Field week)\./u,
  );
  await closePanel();
  await row(page, 'Field week').getByRole('link').click();
  await expect(row(page, 'Plan')).toBeVisible();
  await expect(row(page, 'Empty')).toBeVisible();
  await expect(page.getByText('DS_Store')).toHaveCount(0);
  await dropFromDisk(row(page, 'Empty'), [single]);
  await expect(incoming(page)).toContainText('1 file added to Empty.');
  await closePanel();
  const other = join(scratch, 'Other.txt');
  writeFileSync(other, 'another one');
  await dropFromDisk(page.getByRole('treeitem', { name: 'Empty', exact: true }), [other]);
  await expect(incoming(page)).toContainText('1 file added to Empty.');
  await row(page, 'Empty').getByRole('link').click();
  await expect(row(page, 'Single')).toBeVisible();
  await expect(row(page, 'Other')).toBeVisible();
});

test('links by form and by pasting, pictures out of the clipboard', async () => {
  await makeFolder(page, 'Pasted');
  await page.getByRole('button', { name: 'Add a link' }).click();
  await page.getByLabel('Web address').fill('soil.example/maps/north-county');
  await expectAccessible(page);
  await page.keyboard.press('Enter');
  await expect(row(page, 'north county')).toContainText('soil.example');

  const paste = (text: string, picture = false) =>
    page.evaluate(
      ([words, image]) => {
        const data = new DataTransfer();
        if (image)
          data.items.add(new File([new Uint8Array([1, 2, 3])], 'image.png', { type: 'image/png' }));
        else data.setData('text/plain', String(words));
        document.body.dispatchEvent(
          new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }),
        );
      },
      [text, picture] as const,
    );
  await paste('https://water.example/rings?lang=en');
  await expect(row(page, 'rings')).toContainText('water.example');
  await paste('', true);
  await expect(row(page, 'Pasted 20')).toContainText('PNG');
  await paste('only words');
  await expect(page.getByRole('listitem').filter({ hasText: 'only words' })).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(row(page, 'rings')).toHaveCount(0);
});

test('what the library has is placed; the same name is a version, or both, or neither, for one or for all', async () => {
  await makeFolder(page, 'Twice');
  await audience(page, 'PR2A').click();
  await expect(audience(page, 'PR2A')).toBeChecked();
  await addFiles(page, [textFile('Known.txt', 'twice known'), textFile('Plan.txt', 'twice plan')]);
  await expect(incoming(page)).toContainText('2 files added to Twice.');
  await expect(incoming(page)).toContainText('19 students can see it now.');
  await makeFolder(page, 'Below');
  await addFiles(page, [textFile('Copy of known.txt', 'twice known')]);
  await expect(arriving(page)).toContainText(
    'Already in the library, in Twice; now here too. It is called Known.txt',
  );
  await expect(row(page, 'Known')).toContainText('also in Twice');

  await page
    .getByRole('navigation', { name: 'Folders above this one' })
    .getByRole('link', { name: 'Twice' })
    .click();
  await addFiles(page, [
    textFile('plan.txt', 'twice plan, newer'),
    textFile('Known.txt', 'twice known, newer'),
  ]);
  await expect(arriving(page).getByText('is now version 2')).toHaveCount(2);
  await expect(incoming(page)).toContainText('2 are new versions');
  await expectAccessible(page);
  await arriving(page)
    .getByRole('listitem')
    .filter({ hasText: 'plan.txt' })
    .getByRole('button', { name: 'Make a separate file' })
    .click();
  await expect(row(page, 'Plan 2')).toBeVisible();
  await arriving(page).getByRole('button', { name: 'Leave out' }).click();
  await expect(arriving(page)).toContainText('left out, nothing changed');
  await expect(row(page, 'Known')).not.toContainText('version 2');

  await addFiles(page, [
    textFile('Plan.txt', 'twice third'),
    textFile('Plan 2.txt', 'twice fourth'),
  ]);
  await incoming(page).getByRole('button', { name: 'Make all separate' }).click();
  await expect(row(page, 'Plan 3')).toBeVisible();
  await expect(row(page, 'Plan 2 2')).toBeVisible();
});

test('versions are listed, opened, brought back, and undone', async () => {
  await makeFolder(page, 'Versions');
  for (const text of ['first state', 'second state']) {
    await addFiles(page, [textFile('State.txt', text)]);
    await expect(incoming(page)).toContainText('1 file added');
    await closePanel();
  }
  await row(page, 'State')
    .getByRole('button', { name: /Actions for/u })
    .click();
  await page.getByRole('menuitem', { name: /places/u }).click();
  const sheet = page.getByRole('dialog');
  const first = sheet.getByRole('listitem').filter({ hasText: 'Version 1' });
  await expect(first).toContainText('Ilse Vandermoor');
  const [opened] = await Promise.all([
    page.context().waitForEvent('page'),
    first.getByRole('link', { name: 'Open' }).click(),
  ]);
  await expect(opened.getByText('first state')).toBeVisible();
  await opened.close();
  await first.getByRole('button', { name: 'Bring back' }).click();
  await expect(sheet.getByText('Version 3')).toBeVisible();
  await expectAccessible(page);
  await page.keyboard.press('Escape');
  await row(page, 'State').getByRole('link').click();
  await expect(page.getByText('first state')).toBeVisible();
});

test('an upload goes on by itself after a reload and after the line was gone', async () => {
  await makeFolder(page, 'Broken off');
  const client = await page.context().newCDPSession(page);
  await throttled(client, 600_000);
  const large = Buffer.alloc(6_000_000, 'sammlung ');
  await addFiles(page, [{ name: 'Large.txt', mimeType: 'text/plain', buffer: large }]);
  await expect(arriving(page).getByText(/^[1-9]\d? %/u)).toBeVisible();
  await page.reload();
  await expect(arriving(page).getByText(/^[1-9]\d? %/u)).toBeVisible();
  const broken = page.waitForEvent('requestfailed');
  await throttled(client, 0);
  await broken;
  await throttled(client, -1);
  await expect(incoming(page)).toContainText('1 file added to Broken off.');
  await expect(row(page, 'Large')).toContainText('6 MB');
});

test('a file that was deleted from the disk in the middle of it is named, and the others arrive', async () => {
  await makeFolder(page, 'Gone from the disk');
  const client = await page.context().newCDPSession(page);
  await throttled(client, 600_000);
  const [gone, stays] = [join(scratch, 'Gone.bin'), join(scratch, 'Stays.txt')];
  writeFileSync(gone, Buffer.alloc(6_000_000, 'gone '));
  writeFileSync(stays, 'this one stays');
  await dropFromDisk(page.getByText('Drop files anywhere here.'), [gone, stays]);
  const line = arriving(page).getByRole('listitem').filter({ hasText: 'Gone.bin' });
  await expect(line.getByText(/^[1-9]\d? %/u)).toBeVisible();
  await line.getByRole('button', { name: 'Stop' }).click();
  rmSync(gone);
  await throttled(client, -1);
  await line.getByRole('button', { name: 'Continue' }).click();
  await expect(line.getByRole('alert')).toContainText('moved, changed or deleted on your device');
  await expect(incoming(page)).toContainText('1 file added to Gone from the disk.');
  await expect(row(page, 'Stays')).toBeVisible();
});

test('an upload goes on when the server was killed in the middle of it, and no byte is lost', async ({
  browser,
}) => {
  const first = await startServerApart();
  const context = await browser.newContext({ baseURL: first.address });
  const there = await context.newPage();
  await signIn(there, 'teacher');
  await makeFolder(there, 'Server away');
  const client = await context.newCDPSession(there);
  await throttled(client, 600_000);
  const large = Buffer.from(Array.from({ length: 800_000 }, (_, n) => `${n} `).join(''));
  await addFiles(there, [{ name: 'Large.txt', mimeType: 'text/plain', buffer: large }]);
  await expect(arriving(there).getByText(/^[1-9]\d? %/u)).toBeVisible();
  process.kill(first.pid, 'SIGKILL');
  await first.stop();
  const second = await startServerApart({ PORT: new URL(first.address).port });
  await throttled(client, -1);
  // It goes on by itself for some time; then the person is asked.
  const goOn = arriving(there).getByRole('button', { name: 'Continue' });
  const added = incoming(there).getByText('1 file added to Server away.');
  await expect(added.or(goOn)).toBeVisible();
  if (await goOn.isVisible()) await goOn.click();
  await expect(added).toBeVisible();
  await row(there, 'Large').getByRole('link').click();
  const [download] = await Promise.all([
    there.waitForEvent('download'),
    there.getByRole('link', { name: 'Download' }).click(),
  ]);
  expect(readFileSync(await download.path()).equals(large)).toBe(true);
  await context.close();
  await second.stop();
});

test('five hundred files dropped at once all arrive', async () => {
  test.setTimeout(600_000);
  const many = join(scratch, 'Many');
  mkdirSync(many);
  for (let n = 1; n <= 500; n += 1)
    writeFileSync(join(many, `Sheet ${n}.txt`), `sheet number ${n} of many`);
  await makeFolder(page, 'Five hundred');
  await dropFromDisk(page.getByText('Drop files anywhere here.'), [many]);
  await expect(incoming(page)).toContainText('500 files added to Many.', { timeout: 500_000 });
  await closePanel();
  await row(page, 'Many').getByRole('link').click();
  await page.getByLabel('Order').selectOption('A to Z');
  await expect(page.getByText('no folders · 500 items')).toBeVisible();
  await expect(row(page, 'Sheet 2')).toBeVisible();
  await row(page, 'Sheet 1').getByRole('link').focus();
  await page.keyboard.press('End');
  await expect(async () => {
    await page.keyboard.press('End');
    await expect(row(page, 'Sheet 500')).toBeVisible({ timeout: 1000 });
  }).toPass();
});
