import { expect, it } from 'vitest';
import { followingYear, proposedYear, yearOn } from '../src/index.ts';

it.each([
  ['2026-11-30', '2026/27', '2026-09-01', '2027-07-31'],
  ['2027-05-31', '2026/27', '2026-09-01', '2027-07-31'],
  ['2027-06-01', '2027/28', '2027-09-01', '2028-07-31'],
  ['2099-12-31', '2099/00', '2099-09-01', '2100-07-31'],
])('proposes to whoever begins on %s the year %s', (day, label, firstDay, lastDay) => {
  expect(proposedYear(day)).toEqual({ label, firstDay, lastDay });
});

it.each([
  [
    { label: '2026/27', firstDay: '2026-08-31', lastDay: '2027-07-09' },
    { label: '2027/28', firstDay: '2027-08-30', lastDay: '2028-07-07' },
  ],
  [
    { label: '2099/00', firstDay: '2099-09-01', lastDay: '2100-07-31' },
    { label: '2100/01', firstDay: '2100-08-31', lastDay: '2101-07-30' },
  ],
  [
    { label: 'School year 2026-27', firstDay: '2026-09-07', lastDay: '2027-06-25' },
    { label: 'School year 2027-28', firstDay: '2027-09-06', lastDay: '2028-06-23' },
  ],
  [
    { label: 'The first', firstDay: '2027-09-01', lastDay: '2028-02-29' },
    { label: '2028/29', firstDay: '2028-08-30', lastDay: '2029-02-27' },
  ],
])('proposes after %j the year %j, on the same weekdays', (year, next) => {
  expect(followingYear(year)).toEqual(next);
  for (const day of ['firstDay', 'lastDay'] as const)
    expect(new Date(followingYear(year)[day]).getUTCDay()).toBe(new Date(year[day]).getUTCDay());
});

it.each([
  ['2026-12-01', 'this'],
  ['2027-07-09', 'this'],
  // In the summer what is imported is for the year to come.
  ['2027-07-10', 'next'],
  ['2029-01-01', 'next'],
  ['2020-01-01', 'this'],
])('on %s it is %s year, also where the next one is there already', (day, label) => {
  const years = [
    { label: 'next', firstDay: '2027-08-30', lastDay: '2028-07-07' },
    { label: 'this', firstDay: '2026-08-31', lastDay: '2027-07-09' },
  ];
  expect(yearOn(years, day)?.label).toBe(label);
  expect(yearOn([], day)).toBeNull();
});
