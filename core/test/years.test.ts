import { expect, it } from 'vitest';
import { proposedYear } from '../src/index.ts';

it.each([
  ['2026-11-30', '2026/27', '2026-09-01', '2027-07-31'],
  ['2027-05-31', '2026/27', '2026-09-01', '2027-07-31'],
  ['2027-06-01', '2027/28', '2027-09-01', '2028-07-31'],
  ['2099-12-31', '2099/00', '2099-09-01', '2100-07-31'],
])('proposes to whoever begins on %s the year %s', (day, label, firstDay, lastDay) => {
  expect(proposedYear(day)).toEqual({ label, firstDay, lastDay });
});
