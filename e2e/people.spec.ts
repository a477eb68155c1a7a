import { expect, test } from '@playwright/test';
import { DEVICES } from './devices.ts';
import { api, expectAccessible, openAs, visit } from './steps.ts';

for (const [device, options] of Object.entries(DEVICES))
  test(`the office adds somebody, who comes in by a slip, is let in no more and again, on a ${device}`, async ({
    browser,
  }) => {
    const office = await openAs(browser, 'office', options);
    await visit(office, '/people');
    const name = `Wanda Birkholm ${device}`;
    const email = `wanda.${device}@fennmoor.example`;
    const adding = office.getByRole('form', { name: 'Add somebody' });
    await adding.getByLabel('Name').fill(name);
    await adding.getByLabel(/^Email address/u).fill('Ilse.Vandermoor@fennmoor.example');
    await adding.getByRole('button', { name: 'Add' }).click();
    await expect(adding.getByText('Somebody has this email address already.')).toBeVisible();
    await expectAccessible(office);
    await adding.getByLabel(/^Email address/u).fill(email);
    await adding.getByRole('button', { name: 'Add' }).click();
    await expect(office.getByText(`${name} added and invited`)).toBeVisible();

    const row = office.getByRole('button', { name: new RegExp(`^${name}`, 'u') });
    await expect(row).toContainText('Invited');
    await expect(row).toHaveAttribute('aria-expanded', 'true');
    await office.getByRole('button', { name: 'Print a first password' }).click();
    const slip = office.getByRole('dialog').getByRole('listitem');
    await expect(slip).toContainText(name);
    const [, first] = (await slip.locator('.font-code').innerText()).split(' · ');
    await office.getByRole('dialog').getByRole('button', { name: 'Close' }).click();
    await expectAccessible(office);
    expect(
      await office.evaluate(() => document.documentElement.scrollWidth - innerWidth),
    ).toBeLessThanOrEqual(0);

    const wanda = await (await browser.newContext(options)).newPage();
    await visit(wanda, '/sign-in');
    await wanda.getByLabel('Email address').fill(email);
    await wanda.getByLabel('Password').fill(first!);
    await wanda.getByRole('button', { name: 'Sign in', exact: true }).click();
    await wanda.getByLabel('New password').fill('a hedge of hawthorn');
    await wanda.getByRole('button', { name: 'Save and sign in' }).click();
    await expect(wanda.getByRole('heading', { level: 1, name: 'Library' })).toBeVisible();

    await office.getByRole('button', { name: 'End their access' }).click();
    await expect(office.getByText(`${name} cannot sign in any more`)).toBeVisible();
    await expect(row).toBeHidden();
    await visit(wanda, '/library');
    await expect(wanda.getByRole('heading', { name: 'Sign in' })).toBeVisible();
    await office.getByRole('button', { name: 'Without access' }).click();
    await row.click();
    await office.getByRole('button', { name: 'Give access back' }).click();
    await expect(office.getByText(`${name} can sign in again`)).toBeVisible();
    await wanda.getByLabel('Email address').fill(email);
    await wanda.getByLabel('Password').fill('a hedge of hawthorn');
    await wanda.getByRole('button', { name: 'Sign in', exact: true }).click();
    await expect(wanda.getByRole('heading', { level: 1, name: 'Library' })).toBeVisible();

    const { people } = await api(office, 'GET /api/people', { query: { words: name } });
    await api(office, 'PUT /api/people/:person/deactivated', { params: { person: people[0]!.id } });
    await wanda.context().close();
    await office.context().close();
  });

test('people are found, changed and changed back by the keys alone; the last of the office stays', async ({
  browser,
}) => {
  const office = await openAs(browser, 'office');
  await visit(office, '/people');
  await expect(office.getByRole('searchbox')).toBeFocused();
  await office.keyboard.type('kovarik mina');
  const row = office.getByRole('button', { name: /^Mina Kovarik/u });
  await expect(office.locator('[data-row]')).toHaveCount(1);
  await office.keyboard.press('ArrowDown');
  await expect(row).toBeFocused();
  await office.keyboard.press('Enter');
  await office.keyboard.press('Tab');
  await expect(office.locator('li').getByLabel('Name')).toBeFocused();
  await office.keyboard.press('End');
  await office.keyboard.type('ova');
  await office.keyboard.press('Enter');
  await expect(office.getByText('Mina Kovarikova changed')).toBeVisible();
  const renamed = office.getByRole('button', { name: /^Mina Kovarikova/u });
  await expect(renamed).toBeFocused();
  await office.keyboard.press('Control+z');
  await expect(renamed).toBeHidden();
  await expect(row).toBeVisible();

  await office.getByRole('searchbox').focus();
  await office.keyboard.press('Control+a');
  await office.keyboard.type('lindqvast');
  await expect(office.getByRole('button', { name: /^Harriet Lindqvast/u })).toBeVisible();
  await office.keyboard.press('ArrowDown');
  await office.keyboard.press('Enter');
  // Nobody takes their own access away.
  await expect(office.getByRole('button', { name: 'Print a first password' })).toBeVisible();
  await expect(office.getByRole('button', { name: 'End their access' })).toBeHidden();
  await office.locator('li').getByLabel('What they do').focus();
  await office.keyboard.type('Te');
  await office.keyboard.press('Tab');
  await office.keyboard.press('Enter');
  await expect(office.getByText('This is the last account of the office.')).toBeVisible();
  await office.context().close();
});

test('what a teacher has goes to a colleague by keyboard alone, and comes back', async ({
  browser,
}) => {
  const office = await openAs(browser, 'office');
  const add = (name: string) =>
    api(office, 'POST /api/people', { body: { kind: 'teacher', name, email: null } });
  const { id } = await add('Gerda Leaving');
  await visit(office, '/people');
  await office.getByLabel('Find by name').fill('Vandermoor');
  const ilse = office.getByRole('button', { name: /^Ilse Vandermoor/u });
  await expect(office.getByRole('button', { name: /^\w+ \w+ Teacher/u })).toHaveCount(1);
  await ilse.focus();
  await office.keyboard.press('Enter');
  await office.getByRole('button', { name: 'Give their things to a colleague' }).focus();
  await office.keyboard.press('Enter');
  const sheet = office.getByRole('dialog');
  await expect(sheet).toContainText(/\b\d\d folders, \d\d things and 2 courses/u);
  await expectAccessible(office);
  await office.keyboard.type('gerda');
  await expect(sheet.getByRole('option')).toHaveCount(1);
  await office.keyboard.press('ArrowDown');
  await office.keyboard.press('Enter');
  await expect(
    office.getByText('All that Ilse Vandermoor had is now with Gerda Leaving'),
  ).toBeVisible();
  const things = () => api(office, 'GET /api/people/:person/things', { params: { person: id } });
  expect((await things()).folders).toBeGreaterThan(10);
  await office.getByRole('button', { name: 'Undo' }).focus();
  await office.keyboard.press('Enter');
  await expect.poll(async () => (await things()).folders).toBe(0);
  await api(office, 'PUT /api/people/:person/deactivated', { params: { person: id } });
  await office.context().close();
});
