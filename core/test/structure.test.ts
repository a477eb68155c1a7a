import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  checkName,
  fileName,
  folderName,
  freeTitle,
  lessonDateIn,
  linkTitle,
  nameKey,
  NAME_LIMIT,
  positionsBetween,
} from '../src/index.ts';
import { share } from './runs.ts';

describe('positionsBetween', () => {
  it('keeps rising order between the neighbours, over and over, or asks for numbering anew', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(), fc.integer({ min: 1, max: 5 })), { maxLength: 60 }),
        (inserts) => {
          let list: number[] = [];
          for (const [where, count] of inserts) {
            const at = where % (list.length + 1);
            const between = positionsBetween(list[at - 1] ?? null, list[at] ?? null, count);
            if (between) list.splice(at, 0, ...between);
            else list = list.map((_, n) => n + 1);
            expect([...list].sort((a, b) => a - b)).toEqual(list);
            expect(new Set(list).size).toBe(list.length);
          }
        },
      ),
    );
  });

  it('gives up where there is no room', () => {
    expect(positionsBetween(1, 1 + 1e-7, 1)).toBeNull();
    expect(positionsBetween(1, 2, 3)).toEqual([1.25, 1.5, 1.75]);
    expect(positionsBetween(null, null, 2)).toEqual([1, 2]);
  });
});

describe('lessonDateIn', () => {
  it.each([
    ['Lesson 2026-11-25.pdf', '2026-11-25'],
    ['20261125 notes.pdf', '2026-11-25'],
    ['Notes_25.11.2026.pdf', '2026-11-25'],
    ['Notes 5-3-27.pdf', '2027-03-05'],
    ['Board of 25 Nov.jpg', '2026-11-25'],
    ['Jan 8 quiz.pdf', '2027-01-08'],
    ['quiz 8. January 2026.pdf', '2026-01-08'],
    ['Lesson 14, reading a pH strip.pdf', null],
    ['2026-13-40.pdf', null],
    ['Room 1.2.pdf', null],
    ['Scan 202611250001.pdf', null],
    ['Mayor 12.pdf', null],
    ['3 Marching.pdf', null],
  ])('%j speaks of %j', (name, expected) => {
    expect(lessonDateIn(name, '2026-11-25')).toBe(expected);
  });
});

describe('names from elsewhere', () => {
  const anything = fc.string({ unit: 'binary', maxLength: 200 });

  it('a folder name that is kept can be used, and is kept as it is the second time', () => {
    fc.assert(
      fc.property(anything, (given) => {
        const kept = folderName(given);
        if (kept === null) return;
        expect(checkName(kept).faults).toEqual([]);
        expect(folderName(kept)).toBe(kept);
      }),
    );
  });

  it('finds a free title among a thousand twins of case and Unicode form', () => {
    const taken = new Set<string>();
    const twins = share(1000);
    for (let n = 0; n < twins; n += 1) {
      const title = freeTitle(n % 2 ? 'BO\u0308DEN' : 'böden', taken);
      expect(checkName(title).faults).toEqual([]);
      expect(taken.has(nameKey(title))).toBe(false);
      taken.add(nameKey(title));
    }
    expect(taken.size).toBe(twins);
  });

  it('a free title keeps to the limit and the suffix counts', () => {
    fc.assert(
      fc.property(fc.string({ minLength: 1, maxLength: 60 }), (typed) => {
        const title = folderName(typed);
        if (title === null) return;
        const taken = new Set([nameKey(`${title}.pdf`)]);
        const free = freeTitle(title, taken, { suffix: '.pdf' });
        expect(taken.has(nameKey(`${free}.pdf`))).toBe(false);
        expect([...free].length).toBeLessThanOrEqual(NAME_LIMIT);
        expect(fileName(`${free}.pdf`)).not.toBeNull();
      }),
    );
  });

  it.each([
    ['https://soil.example/maps/county-north_2.html', 'county north 2'],
    ['https://soil.example/', 'soil.example'],
    ['https://soil.example/B%C3%B6den', 'Böden'],
    ['https://soil.example/%E0%A4%A', '%E0%A4%A'],
    ['https://soil.example/?q=1', 'soil.example'],
  ])('the link %s is called %j', (url, title) => {
    expect(linkTitle(url)).toBe(title);
  });
});
