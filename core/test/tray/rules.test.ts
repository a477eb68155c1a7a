import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  dayAt,
  fillTitle,
  fingerprint,
  Fingerprints,
  GOES_OUT,
  nextUnit,
  propose,
  scheduledRelease,
  titlePatternFault,
  wallTime,
  type GoesOut,
} from '../../src/index.ts';
import { anyText } from '../any-text.ts';
import { GARDEN, NOW, SCHULE, TODAY, ZONE } from './school.ts';

describe('when a thing goes out', () => {
  const off = (firstDay: string, lastDay: string) => ({ kind: 'off' as const, firstDay, lastDay });
  const school = { zone: ZONE, days: [off('2026-12-21', '2027-01-03')] };
  const on = (goesOut: GoesOut, lessons: number[] = [], lessonDate = TODAY, now = NOW) => {
    const { held, from } = scheduledRelease(
      goesOut,
      { lessonDate, now, lessons: lessons.map((weekday) => ({ weekday, period: null })) },
      school,
    );
    return held ? 'held' : from === null ? 'now' : wallTime(from, ZONE);
  };

  it('is at once, never by itself, or at an instant', () => {
    expect([on('now'), on('held'), on(NOW - 1), on(NOW + 60_000)]).toEqual([
      'now',
      'held',
      'now',
      '2026-11-26T14:01',
    ]);
    expect(GOES_OUT.key).toBe('next-lesson');
  });

  it('is the morning of the next lesson of the class, after its own', () => {
    // Thursday; lessons on Tuesdays and Thursdays, and on Mondays only.
    expect(on('next-lesson', [2, 4])).toBe('2026-12-01T08:00');
    expect(on('next-lesson', [1])).toBe('2026-11-30T08:00');
    expect(on('next-lesson', [2, 4], '2026-12-01')).toBe('2026-12-03T08:00');
    expect(on('next-lesson', [2, 4], '2026-11-10')).toBe('2026-12-01T08:00');
  });

  it('is the next school day without a timetable; weekends and days off are none', () => {
    expect(on('next-lesson')).toBe('2026-11-27T08:00');
    expect(on('next-school-day', [2], '2026-11-27')).toBe('2026-11-30T08:00');
    expect(on('next-school-day', [], '2026-12-18')).toBe('2027-01-04T08:00');
    expect(on('next-lesson', [2], '2026-12-18')).toBe('2027-01-05T08:00');
  });

  it('is the day after where no lesson is in sight', () => {
    const { from } = scheduledRelease(
      'next-lesson',
      { lessonDate: TODAY, now: NOW, lessons: [] },
      { zone: ZONE, days: [off('2026-01-01', '2028-01-01')] },
    );
    expect(dayAt(from!, ZONE)).toBe('2026-11-27');
  });
});

describe('a title', () => {
  const parts = { class: 'SO1A', course: 'Soil', n: 7, about: 'liming' };

  it('is filled in; what is empty goes with its separators', () => {
    expect(fillTitle('{class} Lesson {n:2}, {about}', parts)).toBe('SO1A Lesson 07, liming');
    expect(fillTitle('{class} Lesson {n}, {about}', { ...parts, class: '', about: '' })).toBe(
      'Lesson 7',
    );
    expect(fillTitle('{about}: {course}', { ...parts, n: null, about: '' })).toBe('Soil');
    expect(fillTitle('{n}', { ...parts, n: null })).toBe('');
  });

  it('has a pattern of known tokens', () => {
    expect(titlePatternFault('{class} {n:3} {about} {course}')).toBeNull();
    expect(titlePatternFault('{unit} {n}')).toBe('{unit}');
    expect(titlePatternFault('Lesson {n')).toBe('{');
  });
});

describe('the next unit', () => {
  const unit = (title: string, ...others: string[]) =>
    nextUnit(
      title,
      [title, ...others].map((one) => ({ id: one, title: one })),
    );

  it('is the folder with the next number in the same place', () => {
    expect(unit('2 Texture & pH', '1 Soil profile', '3 Compost')).toEqual({
      id: '3 Compost',
      title: '3 Compost',
    });
    expect(unit('Unit 09', 'Unit 10 Water')).toMatchObject({ id: 'Unit 10 Water' });
    expect(unit('SO1A Unit 1', 'SO1B Unit 2')).toEqual({ id: null, title: 'SO1A Unit 2' });
  });

  it('is named as its neighbours are, where it has to be made', () => {
    expect(unit('02 Texture', '01 Profile')).toEqual({ id: null, title: '03' });
    expect(unit('1. Einheit', '0. Einheit')).toEqual({ id: null, title: '2. Einheit' });
    expect(unit('Root cuttings')).toBeNull();
  });
});

describe('the fingerprint of a text', () => {
  const words = (seed: number, count: number) =>
    Array.from({ length: count }, (_, n) => `word${(n * 7919 + seed * 104_729) % 977}`).join(' ');

  it('is near for the same text exported anew, and far for another one', () => {
    const text = words(1, 400);
    const print = fingerprint(text)!;
    const anew = fingerprint(`Page 1\n${text.replaceAll(' ', '\n  ')} 27.11.2026`)!;
    const other = fingerprint(words(5, 400))!;
    const known = [{ fingerprint: other }, { fingerprint: print }];
    expect(new Fingerprints(known).nearest(anew)).toBe(known[1]);
    expect(new Fingerprints([{ fingerprint: print }]).nearest(other)).toBeNull();
    expect(fingerprint('too short to tell')).toBeNull();
  });

  it('is found as a search through all would find it', () => {
    const print = fc
      .array(fc.nat(0xffff), { minLength: 4, maxLength: 4 })
      .map((parts) => parts.map((part) => part.toString(16).padStart(4, '0')).join(''));
    const apart = (a: string, b: string) =>
      [...(BigInt(`0x${a}`) ^ BigInt(`0x${b}`)).toString(2)].filter((bit) => bit === '1').length;
    // Some differ in a few bits only.
    const flips = fc.array(fc.nat(63), { maxLength: 9 });
    const flipped = (of: string, bits: readonly number[]) =>
      bits
        .reduce((all, bit) => all ^ (1n << BigInt(bit)), BigInt(`0x${of}`))
        .toString(16)
        .padStart(16, '0');
    fc.assert(
      fc.property(
        print,
        fc.array(flips, { maxLength: 6 }),
        fc.array(print, { maxLength: 6 }),
        (asked, near, far) => {
          const known = [...far, ...near.map((bits) => flipped(asked, bits))].map(
            (fingerprint) => ({ fingerprint }),
          );
          const distances = known.map((one) => apart(one.fingerprint, asked));
          const least = Math.min(...distances);
          const expected = least <= 7 ? known[distances.indexOf(least)]! : null;
          expect(new Fingerprints(known).nearest(asked)).toBe(expected);
        },
      ),
    );
  });

  it('changes in few bits with one word of nearly every long text', () => {
    const near = Array.from({ length: 400 }, (_, seed) => {
      const all = words(seed, 400).split(' ');
      const known = [{ fingerprint: fingerprint(all.join(' '))! }];
      all[seed] = 'changed';
      return new Fingerprints(known).nearest(fingerprint(all.join(' '))!) !== null;
    });
    expect(near.filter(Boolean).length).toBeGreaterThan(390);
  });
});

describe('proposals', () => {
  it('are usable for any name and any text', () => {
    const file = fc.record({ name: anyText(60), text: anyText(200) });
    fc.assert(
      fc.property(
        fc.array(file, { maxLength: 4 }),
        fc.constantFrom(GARDEN, SCHULE),
        (files, desk) => {
          const given = files.map((one, n) => ({
            ...one,
            id: `f${n}`,
            hash: `${n}`,
            arrivedAt: NOW,
          }));
          const found = propose({ ...desk, files: given, now: NOW, zone: ZONE });
          expect(found.size).toBe(files.length);
          for (const { title, to, sureness, lessonDate } of found.values()) {
            expect(title.length).toBeLessThanOrEqual(121);
            expect(lessonDate).toMatch(/^\d{4}-\d\d-\d\d$/u);
            expect(sureness).toBeGreaterThanOrEqual(0);
            expect(sureness).toBeLessThanOrEqual(1);
            expect(new Set(to.map(({ classId }) => classId)).size).toBe(to.length);
            for (const { classId, folderId } of to) {
              expect(desk.classes.map(({ id }) => id)).toContain(classId);
              if (folderId) expect(desk.folders.map(({ id }) => id)).toContain(folderId);
            }
          }
        },
      ),
      { numRuns: 300 },
    );
  });

  it('of one file do not depend on what else is in the tray', () => {
    const files = ['notes 15.pdf', 'B notes 14.pdf', 'quiz 5 blank.pdf'].map((name) => ({
      ...{ id: name, name, hash: name, text: '', arrivedAt: NOW },
    }));
    const all = propose({ ...GARDEN, files, now: NOW, zone: ZONE });
    for (const file of files)
      expect(propose({ ...GARDEN, files: [file], now: NOW, zone: ZONE }).get(file.id)).toEqual(
        all.get(file.id),
      );
  });
});
