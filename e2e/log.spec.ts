import { expect, test } from '@playwright/test';
import { DEVICES, TEACHING } from './devices.ts';
import { api, expectAccessible, newTeacher, openAs, visit } from './steps.ts';

for (const device of TEACHING)
  test(`a teacher reads who changed what others see, and finds it by thing, person and day, on a ${device}`, async ({
    browser,
  }) => {
    const person = await newTeacher(browser, `Log keeper ${device}`);
    const teacher = await (await browser.newContext(DEVICES[device])).newPage();
    const { email, password } = person;
    await visit(teacher, '/sign-in');
    await api(teacher, 'POST /api/session', { body: { email, password } });
    const { school } = (await api(teacher, 'GET /api/session')).person!;
    const folder = async (title: string) => {
      const body = { title, parentId: null };
      return {
        kind: 'folder' as const,
        id: (await api(teacher, 'POST /api/folders', { body })).id,
      };
    };
    const both = [await folder('Soil of the slope'), await folder('Roots')];
    const audiences = [{ kind: 'staff' as const, id: school.id }];
    await api(teacher, 'POST /api/grants', { body: { things: both, audiences } });
    const held = { held: true, from: null, until: null };
    await api(teacher, 'POST /api/releases', {
      body: { things: [both[0]!], rules: [{ classId: null, release: held }] },
    });

    await visit(teacher, '/log');
    await expect(teacher.getByText('Soil of the slope: held back')).toBeVisible();
    const handed = teacher.getByRole('button', { name: '2 things handed out to Staff' });
    await handed.press('Enter');
    await expect(teacher.getByRole('link', { name: 'Roots', exact: true })).toBeVisible();
    await expectAccessible(teacher);
    await teacher.getByLabel('Folder, file or class').fill('roots');
    await expect(teacher.getByText('Soil of the slope: held back')).toBeHidden();
    await teacher.getByRole('link', { name: 'Roots handed out to Staff' }).press('Enter');
    await expect(teacher.getByRole('heading', { level: 1, name: 'Roots' })).toBeVisible();

    // Beside a folder, what was changed of it alone.
    if (device === 'tablet')
      await teacher.getByRole('button', { name: 'Who sees this folder' }).click();
    await teacher.getByRole('link', { name: 'What was changed' }).press('Enter');
    await expect(teacher.getByText('Only “Roots”')).toBeVisible();
    await expect(teacher.getByRole('link', { name: /handed out/u })).toHaveCount(1);
    await teacher.getByLabel('Person').fill('nobody of that name');
    await expect(teacher.getByText('Nothing found')).toBeVisible();
    await teacher.getByLabel('Person').fill('log keeper');
    await teacher.getByLabel('Day').fill('2020-02-29');
    await expect(teacher.getByText('Nothing found')).toBeVisible();
    await teacher.getByLabel('Day').fill('');
    await teacher.getByRole('link', { name: 'Show all' }).press('Enter');
    await expect(teacher.getByText('Soil of the slope: held back')).toBeVisible();
    await teacher.context().close();
    await person.leave();
  });

test('the office reads who let whom in, by keyboard', async ({ browser }) => {
  const office = await openAs(browser, 'office');
  const name = `Rota Lindgren ${Date.now()}`;
  const { id } = await api(office, 'POST /api/people', {
    body: { kind: 'teacher', name, email: null },
  });
  await api(office, 'PUT /api/people/:person/deactivated', { params: { person: id } });
  await visit(office, '/people');
  await office.getByRole('link', { name: 'Log', exact: true }).press('Enter');
  await expect(office.getByLabel('Class, course or year')).toBeFocused();
  await office.keyboard.press('Tab');
  await office.keyboard.type(name);
  await expect(office.getByText(`${name} deactivated`)).toBeVisible();
  await expect(office.getByText(`${name} added as teacher`)).toBeVisible();
  await expect(office.getByText('joined')).toHaveCount(0);
  await expectAccessible(office);
});
