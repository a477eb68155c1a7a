import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  audienceName,
  folderStandings,
  itemStandings,
  Library,
  OUT,
  type HandingOut,
  type Viewer,
} from '../src/index.ts';
import { folder, handed, placed, rule } from './plain.ts';
import { randomSchool } from './random-school.ts';
import { runs } from './runs.ts';

const NOW = 1000;

const classA = { kind: 'class' as const, id: 'A' };
const classB = { kind: 'class' as const, id: 'B' };
const door = { kind: 'door' as const, id: 'D' };
const staff = { kind: 'staff' as const, id: 'S' };

const states = (standings: ReturnType<typeof folderStandings>) =>
  standings.map((s) => `${s.audience.id} ${s.state}${s.from === null ? '' : ` ${s.from}`}`).sort();

describe('how a folder stands to its audiences', () => {
  it('takes what was handed out above it, and says what comes later, class by class', () => {
    const quiz = rule({}, [['B', { held: false, from: 3000, until: null }]]);
    const library = new Library({
      folders: [folder('top'), folder('top/unit', { release: quiz })],
      placements: [],
      handingsOut: [
        handed('top', classA),
        handed('top', classB, { from: 2000 }),
        handed('unit', door),
      ],
    });
    expect(states(folderStandings(library, 'unit', NOW))).toEqual([
      'A out',
      'B later 3000',
      'D out',
    ]);
    expect(states(folderStandings(library, 'top', NOW))).toEqual(['A out', 'B later 2000']);
    expect(states(folderStandings(library, 'unit', 3000))).toEqual(['A out', 'B out', 'D out']);
  });

  it('is held by a hold above it, except for staff; ended with its year; nothing in the Bin', () => {
    const base = {
      placements: [],
      handingsOut: [handed('top', classA), handed('top', staff)],
    };
    const held = new Library({
      ...base,
      folders: [folder('top', { release: rule({ held: true }) }), folder('top/unit')],
    });
    expect(states(folderStandings(held, 'unit', NOW))).toEqual(['A held', 'S out']);
    const closed = new Library({ ...base, folders: [folder('top', { yearClosed: true })] });
    expect(states(folderStandings(closed, 'top', NOW))).toEqual(['A ended', 'S out']);
    const binned = new Library({ ...base, folders: [folder('top', { binned: true })] });
    expect(folderStandings(binned, 'top', NOW)).toEqual([]);
  });
});

describe('how an item stands to its audiences', () => {
  it('has the best state of all the places where it lies, and what was handed out by itself', () => {
    const library = new Library({
      folders: [folder('mine'), folder('class'), folder('open')],
      placements: [
        placed('p', 'mine', 'item'),
        placed('q', 'class', 'item', { release: rule({ held: true }) }),
        placed('r', 'open', 'item'),
      ],
      handingsOut: [
        handed('class', classA),
        handed('open', door),
        handed('open', classA, { from: 5000 }),
      ],
    });
    const standings = itemStandings(library, 'item', NOW);
    expect(states(standings)).toEqual(['A later 5000', 'D out']);
    expect(standings.find((s) => s.audience.id === 'D')?.through.target.id).toBe('open');
    const alone = new Library({ ...library.data, handingsOut: [handed('item', classB)] });
    expect(states(itemStandings(alone, 'item', NOW))).toEqual(['B out']);
  });

  it('is out for an audience exactly when somebody who is reached by nothing else sees it', () => {
    fc.assert(
      fc.property(randomSchool(), ({ data, classes, people, doors, now, schoolId }) => {
        const library = new Library(data);
        const somebody = (more: Partial<NonNullable<Viewer['person']>>): Viewer => ({
          person: { id: 'nobody else', schoolId, staff: false, memberships: [], ...more },
          doors: [],
        });
        const member = (c: { id: string; courseId: string }) =>
          somebody({
            memberships: [{ classId: c.id, courseId: c.courseId, from: null, until: null }],
          });
        /** Everybody who is of an audience and of no other one that is left. */
        const readers = ({ kind, id }: HandingOut['audience']): Viewer[] => {
          if (kind === 'class') return [member(classes.find((c) => c.id === id)!)];
          if (kind === 'course') return classes.filter((c) => c.courseId === id).map(member);
          if (kind === 'person')
            return [somebody({ id, staff: people.find((p) => p.id === id)!.staff })];
          if (kind === 'teachers') return [somebody({ staff: true, teaches: [id] })];
          if (kind === 'staff') return [somebody({ staff: true })];
          if (kind === 'school') return [somebody({})];
          return [{ ...somebody({}), doors: doors.filter((d) => d.id === id) }];
        };
        const audiences = new Map(
          data.handingsOut.map((h) => [audienceName(h.audience), h.audience]),
        );
        for (const [name, audience] of audiences) {
          const alone = new Library({
            ...data,
            // Owners see what is theirs in any case.
            folders: data.folders.map((f) => ({ ...f, ownerId: 'owner' })),
            handingsOut: data.handingsOut.filter((h) => audienceName(h.audience) === name),
          });
          for (const f of data.folders) {
            const out = folderStandings(library, f.id, now).some(
              (s) => audienceName(s.audience) === name && s.state === 'out',
            );
            const seen = readers(audience).some((viewer) => alone.seesFolder(viewer, f.id, now));
            expect(out).toBe(seen);
          }
        }
      }),
      runs(300),
    );
  });

  it('takes nothing from where it is in the Bin, nor from below what is not there', () => {
    const library = new Library({
      folders: [folder('open'), folder('mine'), folder('gone/below')],
      placements: [
        placed('p', 'open', 'item', { binned: true }),
        placed('q', 'mine', 'item'),
        placed('r', 'nowhere', 'item'),
      ],
      handingsOut: [handed('open', classA)],
    });
    expect(itemStandings(library, 'item', NOW)).toEqual([]);
    const below = new Library({ ...library.data, handingsOut: [handed('below', classA)] });
    expect(states(folderStandings(below, 'below', NOW))).toEqual(['A out']);
  });

  it('names the first instant at which it goes out, by any of several ways', () => {
    const library = new Library({
      folders: [folder('top'), folder('top/unit')],
      placements: [],
      handingsOut: [handed('unit', classA, { from: 5000 }), handed('top', classA, { from: 3000 })],
    });
    expect(states(folderStandings(library, 'unit', NOW))).toEqual(['A later 3000']);
  });
});

describe('a folder that is held', () => {
  const held = rule({ held: true }, [['A', OUT]]);
  const readers = { staff: new Set(['colleague']), classesOf: new Map([['K', ['A', 'B']]]) };
  const person = (id: string) => ({ kind: 'person' as const, id });
  const course = { kind: 'course' as const, id: 'K' };
  const base = { folders: [folder('top', { release: held })], placements: [], readers };

  it('is out for a colleague by name, and for no student', () => {
    const library = new Library({
      ...base,
      handingsOut: [handed('top', person('colleague')), handed('top', person('student'))],
    });
    expect(states(folderStandings(library, 'top', NOW))).toEqual(['colleague out', 'student held']);
  });

  it('is out for a course of which one class is released, and as late as the first of its classes', () => {
    const library = new Library({ ...base, handingsOut: [handed('top', course)] });
    expect(states(folderStandings(library, 'top', NOW))).toEqual(['K out']);
    const later = rule({ held: true }, [['B', { held: false, from: 2000, until: null }]]);
    const waiting = new Library({
      ...base,
      folders: [folder('top', { release: later })],
      handingsOut: [handed('top', course)],
    });
    expect(states(folderStandings(waiting, 'top', NOW))).toEqual(['K later 2000']);
  });
});
