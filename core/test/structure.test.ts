import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  afterChange,
  checkName,
  fileName,
  folderName,
  freeTitle,
  lessonDateIn,
  Library,
  linkTitle,
  nameKey,
  NAME_LIMIT,
  positionsBetween,
  type Change,
  type Thing,
} from '../src/index.ts';
import { folder, placed, rule } from './plain.ts';
import { anyText } from './any-text.ts';
import { share } from './runs.ts';

describe('a library after a change', () => {
  const before = new Library({
    folders: [folder('top'), folder('top/in'), folder('top/in/deep'), folder('other')],
    placements: [
      placed('p', 'in', 'i'),
      placed('q', 'other', 'i'),
      placed('r', 'in', 'j', { binned: true }),
      placed('top', 'other', 'k'),
    ],
    handingsOut: [],
  });
  const after = (change: Change) => afterChange(before, change).data;
  const binned = (change: Change) => {
    const { folders, placements } = after(change);
    return [folders, placements].map((all) =>
      (all as readonly { id: string; binned: boolean }[]).filter((x) => x.binned).map((x) => x.id),
    );
  };
  const paths = (change: Change) => after(change).folders.map((f) => f.path.join('/'));
  const thing = (kind: Thing['kind'], id: string) => ({ kind, id });

  it('has what was removed in the Bin: the folder, or the placement, of that id', () => {
    expect(
      binned({ do: 'remove', things: [thing('folder', 'in'), thing('placement', 'p')] }),
    ).toEqual([['in'], ['p', 'r']]);
    expect(binned({ do: 'remove', things: [thing('folder', 'top')] })).toEqual([['top'], ['r']]);
    expect(binned({ do: 'remove', things: [thing('placement', 'top')] })).toEqual([
      [],
      ['r', 'top'],
    ]);
  });

  it('has what was moved below its new folder, with all below it', () => {
    const move = (id: string, to: string | null): Change => ({
      do: 'move',
      things: [thing('folder', id)],
      to,
    });
    expect(paths(move('in', 'other'))).toEqual(['top', 'other/in', 'other/in/deep', 'other']);
    expect(paths(move('in', null))).toEqual(['top', 'in', 'in/deep', 'other']);
    expect(paths(move('in', 'gone'))).toEqual(['top', 'in', 'in/deep', 'other']);
    expect(paths(move('top', 'other'))).toEqual([
      'other/top',
      'other/top/in',
      'other/top/in/deep',
      'other',
    ]);
    expect(paths(move('in', 'deep'))).toEqual(before.data.folders.map((f) => f.path.join('/')));
    const moved = (to: string | null) =>
      after({ do: 'move', things: [thing('placement', 'p')], to }).placements.map(
        (p) => p.folderId,
      );
    expect(moved('top')).toEqual(['top', 'other', 'in', 'other']);
    expect(moved(null)).toEqual(['in', 'other', 'in', 'other']);
  });

  it('has what was placed where it is not yet, the Bin left out', () => {
    const fresh = (placements: string[], to: string[]) =>
      after({ do: 'place', placements, to })
        .placements.slice(before.data.placements.length)
        .map((p) => [p.folderId, p.itemId, p.binned, p.release]);
    expect(fresh(['p', 'q', 'gone'], ['in', 'other', 'top'])).toEqual([
      ['top', 'i', false, rule()],
    ]);
    expect(fresh(['r'], ['in'])).toEqual([['in', 'j', false, rule()]]);
  });

  it('has releases for all or for a class, and none again', () => {
    const held = { held: true, from: null, until: null };
    const released = (classId: string | null, release: typeof held | null, start = rule()) => {
      const library = new Library({ ...before.data, folders: [folder('f', { release: start })] });
      const things = [thing('folder', 'f')];
      return afterChange(library, { do: 'release', things, rules: [{ classId, release }] }).data
        .folders[0]!.release;
    };
    expect(released(null, held)).toEqual(rule(held));
    expect(released(null, null, rule(held))).toEqual(rule());
    expect(released('A', held)).toEqual(rule({}, [['A', held]]));
    expect(released('A', null, rule({ from: 5 }, [['A', held]]))).toEqual(rule({ from: 5 }));
  });

  it('has nothing handed out of what is not there', () => {
    const hand = (id: string) =>
      after({
        do: 'hand-out',
        things: [thing('placement', id)],
        audiences: [{ kind: 'class', id: 'A' }],
        level: 'view',
        from: null,
        until: null,
      }).handingsOut.map((h) => h.target.id);
    expect(hand('p')).toEqual(['i']);
    expect(hand('gone')).toEqual([]);
  });
});

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
  const anything = anyText(200);

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
