import { expect, test } from '@playwright/test';
import { api, expectAccessible, openAs, visit } from './steps.ts';

const CALENDAR = [
  ...['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//Fennmoor//Journey//EN'],
  ...['BEGIN:VEVENT', 'UID:1@journey', 'DTSTAMP:20260801T000000Z', 'SUMMARY:SO1A, room 4'],
  ...['DTSTART:20260901T081500', 'RRULE:FREQ=WEEKLY;BYDAY=MO,FR', 'END:VEVENT'],
  ...['BEGIN:VEVENT', 'UID:2@journey', 'DTSTAMP:20260801T000000Z', 'SUMMARY:Staff meeting'],
  ...['DTSTART:20260902T150000', 'RRULE:FREQ=WEEKLY', 'END:VEVENT', 'END:VCALENDAR'],
].join('\r\n');

test('a timetable is typed as a table or read from a calendar, and what was is one Undo away', async ({
  browser,
}) => {
  const page = await openAs(browser, 'teacher');
  await visit(page, '/today');
  await page.getByRole('button', { name: 'Timetable' }).click();
  const sheet = page.getByRole('dialog', { name: 'Timetable' });
  await expect(sheet.getByLabel('Tuesday, period 2')).toBeVisible();
  await expectAccessible(page);
  await sheet.locator('input[type=file]').setInputFiles({
    ...{ name: 'week.ics', mimeType: 'text/calendar' },
    buffer: Buffer.from(CALENDAR),
  });
  await expect(sheet.getByText('2 lessons found.')).toBeVisible();
  await expect(sheet.getByText('1 event names none of your classes.')).toBeVisible();
  await sheet.getByLabel('Wednesday, period 3').selectOption('SO1B');
  await sheet.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('Timetable saved')).toBeVisible();
  const lessons = async (code: string) =>
    (await api(page, 'GET /api/timetable')).classes.find((one) => one.code === code)!.lessons;
  expect(await lessons('SO1A')).toEqual([
    { weekday: 1, period: 1 },
    { weekday: 5, period: 1 },
  ]);
  expect(await lessons('SO1B')).toEqual([{ weekday: 3, period: 3 }]);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect
    .poll(() => lessons('SO1A'))
    .toEqual([
      { weekday: 2, period: 2 },
      { weekday: 4, period: 1 },
    ]);

  await page.getByRole('button', { name: 'Timetable' }).click();
  await sheet.locator('input[type=file]').setInputFiles({
    ...{ name: 'week.ics', mimeType: 'text/calendar' },
    buffer: Buffer.from('no calendar at all'),
  });
  await expect(sheet.getByRole('alert')).toContainText('not a calendar file');
  await page.context().close();
});

test('the office has the terms and days off, which teachers see', async ({ browser }) => {
  const office = await openAs(browser, 'office');
  await office.getByRole('link', { name: 'Terms and days off' }).first().click();
  await expect(office.getByText('Winter break')).toBeVisible();
  await expectAccessible(office);
  await office.getByLabel('Name').fill('Day of the bees');
  await office.getByLabel('First day').fill('2027-05-20');
  await office.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(office.getByRole('listitem').filter({ hasText: 'Day of the bees' })).toContainText(
    '20 May',
  );
  const teacher = await openAs(browser, 'teacher');
  const { days } = await api(teacher, 'GET /api/timetable');
  expect(days.map(({ title }) => title)).toContain('Day of the bees');
  await teacher.context().close();
  await office.getByRole('button', { name: 'Remove Day of the bees' }).click();
  await expect(office.getByText('Day of the bees removed')).toBeVisible();
  await expect(office.getByRole('listitem').filter({ hasText: 'Day of the bees' })).toBeHidden();
  await office.context().close();
});
