import { describe, expect, it } from 'vitest';
import { toCells, toLessons } from '../src/features/timetable/cells.ts';

describe('the table of a week', () => {
  it('has the lessons of classes, and gives them back', () => {
    const classes = [
      {
        id: 'a',
        lessons: [
          { weekday: 4, period: 2 },
          { weekday: 1, period: 1 },
        ],
      },
      { id: 'b', lessons: [{ weekday: 5, period: 7 }] },
    ];
    const cells = toCells(classes);
    expect(cells).toEqual({ '1 1': 'a', '4 2': 'a', '5 7': 'b' });
    expect(Object.fromEntries(toLessons(cells))).toEqual({
      a: [
        { weekday: 1, period: 1 },
        { weekday: 4, period: 2 },
      ],
      b: [{ weekday: 5, period: 7 }],
    });
    expect(toLessons({}).size).toBe(0);
  });
});
