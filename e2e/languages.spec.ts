import { expect, test, type Page } from '@playwright/test';
import { SAMPLE_PASSWORD, STUDENTS } from '../demo/src/index.ts';
import { DEVICES } from './devices.ts';
import { api, expectAccessible, visit } from './steps.ts';

/**
 * The screens in the other language: as the browser asks for it, accessible in both themes, and kept for the person. Each
 * device has a reader of its own, whom no other journey meets in the wrong language.
 */
const READERS = {
  laptop: STUDENTS[3]!.email,
  tablet: STUDENTS[4]!.email,
  phone: STUDENTS[5]!.email,
};
for (const [device, email] of Object.entries(READERS))
  test(`a student on a ${device} reads German, and chooses English for everywhere`, async ({
    browser,
  }) => {
    const options = { ...DEVICES[device], locale: 'de-DE' };
    const context = await browser.newContext(options);
    const page = await context.newPage();
    const signIn = async (on: Page) => {
      await visit(on, '/sign-in');
      await on.getByLabel('Mailadresse oder Anmeldename').fill(email);
      await on.getByLabel('Passwort', { exact: true }).fill(SAMPLE_PASSWORD);
    };
    await signIn(page);
    await expect(page.locator('html')).toHaveAttribute('lang', 'de');
    await expectAccessible(page);
    await page.getByRole('button', { name: 'Anmelden', exact: true }).click();
    await expect(page.getByRole('button', { name: /^Angemeldet: /u })).toBeVisible();
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    await expectAccessible(page);
    for (const [path, heading] of [
      ['/classes', 'Meine Klassen'],
      ['/kept', 'Gemerkt'],
      ['/desk', 'Mein Tisch'],
    ] as const) {
      await visit(page, path);
      await expect(page.getByRole('heading', { level: 1, name: heading })).toBeVisible();
      await expectAccessible(page);
      // Nothing is wider than the screen.
      expect(
        await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth),
        path,
      ).toBeLessThanOrEqual(0);
    }
    const { classes } = await api(page, 'GET /api/classes');
    await visit(page, `/folder/${classes[0]!.folders[0]!.id}`);
    await expect(page.getByText(/^von /u)).toBeVisible();
    await expectAccessible(page);
    await page.locator('#main [data-row]').first().click();
    await visit(page, '/new');
    await page.locator('#main [data-row]').first().click();
    await expect(
      page.getByRole('link', { name: 'Herunterladen' }).filter({ visible: true }),
    ).toBeVisible();
    await expectAccessible(page);

    await page.getByRole('button', { name: /^Angemeldet/u }).click();
    await page.getByRole('button', { name: 'English' }).click();
    await expect(page.locator('html')).toHaveAttribute('lang', 'en');
    await page.keyboard.press('Escape');
    await expect(
      page.getByRole('link', { name: 'Download', exact: true }).filter({ visible: true }),
    ).toBeVisible();

    // The choice is the person's: another browser of theirs speaks it, too.
    const other = await (await browser.newContext(options)).newPage();
    await signIn(other);
    await other.getByRole('button', { name: 'Anmelden', exact: true }).click();
    await expect(other.getByRole('button', { name: /^Signed in as /u })).toBeVisible();
    await other.context().close();
    await context.close();
  });

test('a teacher’s screens in German, and a visitor’s', async ({ browser }) => {
  const context = await browser.newContext({ locale: 'de-DE' });
  const page = await context.newPage();
  await visit(page, '/sign-in');
  await page.getByRole('button', { name: 'Tomasz Adeyomi' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Bibliothek' })).toBeVisible();
  await expectAccessible(page);
  for (const path of [
    '/today',
    '/who-sees-what',
    '/classes',
    '/staff-room',
    '/doors',
    '/space',
    '/bin',
    '/lay-out',
  ]) {
    await visit(page, path);
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    await expectAccessible(page);
  }
  const { id } = await api(page, 'POST /api/folders', {
    body: {
      parentId: null,
      title: 'Für alle',
    },
  });
  await visit(page, `/folder/${id}`);
  await expect(page.getByText('Wer diesen Ordner sieht')).toBeVisible();
  await expectAccessible(page);
  const { address } = await api(page, 'POST /api/doors', {
    body: {
      thing: { kind: 'folder', id },
      kind: 'public',
    },
  });
  const visitor = await (await browser.newContext({ locale: 'de-AT' })).newPage();
  await visit(visitor, address);
  await expect(visitor.getByText('von Tomasz Adeyomi')).toBeVisible();
  await expectAccessible(visitor);
  await visit(visitor, `${address}x`);
  await expect(visitor.getByText('An dieser Adresse ist nichts')).toBeVisible();
  await expectAccessible(visitor);
  await visitor.context().close();
  await context.close();
});
