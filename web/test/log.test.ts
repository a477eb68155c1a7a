import type { LogEntry } from '@sammlung/contract';
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { logLines } from '../src/features/log/lines.ts';

const entry = (change: Partial<LogEntry>): LogEntry => ({
  ...{ id: 1, at: '2026-11-30T08:00:00.000Z', by: 'Ilse', act: 'handed-out' },
  ...{ thing: { title: 'Roots', path: null }, audience: 'class', person: null },
  ...{ class: { code: 'SO1A', colour: 'leaf' }, course: null, details: {}, ...change },
});
const sizes = (...entries: LogEntry[]) => logLines(entries).map(({ all }) => all.length);

it('puts what one person did in one go into one line', () => {
  const soil = entry({ thing: { title: 'Soil', path: null } });
  expect(sizes(entry({}), soil)).toEqual([2]);
  expect(sizes(entry({}), { ...soil, by: 'Mina' })).toEqual([1, 1]);
  expect(sizes(entry({}), { ...soil, class: { code: 'SO1B', colour: 'lake' } })).toEqual([1, 1]);
  expect(sizes(entry({}), { ...soil, act: 'taken-back' })).toEqual([1, 1]);
  expect(sizes(entry({}), { ...soil, at: '2026-11-30T07:58:00.000Z' })).toEqual([1, 1]);
});

it('counts people of a list together, and keeps apart to whom a thing was handed', () => {
  const joined = (person: string) => entry({ act: 'joined', thing: null, person });
  expect(sizes(joined('Ada'), joined('Ben'), joined('Cem'))).toEqual([3]);
  const to = (person: string) => entry({ audience: 'person', class: null, person });
  expect(sizes(to('Ada'), to('Ben'))).toEqual([1, 1]);
});

it('loses no entry, and changes no order', () => {
  const some = fc.record({
    by: fc.constantFrom('Ilse', 'Mina', null),
    act: fc.constantFrom('handed-out' as const, 'joined' as const, 'release' as const),
    person: fc.constantFrom('Ada', null),
    at: fc.integer({ min: 0, max: 20 }),
  });
  fc.assert(
    fc.property(fc.array(some), (those) => {
      const entries = those
        .sort((a, b) => b.at - a.at)
        .map((one, id) => entry({ ...one, id, at: new Date(one.at * 20_000).toISOString() }));
      expect(logLines(entries).flatMap(({ all }) => all)).toEqual(entries);
    }),
  );
});
