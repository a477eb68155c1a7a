import { expect, test } from '@playwright/test';
import { DEVICES } from './devices.ts';
import { api, expectAccessible, newTeacher, visit } from './steps.ts';

/** Passkeys: made in one’s account, used in place of a password and a code. The device is Chromium’s own stand-in. */

for (const [device, options] of Object.entries(DEVICES))
  test(`a teacher adds a passkey, signs in by it and removes it by the keys alone, on a ${device}`, async ({
    browser,
  }) => {
    const { email, password, leave } = await newTeacher(browser, `Key Holder ${device}`);
    const page = await (await browser.newContext(options)).newPage();
    const devtools = await page.context().newCDPSession(page);
    await devtools.send('WebAuthn.enable');
    const { authenticatorId } = await devtools.send('WebAuthn.addVirtualAuthenticator', {
      options: {
        ...{ protocol: 'ctap2', transport: 'internal', hasResidentKey: true },
        ...{ hasUserVerification: true, isUserVerified: true, automaticPresenceSimulation: true },
      },
    });
    await visit(page, '/sign-in');
    await api(page, 'POST /api/session', { body: { email, password } });
    await visit(page, '/account');
    const press = async (name: string) => {
      await page.getByRole('button', { name, exact: true }).focus();
      await page.keyboard.press('Enter');
    };
    await press('Add a passkey');
    await page.getByLabel('What you call it').fill('Work laptop');
    await page.getByLabel('Your password').fill('not it');
    await page.keyboard.press('Enter');
    await expect(page.getByText('That is not your password.')).toBeVisible();
    await expectAccessible(page);
    await page.getByLabel('Your password').fill(password);
    await page.keyboard.press('Enter');
    await expect(page.getByText('Work laptop added')).toBeVisible();
    // The device has one now.
    await press('Add a passkey');
    await page.getByLabel('What you call it').fill('Again');
    await page.getByLabel('Your password').fill(password);
    await page.keyboard.press('Enter');
    await expect(page.getByText('This device has a passkey for this account')).toBeVisible();
    await press('Cancel');
    await expectAccessible(page);

    await api(page, 'DELETE /api/session');
    await visit(page, '/sign-in');
    await press('Sign in with a passkey');
    await expect(page.getByRole('heading', { level: 1, name: 'Library' })).toBeVisible();
    await visit(page, '/account');
    await expect(page.getByText(/last used/u)).toBeVisible();

    await press('Remove Work laptop');
    await page.getByLabel('Your password').fill(password);
    await page.keyboard.press('Enter');
    await expect(page.getByText('Work laptop removed')).toBeVisible();
    await api(page, 'DELETE /api/session');
    await visit(page, '/sign-in');
    await press('Sign in with a passkey');
    await expect(page.getByText('That passkey does not belong to an account here')).toBeVisible();
    await expectAccessible(page);
    // Whoever has none, or gives none, is told so.
    await devtools.send('WebAuthn.clearCredentials', { authenticatorId });
    await devtools.send('WebAuthn.setUserVerified', { authenticatorId, isUserVerified: false });
    await press('Sign in with a passkey');
    await expect(page.getByText('No passkey was used.')).toBeVisible();
    await leave();
    await page.context().close();
  });
