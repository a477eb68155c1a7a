import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { audience, dropFiles, expectAccessible, textFile, visit } from './steps.ts';
import { startEmptyServer } from './server.ts';

/** From an empty database to a student who opens a handout, by nothing but the screens and the address that the server prints. */
test('a school begins, and its first student opens the first handout', async ({ browser }) => {
  const server = await startEmptyServer();
  const open = async () =>
    (
      await browser.newContext({
        baseURL: server.address,
        viewport: { width: 1280, height: 800 },
        locale: 'en-GB',
      })
    ).newPage();
  /** Signs in with what is on a slip, and chooses a password. */
  async function firstSignIn(page: Page, [name, first]: [string, string], own: string) {
    await visit(page, '/sign-in');
    await page.getByLabel('Email address').fill(name);
    await page.getByLabel('Password').fill(first);
    await page.getByRole('button', { name: 'Sign in', exact: true }).click();
    await page.getByLabel('New password').fill(own);
    await page.getByRole('button', { name: 'Save and sign in' }).click();
  }
  /** Sign-in name and first password of the only slip that is shown. */
  async function slipOn(page: Page) {
    const slip = page.getByRole('dialog').getByRole('listitem');
    return (await slip.locator('.font-code').innerText()).split(' · ') as [string, string];
  }

  const office = await open();
  await visit(office, '/');
  await expect(office.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  const printed = await server.school('address');
  const address = /http:\S+\/begin\/\S+/u.exec(printed)![0];
  await visit(office, `${address}x`);
  await expect(office.getByText('This address was used or is more than a day old.')).toBeVisible();
  await visit(office, address);
  await office.getByLabel('Name of the school').fill('Harbour Road School');
  await office.getByLabel('Your name').fill('Ada Quill');
  await office.getByLabel('Your email address').fill('ada@harbour.example');
  await office.getByLabel('A password').fill('five tall ships');
  await office.getByLabel('Last day').fill('2020-01-01');
  await expect(office.getByText('The last day must come after the first.')).toBeVisible();
  await expect(office.getByRole('button', { name: 'Begin' })).toBeDisabled();
  const nextYear = new Date().getFullYear() + 1;
  await office.getByLabel('Last day').fill(`${nextYear}-07-31`);
  await expectAccessible(office);
  await office.getByRole('button', { name: 'Begin' }).click();

  const steps = (page: Page) => page.getByRole('region', { name: 'First steps' });
  await expect(steps(office).getByRole('listitem')).toHaveCount(3);
  await expectAccessible(office);
  await steps(office).getByRole('link', { name: 'Teachers' }).click();
  const adding = office.getByRole('form', { name: 'Add somebody' });
  await adding.getByLabel('Name').fill('Bruno Tailor');
  await adding.getByRole('button', { name: 'Add' }).click();
  const bruno = await slipOn(office);

  const teacher = await open();
  await firstSignIn(teacher, bruno, 'the needle and thread');
  await expect(steps(teacher).getByRole('listitem')).toHaveCount(4);
  await steps(teacher).getByRole('link', { name: 'Your first class' }).click();
  await teacher.getByLabel('Title of the course').fill('Textiles');
  await teacher.getByLabel('Codes of its classes').fill('TX1');
  await teacher.getByRole('button', { name: 'Make course' }).click();
  await expect(steps(teacher).getByRole('link', { name: 'Its list' })).toHaveAttribute(
    'href',
    /list$/u,
  );
  await steps(teacher).getByRole('link', { name: 'Its list' }).click();
  await teacher.getByLabel('The list').fill('Noor Eriksen\n');
  await teacher.getByRole('button', { name: 'Check the list' }).click();
  await teacher.getByRole('button', { name: /^Import/u }).click();
  await teacher.getByRole('button', { name: 'Print 1 slip' }).click();
  const noor = await slipOn(teacher);
  await teacher.getByRole('dialog').getByRole('button', { name: 'Close' }).click();
  await teacher
    .getByRole('navigation', { name: 'Places' })
    .getByRole('link', { name: 'Library' })
    .click();
  await expect(steps(teacher).getByRole('listitem').first()).toContainText('done');
  await expectAccessible(teacher);
  await teacher.getByRole('button', { name: 'New folder' }).click();
  await teacher.getByLabel('Name of the folder').fill('Seams');
  await teacher.keyboard.press('Enter');
  await expect(teacher.getByRole('heading', { level: 1, name: 'Seams' })).toBeVisible();
  await dropFiles(teacher, [textFile('French seam.txt', 'Wrong sides together first.')]);
  await expect(teacher.getByText('1 file added to Seams.')).toBeVisible();
  await audience(teacher, 'TX1').click();
  await expect(teacher.getByText('Seams handed out to TX1')).toBeVisible();

  const student = await open();
  await firstSignIn(student, noor, 'needles in haystacks');
  await student.getByRole('link', { name: /French seam/u }).click();
  await expect(student.getByText('Wrong sides together first.')).toBeVisible();

  // It has begun: there is no other address, and this one is good for nothing.
  await expect(server.school('address')).rejects.toThrow('There is a school already.');
  await visit(student, address);
  await expect(student.getByText('This address was used or is more than a day old.')).toBeVisible();
  // Nothing is left to do first.
  await visit(teacher, '/library');
  await expect(teacher.getByRole('treeitem', { name: 'Seams' })).toBeVisible();
  await expect(steps(teacher)).toBeHidden();

  // What was exported comes back by the command as it may be sent every night, and changes nothing.
  const folder = mkdtempSync(join(tmpdir(), 'sammlung-roster-'));
  const roster = join(folder, 'roster.zip');
  writeFileSync(
    roster,
    await (await office.request.get(new URL('/api/oneroster', office.url()).href)).body(),
  );
  const known =
    /0 people new, [1-9]\d* known\n0 courses new, 1 known\n0 classes new, 1 known\n0 joined, 0 left/u;
  expect(await server.school('roster', roster, '--leave')).toMatch(known);
  expect(await server.school('roster', roster, '--preview')).toContain('Nothing was done.');
  await expect(server.school('roster', join(folder, 'none.zip'))).rejects.toThrow('ENOENT');
  writeFileSync(roster, 'no archive');
  await expect(server.school('roster', roster)).rejects.toThrow('not a list');
  rmSync(folder, { recursive: true });
  // What was typed on the first day can be put right later.
  await office.getByRole('dialog').getByRole('button', { name: 'Close' }).click();
  await office.getByRole('button', { name: 'Signed in as Ada Quill' }).press('Enter');
  await office.getByRole('link', { name: 'The school' }).press('Enter');
  await office.getByLabel('Name of the school').fill('Harbour Road College');
  await expectAccessible(office);
  await office.keyboard.press('Enter');
  await expect(office.getByText('School changed')).toBeVisible();
  await visit(teacher, '/library');
  await teacher.getByRole('button', { name: 'Signed in as Bruno Tailor' }).press('Enter');
  await expect(teacher.getByText('Harbour Road College')).toBeVisible();
  for (const page of [office, teacher, student]) await page.context().close();
  await server.stop();
});
