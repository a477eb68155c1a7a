import { expect, test } from '@playwright/test';
import { DEVICES } from './devices.ts';
import { api, expectAccessible, newTeacher, openAs, visit } from './steps.ts';

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
  const leaver = await newTeacher(browser, 'Hanne Leaving');
  const colleague = await newTeacher(browser, 'Gerda Staying');
  const page = await (await browser.newContext()).newPage();
  await visit(page, '/sign-in');
  const { email, password } = leaver;
  await api(page, 'POST /api/session', { body: { email, password } });
  for (const title of ['Compost', 'Hedges'])
    await api(page, 'POST /api/folders', { body: { parentId: null, title } });
  const office = await openAs(browser, 'office');
  await visit(office, '/people');
  await office.getByLabel('Find by name').fill('Hanne');
  const row = office.getByRole('button', { name: /^Hanne Leaving/u });
  await row.focus();
  await office.keyboard.press('Enter');
  await office.getByRole('button', { name: 'Give their things to a colleague' }).focus();
  await office.keyboard.press('Enter');
  const sheet = office.getByRole('dialog');
  await expect(sheet).toContainText('2 folders, no things and no course that nobody else teaches');
  await expectAccessible(office);
  await expect(sheet.getByLabel('Find a teacher')).toBeFocused();
  await office.keyboard.type('gerda');
  await expect(sheet.getByRole('option')).toHaveCount(1);
  await office.keyboard.press('ArrowDown');
  await office.keyboard.press('Enter');
  await expect(
    office.getByText('All that Hanne Leaving had is now with Gerda Staying'),
  ).toBeVisible();
  const folders = async (person: string) =>
    (await api(office, 'GET /api/people/:person/things', { params: { person } })).folders;
  expect([await folders(leaver.id), await folders(colleague.id)]).toEqual([0, 3]);
  await office.getByRole('button', { name: 'Undo' }).focus();
  await office.keyboard.press('Enter');
  await expect.poll(() => folders(leaver.id)).toBe(2);
  for (const one of [page, office]) await one.context().close();
  for (const one of [leaver, colleague]) await one.leave();
});

test('two records of one person become one, which is erased in the end, by the keys alone', async ({
  browser,
}) => {
  const office = await openAs(browser, 'office');
  const add = (name: string, email: string | null) =>
    api(office, 'POST /api/people', { body: { kind: 'student', name, email } });
  await add('Odile Brackwater', 'odile@fennmoor.example');
  await add('O. Brackwater', null);
  await visit(office, '/people');
  await expect(office.getByRole('searchbox')).toBeFocused();
  await office.keyboard.type('odile');
  const row = office.getByRole('button', { name: /^Odile Brackwater/u });
  await expect(office.locator('[data-row]')).toHaveCount(1);
  const press = async (name: string) => {
    await office.getByRole('button', { name, exact: true }).focus();
    await office.keyboard.press('Enter');
  };
  await row.focus();
  await office.keyboard.press('Enter');
  await press('Same person twice');
  const sheet = office.getByRole('dialog');
  // The family name is looked for at first.
  await expect(sheet.getByRole('option')).toHaveCount(1);
  await expectAccessible(office);
  await office.keyboard.press('ArrowDown');
  await office.keyboard.press('Enter');
  await expect(sheet).toContainText('Merge “O. Brackwater” into “Odile Brackwater”?');
  await expect(sheet).toContainText('Odile Brackwater cannot sign in yet');
  await expect(sheet.getByRole('button', { name: 'Cancel' })).toBeFocused();
  await expectAccessible(office);
  await press('Merge');
  await expect(office.getByText('“O. Brackwater” merged into Odile Brackwater')).toBeVisible();
  const found = async (words: string, ended?: 'true') =>
    (await api(office, 'GET /api/people', { query: { words, ended } })).people.length;
  expect(await found('brackwater')).toBe(1);

  await press('End their access');
  await press('Without access');
  await expect(row).toBeVisible();
  await row.focus();
  await office.keyboard.press('Enter');
  await press('Erase');
  await expect(sheet).toContainText('This cannot be undone.');
  await expect(sheet.getByRole('button', { name: 'Cancel' })).toBeFocused();
  await expectAccessible(office);
  await office.keyboard.press('Shift+Tab');
  await office.keyboard.press('Enter');
  await expect(office.getByText('Erased: Odile Brackwater')).toBeVisible();
  await expect(row).toBeHidden();
  expect(await found('brackwater', 'true')).toBe(0);
  await visit(office, '/log');
  await expect(office.getByText('“O. Brackwater” merged into Erased account')).toBeHidden();
  await expect(office.getByText('An account was erased').first()).toBeVisible();
  await office.context().close();
});
