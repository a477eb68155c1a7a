import { expect, test } from '@playwright/test';
import { totp } from '../server/test/totp.ts';
import { DEVICES } from './devices.ts';
import { api, expectAccessible, newTeacher, openAs, visit } from './steps.ts';

for (const [device, options] of Object.entries(DEVICES))
  test(`a second step is set up, asked for, and helped out of by a recovery code, on a ${device}`, async ({
    browser,
  }) => {
    const person = await newTeacher(browser, `Sanne Twostep ${device}`);
    const page = await (await browser.newContext(options)).newPage();
    const signIn = async (password: string) => {
      await visit(page, '/sign-in?to=/account');
      await page.getByLabel('Email address').fill(person.email);
      await page.getByLabel('Password').fill(password);
      await page.getByRole('button', { name: 'Sign in', exact: true }).click();
    };
    await signIn(person.password);
    await expect(page.getByRole('heading', { level: 1, name: 'Your account' })).toBeVisible();
    await expectAccessible(page);
    await page.getByRole('button', { name: 'Set up a second step' }).click();
    await page.getByLabel('Your password', { exact: true }).fill('not it');
    await page.getByRole('button', { name: 'Continue' }).click();
    await expect(page.getByText('That is not your password.')).toBeVisible();
    await page.getByLabel('Your password', { exact: true }).fill(person.password);
    await page.getByRole('button', { name: 'Continue' }).click();
    await expect(page.getByRole('img', { name: 'QR code for the app' })).toBeVisible();
    await expectAccessible(page);
    expect(
      await page.evaluate(() => document.documentElement.scrollWidth - innerWidth),
    ).toBeLessThanOrEqual(0);
    const secret = (await page.getByText(/^[A-Z2-7 ]{30,}$/u).innerText()).replaceAll(' ', '');
    const codes = await page
      .getByRole('listitem')
      .filter({ hasText: /^\w{5} \w{5}$/u })
      .allInnerTexts();
    expect(codes).toHaveLength(10);
    await page.getByLabel('Code from the app').fill('000000');
    await page.getByRole('button', { name: 'Turn on' }).click();
    await expect(page.getByText('That code is wrong or too old.')).toBeVisible();
    await page.getByLabel('Code from the app').fill(totp(secret));
    await page.getByRole('button', { name: 'Turn on' }).click();
    await expect(page.getByText('On. 10 recovery codes left.')).toBeVisible();

    await page.context().clearCookies();
    await signIn(person.password);
    await expect(page.getByLabel('Code from your app')).toBeFocused();
    await expectAccessible(page);
    await page.getByLabel('Code from your app').fill(totp(secret, Date.now(), 1));
    await page.getByRole('button', { name: 'Sign in', exact: true }).click();
    await expect(page.getByText('On. 10 recovery codes left.')).toBeVisible();

    await page.context().clearCookies();
    await signIn(person.password);
    await page.getByLabel('Code from your app').fill(codes[3]!.toUpperCase());
    await page.getByRole('button', { name: 'Sign in', exact: true }).click();
    await expect(page.getByText('On. 9 recovery codes left.')).toBeVisible();
    await page.getByRole('button', { name: 'Turn off' }).click();
    await page.getByLabel('Your password', { exact: true }).fill(person.password);
    await page.getByRole('button', { name: 'Turn off' }).click();
    await expect(page.getByText('The second step is off')).toBeVisible();
    await page.context().close();
    await person.leave();
  });

test('name, address by mail, password and sessions are changed by keyboard alone', async ({
  browser,
}) => {
  const person = await newTeacher(browser, 'Odile Keys');
  const page = await (await browser.newContext()).newPage();
  const enter = (at: typeof page) =>
    api(at, 'POST /api/session', { body: { email: person.email, password: person.password } });
  await visit(page, '/sign-in');
  await enter(page);
  const elsewhere = await (await browser.newContext()).newPage();
  await visit(elsewhere, '/sign-in');
  await enter(elsewhere);
  await visit(page, '/account');
  await page.getByLabel('Name', { exact: true }).focus();
  await page.keyboard.press('Control+A');
  await page.keyboard.type('Odile Marchetti');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Your name is now Odile Marchetti')).toBeVisible();
  await expect(page.getByText('Signed in as Odile Marchetti')).toBeAttached();

  await page.getByRole('button', { name: 'Change' }).first().focus();
  await page.keyboard.press('Enter');
  await page.getByLabel('New email address').focus();
  await page.keyboard.type('odile.marchetti@fennmoor.example');
  await page.keyboard.press('Tab');
  await page.keyboard.type(person.password);
  await page.keyboard.press('Enter');
  await expect(
    page.getByText('odile.marchetti@fennmoor.example waits to be confirmed'),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Sign out everywhere else' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByText('Signed out everywhere else')).toBeVisible();
  await visit(elsewhere, '/library');
  await expect(elsewhere.getByRole('heading', { name: 'Sign in' })).toBeVisible();

  const post = await openAs(browser, 'office');
  await visit(post, '/post-room');
  await expect
    .poll(async () => {
      await post.reload();
      return post.getByText('odile.marchetti@fennmoor.example').count();
    })
    .toBeGreaterThan(0);
  await post.getByText('odile.marchetti@fennmoor.example').first().click();
  const link = await post
    .getByText(/\/confirm\/[\w-]+/u)
    .first()
    .innerText();
  await visit(elsewhere, new URL(/http\S+\/confirm\/[\w-]+/u.exec(link)![0]).pathname);
  await expectAccessible(elsewhere);
  await elsewhere.getByRole('button', { name: 'Confirm this address' }).focus();
  await elsewhere.keyboard.press('Enter');
  await expect(elsewhere.getByText('The address is confirmed')).toBeVisible();

  await visit(page, '/account');
  await expect(page.getByText('odile.marchetti@fennmoor.example', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Change' }).last().focus();
  await page.keyboard.press('Enter');
  await page.getByLabel('Your password now').focus();
  await page.keyboard.type(person.password);
  await page.keyboard.press('Tab');
  await page.keyboard.type('another hedge, of yew');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Password changed.')).toBeVisible();
  await page.reload();
  await expect(page.getByRole('heading', { level: 1, name: 'Your account' })).toBeVisible();
  for (const one of [page, elsewhere, post]) await one.context().close();
  await person.leave();
});

test('colours are chosen for a browser, and are there before any script', async ({ browser }) => {
  const page = await openAs(browser, 'studentA', { colorScheme: 'light' });
  const paper = () =>
    page.evaluate(() => getComputedStyle(document.documentElement).backgroundColor);
  await visit(page, '/account');
  const light = await paper();
  await page.getByRole('button', { name: 'Dark' }).click();
  const dark = await paper();
  expect(dark).not.toBe(light);
  await expectAccessible(page);
  const bare = await (
    await browser.newContext({
      storageState: await page.context().storageState(),
      javaScriptEnabled: false,
      colorScheme: 'light',
    })
  ).newPage();
  await bare.goto('/');
  await expect(bare.locator('html')).toHaveAttribute('data-theme', 'dark');
  await bare.context().close();
  await page.getByRole('button', { name: 'As on this device' }).click();
  expect(await paper()).toBe(light);
  await expect(page.getByText(`Your name is the one on the class list.`)).toBeVisible();
  await page.context().close();
});
