import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  classesNamed,
  dayAfter,
  isOff,
  lastSchoolDay,
  lessonsIn,
  nextSchoolDay,
  schoolDaysIn,
  weekdayOf,
  type CalendarEvent,
  type SchoolDay,
} from '../src/index.ts';

const NOW = Date.parse('2026-11-26T13:00:00Z');
const ZONE = 'Europe/Berlin';
const day = (kind: 'term' | 'off', firstDay: string, lastDay: string): SchoolDay => ({
  ...{ kind, title: kind, firstDay, lastDay },
});
const school = (...days: SchoolDay[]) => ({ zone: ZONE, days });

describe('school days', () => {
  it('are not the days off, nor those between two terms', () => {
    const year = school(
      day('term', '2026-09-01', '2026-12-18'),
      day('term', '2027-01-04', '2027-03-26'),
      day('off', '2026-10-30', '2026-11-02'),
    );
    expect(isOff('2026-10-31', year)).toBe(true);
    expect(isOff('2026-12-24', year)).toBe(true);
    expect(isOff('2026-12-18', year)).toBe(false);
    // What nobody has said is not taken for a day off.
    expect(isOff('2026-08-01', year)).toBe(false);
    expect(isOff('2027-05-01', year)).toBe(false);
    expect(isOff('2026-12-24', school())).toBe(false);
  });

  it('come next and last by the lessons of a class, and by weekdays without them', () => {
    const lessons = [
      { weekday: 2, period: 1 },
      { weekday: 4, period: 3 },
    ];
    expect(nextSchoolDay('2026-11-26', lessons, school())).toBe('2026-12-01');
    expect(nextSchoolDay('2026-11-27', [], school())).toBe('2026-11-30');
    expect(
      nextSchoolDay('2026-11-26', lessons, school(day('off', '2026-12-01', '2026-12-02'))),
    ).toBe('2026-12-03');
    expect(lastSchoolDay('2026-11-27', lessons, school())).toBe('2026-11-26');
    expect(lastSchoolDay('2026-11-29', [], school())).toBe('2026-11-27');
    const all = school(day('off', '2026-01-01', '2028-01-01'));
    expect([nextSchoolDay('2026-11-26', [], all), lastSchoolDay('2026-11-26', [], all)]).toEqual([
      null,
      null,
    ]);
  });

  it('next and last never lie on a day off', () => {
    const date = fc.integer({ min: 0, max: 60 }).map((n) => dayAfter('2026-11-01', n));
    const span = fc
      .tuple(date, date)
      .map(([a, b]) => (a < b ? day('off', a, b) : day('off', b, a)));
    const lessons = fc.array(
      fc.record({ weekday: fc.integer({ min: 1, max: 7 }), period: fc.constant(1) }),
    );
    fc.assert(
      fc.property(date, fc.array(span, { maxLength: 4 }), lessons, (from, days, of) => {
        for (const found of [
          nextSchoolDay(from, of, school(...days)),
          lastSchoolDay(from, of, school(...days)),
        ]) {
          if (found === null) continue;
          expect(isOff(found, school(...days))).toBe(false);
          if (of.length > 0) expect(of.map(({ weekday }) => weekday)).toContain(weekdayOf(found));
        }
      }),
    );
  });
});

describe('a calendar', () => {
  const named = classesNamed([
    { id: 'a', code: 'SO1A', courseId: 'soil', course: 'Soil Science' },
    { id: 'b', code: 'SO1B', courseId: 'soil', course: 'Soil Science' },
    { id: 'o', code: 'OR3', courseId: 'orchard', course: 'Orchard Care' },
  ]);
  const weekly = (title: string, wall: string, weekdays: number[], until: string | null = null) =>
    ({ title, begins: { wall }, weekdays, until }) satisfies CalendarEvent;

  it('knows classes by their codes, and by the only class of a course', () => {
    expect(named('Lesson SO1A, room 4')).toEqual(['a']);
    expect(named('SO1A/B field day')).toEqual(['a', 'b']);
    expect(named('Orchard, pruning')).toEqual(['o']);
    expect(named('Soil')).toEqual([]);
    expect(named('Staff meeting')).toEqual([]);
  });

  it('has the lessons of classes, numbered by the times at which they begin', () => {
    const found = lessonsIn(
      [
        weekly('SO1A', '2026-09-01T08:00', [2, 4]),
        weekly('SO1B', '2026-09-01T09:45', [2]),
        weekly('SO1A again', '2026-09-03T08:00', [4]),
        weekly('SO1A, last year', '2025-09-01T10:00', [1], '2026-07-01'),
        {
          title: 'OR3',
          begins: { at: Date.parse('2026-11-27T07:00:00Z') },
          weekdays: [],
          until: null,
        },
        { title: 'OR3', begins: { wall: '2026-09-04T14:00' }, weekdays: [], until: null },
        {
          title: 'SO1A',
          begins: { day: '2026-11-26', lastDay: '2026-11-26' },
          weekdays: [],
          until: null,
        },
      ],
      named,
      NOW,
      ZONE,
    );
    expect(Object.fromEntries(found)).toEqual({
      a: [
        { weekday: 2, period: 1 },
        { weekday: 4, period: 1 },
      ],
      b: [{ weekday: 2, period: 2 }],
      o: [{ weekday: 5, period: 1 }],
    });
  });

  it('has terms and days off: its whole days', () => {
    const whole = (title: string, first: string, last: string): CalendarEvent => ({
      ...{ title, begins: { day: first, lastDay: last }, weekdays: [], until: null },
    });
    expect(
      schoolDaysIn([
        whole('Winter break', '2026-12-19', '2027-01-03'),
        whole('Autumn term', '2026-09-01', '2026-12-18'),
        whole('End of term', '2026-12-18', '2026-12-18'),
        weekly('SO1A', '2026-09-01T08:00', [2]),
      ]).map(({ kind, title }) => [kind, title]),
    ).toEqual([
      ['term', 'Autumn term'],
      ['off', 'End of term'],
      ['off', 'Winter break'],
    ]);
  });
});
