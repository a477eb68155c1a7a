import type { TrayAnswer, TrayClass, TrayDestination, TrayFile } from '@sammlung/contract';
import { describe, expect, it } from 'vitest';
import {
  classesByLesson,
  foldersFor,
  forClasses,
  linesOf,
  toRoundRow,
  toRow,
} from '../src/features/tray/rows.ts';

const to = (classId: string | null, folderId: string | null, goesOut = 'now') =>
  ({ classId, folderId, goesOut }) as TrayDestination;
const known = {
  ...{ itemId: 'i', placementId: 'p', title: 'Earlier', at: '2026-11-26T08:00:00Z' },
  ...{ folder: { id: 'f', title: 'Unit' }, classIds: ['a'] },
};
const file = (more: Partial<TrayFile> = {}): TrayFile => ({
  ...{ id: 'file', name: 'notes 15.pdf', extension: 'pdf', size: 1, small: null },
  arrivedAt: '2026-11-26T12:00:00Z',
  proposal: {
    ...{ kind: 'notes', title: 'Lesson 15', lessonDate: '2026-11-26', reasons: [], sure: true },
    to: [to('a', 'unit')],
  },
  ...{ answer: null, known: null, nearly: null, sameAs: null },
  ...more,
});
const unsure = (destinations: TrayDestination[]) => {
  const { proposal } = file();
  return file({ proposal: { ...proposal, to: destinations, sure: false } });
};
const state = (of: TrayFile, answer: TrayAnswer | null = null) => toRow(of, answer).state;

describe('a row of the tray', () => {
  it('is ready when it is sure, or somebody said so', () => {
    expect(state(file())).toBe('ready');
    expect(state(unsure([to('a', 'unit')]))).toBe('sure');
    expect(state(unsure([to('a', 'unit')]), { to: [to('a', 'unit')] })).toBe('ready');
    expect(state(unsure([]))).toBe('class');
    expect(state(file(), { to: [to('a', null)] })).toBe('folder');
  });

  it('does not add what is there already, unless it is to be in one more folder', () => {
    expect(state(file({ known }))).toBe('known');
    expect(state(file({ known }), { again: true })).toBe('ready');
    expect(state(file({ sameAs: 'other', known }), { again: true })).toBe('same');
    expect(state(file({ nearly: known }))).toBe('nearly');
    expect(state(file({ nearly: known }), { versionOf: null })).toBe('ready');
  });

  it('is sent as it is on the screen', () => {
    const answer = { title: 'Liming', to: [to('a', 'unit', 'held')], versionOf: 'i' };
    expect(toRoundRow(toRow(file(), answer))).toEqual({
      ...{
        fileId: 'file',
        title: 'Liming',
        lessonDate: '2026-11-26',
        again: false,
        versionOf: 'i',
      },
      to: [to('a', 'unit', 'held')],
    });
  });
});

describe('the destinations of a file', () => {
  const one = (id: string, current: string | null): TrayClass => ({
    ...{ id, code: id.toUpperCase(), colour: 'leaf', course: 'Course', proposedFolder: null },
    ...{ nextUnit: null, currentFolder: current === null ? null : { id: current, title: current } },
  });
  const folder = (id: string, classIds: string[], parentId: string | null = null) => ({
    ...{ id, title: id, classIds, parentId },
  });
  const desk = {
    classes: [one('a', 'unit'), one('b', 'own'), one('c', null)],
    folders: [
      folder('unit', ['a']),
      folder('unit keys', ['a'], 'unit'),
      folder('own', ['b']),
      folder('shared', ['a', 'b']),
    ],
    rules: {
      goesOut: { notes: 'now', sheet: 'now', quiz: 'now', key: 'next-lesson', other: 'now' },
      titlePattern: '{n}',
    } as const,
  };

  it('stand in one line where they are alike', () => {
    const lines = linesOf([to('a', 'x'), to('b', 'x'), to('c', 'x', 'held')]);
    expect(lines.map(({ classIds }) => classIds)).toEqual([['a', 'b'], ['c']]);
  });

  it('keep what was chosen, and give new classes the same folder if they see it, or their current one', () => {
    expect(forClasses(['a', 'b'], [to('a', 'shared', 'held')], desk, 'notes')).toEqual([
      to('a', 'shared', 'held'),
      to('b', 'shared', 'held'),
    ]);
    expect(forClasses(['b', 'c'], [to('a', 'unit')], desk, 'key')).toEqual([
      to('b', 'own'),
      to('c', 'unit'),
    ]);
    expect(forClasses(['b'], [], desk, 'key')).toEqual([to('b', 'own', 'next-lesson')]);
    expect(forClasses([null], [], desk, 'other')).toEqual([to(null, null)]);
  });

  it('offer the folders that the classes see, the likeliest first', () => {
    const ids = (classIds: string[], folderId: string | null) =>
      foldersFor({ classIds, folderId, goesOut: 'now' }, desk).map(({ id }) => id);
    expect(ids(['a'], null)).toEqual(['unit', 'unit keys', 'shared']);
    expect(ids(['a', 'b'], 'unit')).toEqual(['unit', 'shared']);
  });
});

it('classes that have a lesson on a day come first, in the order of their lessons', () => {
  const classes = ['SO10', 'SO2', 'PR1', 'PR2'].map((code) => ({ id: code, code }) as TrayClass);
  const lessons = (id: string, ...of: [number, number][]) => ({
    id,
    lessons: of.map(([weekday, period]) => ({ weekday, period })),
  });
  const timetable = [
    lessons('PR2', [1, 4], [3, 1]),
    lessons('PR1', [1, 2]),
    lessons('SO2', [2, 1]),
  ];
  const monday = new Date(2026, 10, 30, 9);
  const ordered = classesByLesson(classes, timetable, monday).map(({ code }) => code);
  expect(ordered).toEqual(['PR1', 'PR2', 'SO2', 'SO10']);
});
