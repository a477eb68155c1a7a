import { expect, test } from '@playwright/test';
import { DEVICES } from './devices.ts';
import { expectAccessible, visit } from './steps.ts';

for (const [device, options] of Object.entries(DEVICES))
  test(`somebody signs in where they have an account already, and comes to where they were going, on a ${device}`, async ({
    browser,
  }) => {
    const page = await (await browser.newContext(options)).newPage();
    await visit(page, '/classes');
    await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
    const outside = page.getByRole('button', { name: 'Sign in with Fennmoor College' });
    await expect(outside).toBeVisible();
    await expectAccessible(page);
    expect(
      await page.evaluate(() => document.documentElement.scrollWidth - innerWidth),
    ).toBeLessThanOrEqual(0);
    await outside.press('Enter');
    // Who is on no list of the school does not come in, whatever account they have.
    await page.getByRole('link', { name: /somebody\.else/u }).click();
    await expect(page.getByText('Nobody at the school is known by that account')).toBeVisible();
    await expectAccessible(page);
    await outside.press('Enter');
    await page.getByRole('link', { name: /ilse\.vandermoor/u }).click();
    await expect(page.getByRole('heading', { level: 1, name: 'Classes' })).toBeVisible();
    expect(new URL(page.url()).pathname).toBe('/classes');
    await page.context().close();
  });

test('whose session has ended signs in outside in another tab, and nothing on the page is lost', async ({
  browser,
}) => {
  const context = await browser.newContext();
  const page = await context.newPage();
  await visit(page, '/sign-in?to=/library');
  await page.getByRole('button', { name: 'Sign in with Fennmoor College' }).click();
  await page.getByRole('link', { name: /ilse\.vandermoor/u }).click();
  await page.getByRole('button', { name: 'New folder' }).click();
  const title = `Typed before ${Date.now()}`;
  await page.getByLabel('Name of the folder').fill(title);
  await context.clearCookies();
  await page.getByRole('button', { name: 'Make folder' }).click();
  const apart = page.getByRole('link', { name: 'Sign in with Fennmoor College, in another tab' });
  await expect(apart).toBeVisible();
  await expectAccessible(page);
  const [tab] = await Promise.all([context.waitForEvent('page'), apart.press('Enter')]);
  await tab.getByRole('button', { name: 'Sign in with Fennmoor College' }).click();
  await tab.getByRole('link', { name: /ilse\.vandermoor/u }).click();
  await expect(tab.getByRole('button', { name: 'Signed in as Ilse Vandermoor' })).toBeVisible();
  await tab.close();
  // Back on the first one, which has been waiting: the folder is made.
  await page.evaluate(() => window.dispatchEvent(new Event('focus')));
  await expect(apart).toBeHidden();
  await expect(page.getByRole('heading', { level: 1, name: title })).toBeVisible();
  await context.close();
});
