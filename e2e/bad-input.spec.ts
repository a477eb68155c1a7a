import { expect, test } from '@playwright/test';
import { startSecondServer } from './server.ts';
import {
  addFiles,
  arriving,
  expectAccessible,
  incoming,
  makeFolder,
  openAs,
  row,
  signIn,
  textFile,
  visit,
} from './steps.ts';

test('wrong passwords: a clear word, and after ten a wait', async ({ page }) => {
  await visit(page, '/sign-in');
  await page.getByLabel('Email address').fill('noor.castellan@fennmoor.example');
  for (let n = 0; n <= 10; n += 1) {
    await page.getByLabel('Password').fill(`wrong ${n}`);
    await page.getByRole('button', { name: 'Sign in', exact: true }).click();
    await expect(page.getByRole('button', { name: 'Sign in', exact: true })).toBeEnabled();
    await expect(page.getByRole('alert').first()).toContainText(
      n < 10 ? 'do not match' : /Too many wrong tries. Please wait 1[345] min/u,
    );
  }
  await expect(page.getByLabel('Email address')).toHaveValue('noor.castellan@fennmoor.example');
  await expectAccessible(page);
});

test('names of folders are checked while typing, a taken one keeps what was typed', async ({
  browser,
}) => {
  const page = await openAs(browser, 'teacher');
  await makeFolder(page, 'Checked names');
  await makeFolder(page, 'Böden');
  await page
    .getByRole('navigation', { name: 'Folders above this one' })
    .getByRole('link', { name: 'Checked names' })
    .click();
  await page.getByRole('button', { name: 'New folder' }).click();
  const field = page.getByLabel('Name of the folder');
  const make = page.getByRole('button', { name: 'Make folder' });
  for (const [typed, told] of [
    ['a/b', 'cannot contain any of'],
    ['NUL', 'Some computers reserve this name'],
    ['x'.repeat(61), 'at most 60 characters'],
    ['ends with a dot.', 'cannot begin or end'],
    ['bad\u202Ename', 'an invisible character'],
  ] as const) {
    await field.fill(typed);
    await expect(page.getByRole('alert').filter({ hasText: told })).toBeVisible();
    await expect(make).toBeDisabled();
  }
  await field.fill('BÖDEN');
  await expect(
    page.getByRole('alert').filter({ hasText: 'Something here already has this name' }),
  ).toBeVisible();
  await expect(field).toHaveValue('BÖDEN');
  await expectAccessible(page);
  await page.keyboard.press('Escape');
  await expect(field).toHaveCount(0);
  await page.context().close();
});

test('bad files are told one by one, the rest of the batch goes on', async ({ browser }) => {
  const page = await openAs(browser, 'teacher');
  await makeFolder(page, 'Mixed batch');
  await addFiles(page, [
    { name: 'empty.txt', mimeType: 'text/plain', buffer: Buffer.alloc(0) },
    { name: 'large.bin', mimeType: 'application/octet-stream', buffer: Buffer.alloc(20_000_001) },
    textFile('good.txt', 'good'),
    textFile(`${'n'.repeat(240)}.txt`, 'a long name'),
  ]);
  const panel = incoming(page);
  const files = arriving(page);
  await expect(panel.getByRole('status')).toContainText(
    '2 files added to Mixed batch. 2 could not be added.',
  );
  await expect(files.getByText('The file is empty, so there is nothing to add.')).toBeVisible();
  await expect(files.getByText('The file is larger than this server accepts.')).toBeVisible();
  await expect(files.getByText(/added\. It is called n+\.txt/u)).toBeVisible();
  await expect(row(page, 'good')).toBeVisible();
  await expectAccessible(page);

  await addFiles(page, [textFile('good.txt', 'better')]);
  await expect(files.getByText('is now version 2')).toBeVisible();
  await addFiles(page, [textFile('GOOD.txt', 'better')]);
  await expect(files.getByText('already here, nothing changed')).toBeVisible();
  await expect(row(page, 'good')).toContainText('version 2');
  await page.context().close();
});

test('a stopped upload goes on where it was', async ({ browser }) => {
  const page = await openAs(browser, 'teacher');
  await makeFolder(page, 'Stopped');
  const client = await page.context().newCDPSession(page);
  await client.send('Network.emulateNetworkConditions', {
    offline: false,
    latency: 0,
    downloadThroughput: -1,
    // Half a minute for the file: it is stopped long before.
    uploadThroughput: 100_000,
  });
  await addFiles(page, [
    { name: 'slow.bin', mimeType: 'application/octet-stream', buffer: Buffer.alloc(3_000_000, 7) },
  ]);
  const files = arriving(page);
  await expect(files.getByText(/^[1-9]\d? %/u)).toBeVisible();
  await files.getByRole('button', { name: 'Stop' }).click();
  await expect(files.getByText('stopped; continues from where it was')).toBeVisible();
  await client.send('Network.emulateNetworkConditions', {
    offline: false,
    latency: 0,
    downloadThroughput: -1,
    uploadThroughput: -1,
  });
  const requests: string[] = [];
  page.on('request', (request) => {
    if (request.url().includes('/api/uploads')) requests.push(request.method());
  });
  await files.getByRole('button', { name: 'Continue' }).click();
  await expect(incoming(page).getByRole('status')).toContainText('1 file added to Stopped.');
  expect(requests, 'the same upload, asked how far it was').toEqual(['HEAD', 'PATCH']);
  await expect(row(page, 'slow')).toContainText('3 MB');
  await page.context().close();
});

test('a session that ends in the middle of work: sign in again, and nothing is lost', async ({
  browser,
}) => {
  const page = await openAs(browser, 'teacher');
  await makeFolder(page, 'Interrupted');
  await page.getByRole('button', { name: 'New folder' }).click();
  await page.getByLabel('Name of the folder').fill('Typed before');
  await page.context().clearCookies();
  await page.getByRole('button', { name: 'Make folder' }).click();
  const again = page.getByRole('dialog', { name: 'Your session has ended' });
  await expect(again.getByRole('heading', { name: 'Your session has ended' })).toBeVisible();
  await expectAccessible(page);
  await again.getByLabel('Email address').fill('ilse.vandermoor@fennmoor.example');
  await again.getByLabel('Password').fill('fennmoor');
  await again.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Typed before' })).toBeVisible();

  await page.context().clearCookies();
  await addFiles(page, [textFile('in the middle.txt', 'kept')]);
  await again.getByLabel('Email address').fill('ilse.vandermoor@fennmoor.example');
  await again.getByLabel('Password').fill('fennmoor');
  await again.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(row(page, 'in the middle')).toBeVisible();
  await page.context().close();
});

test('an address that is none leads to the wall or to a plain word', async ({ page }) => {
  await visit(page, '/open/no-such-token');
  await expect(
    page.getByRole('heading', { name: 'There is nothing at this address' }),
  ).toBeVisible();
  await expectAccessible(page);
  for (const address of ['/nowhere/at/all', '/folder/not-an-id', '/item/1']) {
    await visit(page, address);
    await expect(
      page.getByRole('heading', { name: 'There is nothing here for you' }),
    ).toBeVisible();
  }
});

test('a server without room says so beside the file, and nothing is lost', async ({ browser }) => {
  const server = await startSecondServer({ SAMMLUNG_DISK_RESERVE: String(2 ** 50) });
  const context = await browser.newContext({ baseURL: server.address });
  const page = await context.newPage();
  await signIn(page, 'teacher');
  await makeFolder(page, 'No room');
  await addFiles(page, [textFile('sheet.txt', 'words')]);
  const files = arriving(page);
  await expect(files.getByRole('alert')).toContainText('The server has no room left for this file');
  await expect(files.getByRole('button', { name: 'Continue' })).toBeVisible();
  await context.close();
  await server.stop();
});
