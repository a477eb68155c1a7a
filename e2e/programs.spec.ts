import { expect, test, type Page } from '@playwright/test';
import { DEVICES } from './devices.ts';
import { api, expectAccessible, openAs, visit } from './steps.ts';

/** A request of a program with a password for programs. */
async function program(
  page: Page,
  password: string,
  method: string,
  path: string,
  more: { headers?: Record<string, string>; data?: string } = {},
) {
  const address = `${process.env.E2E_ADDRESS}/dav/${path.split('/').map(encodeURIComponent).join('/')}`;
  const authorization = `Basic ${Buffer.from(`ilse:${password}`).toString('base64')}`;
  const reply = await page.request.fetch(address, {
    method,
    headers: { authorization, ...more.headers },
    ...(more.data !== undefined && { data: more.data }),
  });
  return { status: reply.status(), text: await reply.text() };
}

test('a password for programs is made, used and revoked; a file saved to a class is there at once', async ({
  browser,
}) => {
  const page = await openAs(browser, 'teacher');
  await page.getByRole('button', { name: /^Signed in as/u }).click();
  await page.getByRole('link', { name: 'Folders for programs' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Folders for programs' })).toBeVisible();
  await page.getByLabel('What it is for').fill('Laptop of the journey');
  await page.getByRole('button', { name: 'Make a password' }).click();
  const made = page.getByRole('region', { name: 'Password for Laptop of the journey' });
  await expect(made).toBeFocused();
  const password = (await made.locator('.font-code').textContent())!.trim();
  await expectAccessible(page);

  const student = await openAs(browser, 'studentA');
  const path = 'Classes/SO1A/Compost by weight.txt';
  expect((await program(page, password, 'PUT', path, { data: 'Two parts brown.' })).status).toBe(
    201,
  );
  await expect(student.getByRole('link', { name: 'Compost by weight' })).toBeVisible();
  expect((await program(page, password, 'PUT', path, { data: 'Three parts brown.' })).status).toBe(
    204,
  );
  await student.getByRole('link', { name: 'Compost by weight' }).first().click();
  await expect(student.getByText('Three parts brown.')).toBeVisible();
  await student.context().close();
  const { rounds } = await api(page, 'GET /api/tray/rounds');
  const round = rounds.find(({ steps }) => steps[0]?.title === 'Compost by weight')!;
  await api(page, 'POST /api/bin', {
    body: { things: [{ kind: 'placement', id: round.steps[0]!.placementId! }] },
  });

  const row = page.getByRole('listitem').filter({ hasText: 'Laptop of the journey' });
  await row.getByRole('button', { name: 'Revoke Laptop of the journey' }).click();
  await expect(page.getByText('Laptop of the journey revoked')).toBeVisible();
  await expect(row).toBeHidden();
  expect((await program(page, password, 'GET', path)).status).toBe(401);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(row).toBeVisible();
  await row.getByRole('button', { name: 'Revoke Laptop of the journey' }).click();
  await expect(row).toBeHidden();
  await page.context().close();
});

test('a move that would show something to more people waits under Today, and is made there', async ({
  browser,
}) => {
  const page = await openAs(browser, 'teacher');
  const { id: token, password } = await api(page, 'POST /api/tokens', {
    body: { name: 'Mover', writes: true },
  });
  const folder = async (title: string) =>
    (await api(page, 'POST /api/folders', { body: { parentId: null, title } })).id;
  const [from, open] = [await folder('Moves, private'), await folder('Moves, open')];
  await api(page, 'POST /api/doors', {
    body: { thing: { kind: 'folder', id: open }, kind: 'public' },
  });
  await program(page, password, 'PUT', 'Library/Moves, private/Prices.txt', { data: 'Of seeds.' });
  const destination = `${process.env.E2E_ADDRESS}/dav/Library/Moves%2C%20open/Prices.txt`;
  const refused = await program(page, password, 'MOVE', 'Library/Moves, private/Prices.txt', {
    headers: { destination },
  });
  expect([refused.status, refused.text]).toEqual([
    403,
    expect.stringContaining('waits for your decision'),
  ]);
  await visit(page, '/today');
  const waiting = page.getByRole('region', { name: 'Waiting for your decision' });
  await expect(waiting.getByText('to Moves, open')).toBeVisible();
  await expectAccessible(page);
  await waiting.getByRole('button', { name: 'Move Prices' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Move' }).click();
  await expect(page.getByText('Prices moved')).toBeVisible();
  await expect(waiting).toBeHidden();
  const { items } = await api(page, 'GET /api/folders/:folder/contents', {
    params: { folder: open },
  });
  expect(items.map(({ title }) => title)).toEqual(['Prices']);
  await api(page, 'DELETE /api/tokens/:programToken', { params: { programToken: token } });
  await api(page, 'POST /api/bin', {
    body: { things: [from, open].map((id) => ({ kind: 'folder' as const, id })) },
  });
  await page.context().close();
});

test('a student on a phone makes a password that only reads', async ({ browser }) => {
  const page = await openAs(browser, 'studentB', DEVICES['phone']);
  await page.getByRole('button', { name: /^Signed in as/u }).tap();
  await page.getByRole('link', { name: 'Folders for programs' }).tap();
  await page.getByLabel('What it is for').fill('Tablet');
  await page.getByRole('button', { name: 'Make a password' }).tap();
  const made = page.getByRole('region', { name: 'Password for Tablet' });
  const password = (await made.locator('.font-code').textContent())!.trim();
  await expectAccessible(page);
  expect(
    (await program(page, password, 'PROPFIND', 'New', { headers: { depth: '1' } })).status,
  ).toBe(207);
  expect((await program(page, password, 'PUT', 'New/mine.txt', { data: 'mine' })).status).toBe(403);
  await page.getByRole('button', { name: 'Revoke Tablet' }).tap();
  await expect(page.getByText('Tablet revoked')).toBeVisible();
  await page.context().close();
});
