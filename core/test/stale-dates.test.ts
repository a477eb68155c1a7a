import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dayAfter, staleDates, withProposals, type Frame } from '../src/index.ts';
import { anyText } from './any-text.ts';
import { runs } from './runs.ts';

const LAST: Frame = { firstDay: '2025-09-01', lastDay: '2026-07-10', classes: ['SO1A', 'PR2A'] };
const NOW: Frame = { firstDay: '2026-08-31', lastDay: '2027-07-09', classes: ['SO2A', 'OR3'] };

const moved = (text: string, from = LAST, to = NOW) =>
  withProposals(text, staleDates(text, from, to));

describe('what looks out of date in a text of last year', () => {
  it.each([
    // Days, in the ways in which people write them: each stays on its day of the week.
    ['due on 3 November 2025.', 'due on 2 November 2026.'],
    ['due Monday, 3 November 2025', 'due Monday, 2 November 2026'],
    ['Mon 3 Nov', 'Mon 2 Nov'],
    ['on the 21st of January', 'on the 20th of January'],
    ['November 3rd, 2025', 'November 2nd, 2026'],
    ['Tues Nov 4', 'Tues Nov 3'],
    ['Sept. 12, 2025', 'Sept. 11, 2026'],
    ['2025-11-03', '2026-11-02'],
    ['03/11/2025', '02/11/2026'],
    ['11/23/2025', '11/22/2026'],
    ['Abgabe am 3.11.2025', 'Abgabe am 2.11.2026'],
    ['bis 03.11.25', 'bis 02.11.26'],
    ['bis 3. 11. 2025', 'bis 2. 11. 2026'],
    ['am 5.1. in der Halle', 'am 4.1. in der Halle'],
    ['Mo, 3.11.', 'Mo, 2.11.'],
    ['Montag, den 3. November', 'Montag, den 2. November'],
    ['am 4. Mrz 2026', 'am 3. Mrz 2027'],
    ['Fr. 12. Dez.', 'Fr. 11. Dez.'],
    ['3–7 November 2025', '2–6 November 2026'],
    ['1 to 5 December 2025', '30 November to 4 December 2026'],
    ['1. bis 5. Dezember 2025', '30. November bis 4. Dezember 2026'],
    // Years.
    ['Soil Science 2025/26', 'Soil Science 2026/27'],
    ['2025–2026', '2026–2027'],
    ['Autumn term 2025', 'Autumn term 2026'],
    ['Sommer 2026', 'Sommer 2027'],
    // Classes.
    ['for SO1A and PR2A:', 'for SO2A and SO2A:'],
  ])('%s', (text, expected) => {
    expect(moved(text)).toBe(expected);
  });

  it.each([
    'in 1789, on 14 July 1789, and 14.7.1789',
    'page 2025a, no. 12025, SO1AB, xPR2A',
    'section 3.11. and 1.2. of 24 pages',
    'the 2026/27 course, 2 November 2026, Monday 2 November, Mo 2.11.',
    'on 31 February or 45.13.',
    'Group 1 may begin; 3 march on.',
    'ratio 3/11, at 8:30, 2.5 kg',
    '',
  ])('is not: %s', (text) => {
    expect(staleDates(text, LAST, NOW)).toEqual([]);
  });

  it('within one year is only what does not fit: days of the week, and classes', () => {
    const text = 'SO1A: Tuesday 3 November 2025, Monday 3 November 2025, 3.11., 2025/26, PR2A';
    expect(moved(text, LAST, { ...LAST, classes: ['PR2A'] })).toBe(
      'PR2A: Monday 3 November 2025, Monday 3 November 2025, 3.11., 2025/26, PR2A',
    );
  });

  it('is told even where nothing can be proposed, and left as it is', () => {
    const [stale] = staleDates('for SO1A', LAST, { ...NOW, classes: [] });
    expect(stale).toEqual({
      ...{ start: 4, end: 8, kind: 'class', text: 'SO1A', proposed: null, day: null },
    });
    expect(moved('for SO1A', LAST, { ...NOW, classes: [] })).toBe('for SO1A');
  });

  it('names the day that is proposed', () => {
    expect(staleDates('Fri 14 Nov', LAST, NOW).map(({ day }) => day)).toEqual(['2026-11-13']);
  });
});

const two = (n: number) => String(n).padStart(2, '0');
const inWords = (day: string, locale: string, options: Intl.DateTimeFormatOptions) =>
  new Intl.DateTimeFormat(locale, { ...options, timeZone: 'UTC' }).format(new Date(day));
/** Ways of writing a day that say which year it is of. */
const WAYS: ((day: string) => string)[] = [
  (day) => day,
  (day) => day.split('-').map(Number).reverse().join('.'),
  (day) => `${Number(day.slice(8))}.${Number(day.slice(5, 7))}.${day.slice(2, 4)}`,
  (day) => `${two(Number(day.slice(8)))}/${day.slice(5, 7)}/${day.slice(0, 4)}`,
  (day) => inWords(day, 'en-GB', { day: 'numeric', month: 'long', year: 'numeric' }),
  (day) => inWords(day, 'en-US', { day: 'numeric', month: 'long', year: 'numeric' }),
  (day) => inWords(day, 'en-GB', { weekday: 'long', day: 'numeric', month: 'long' }),
  (day) => inWords(day, 'de', { weekday: 'long', day: 'numeric', month: 'long', year: 'numeric' }),
  (day) => inWords(day, 'de', { weekday: 'long', day: 'numeric', month: 'long' }),
];
const words = fc.constantFrom('the pit', 'bring spades', 'Bodenprobe', 'and', 'for all', 'um acht');

describe('staleDates', () => {
  it('finds every day of the year before, however written, and proposes the same day of the week', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(words, fc.nat({ max: 300 }), fc.constantFrom(...WAYS)), { maxLength: 6 }),
        fc.integer({ min: 1, max: 4 }),
        (parts, years) => {
          const to = {
            ...NOW,
            firstDay: `${2025 + years}-08-31`,
            lastDay: `${2026 + years}-07-09`,
          };
          const days = Math.round((years * 365.25) / 7) * 7;
          const write = (shift: number) =>
            parts
              .map(([before, n, way]) => `${before} ${way(dayAfter('2025-09-01', n + shift))}`)
              .join('; ');
          const stale = staleDates(write(0), LAST, to);
          expect(stale.map(({ day }) => day)).toEqual(
            parts.map(([, n]) => dayAfter('2025-09-01', n + days)),
          );
          expect(withProposals(write(0), stale)).toBe(write(days));
          // What has been accepted is not marked again.
          expect(staleDates(write(days), LAST, to)).toEqual([]);
        },
      ),
      runs(200),
    );
  });

  it('tells what is there, in order, nothing twice, of any text', () => {
    const pieces = fc.oneof(
      anyText(6),
      fc.constantFrom('3', '11', '.', ' ', '/', '2025', 'Mon', 'So', 'November', 'May', 'SO1A'),
      fc.constantFrom('–', 'to', ', ', '-', '26', 'Montag', 'Dez', 'st', 'th'),
    );
    fc.assert(
      fc.property(fc.array(pieces, { maxLength: 40 }), fc.boolean(), (parts, same) => {
        const text = parts.join('');
        const stale = staleDates(text, LAST, same ? LAST : NOW);
        let last = 0;
        for (const { start, end, text: found, proposed } of stale) {
          expect(start).toBeGreaterThanOrEqual(last);
          expect(end).toBeGreaterThan(start);
          expect(text.slice(start, end)).toBe(found);
          expect(proposed).not.toBe(found);
          last = end;
        }
      }),
      runs(500),
    );
  });

  it('reads a long text at one go', () => {
    for (const part of [
      '3',
      '3 ',
      'Mon ',
      '3.11.',
      '2025-',
      '1 to 1 ',
      'SO1A',
      'Mon, the 3 to 3rd of ',
    ])
      expect(staleDates(part.repeat(100_000), LAST, NOW).length).toBeLessThanOrEqual(100_000);
  });
});
