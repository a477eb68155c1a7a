import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { chainState, isOut, OUT, releaseState, within } from '../src/index.ts';
import { rule } from './plain.ts';
import { randomSchool } from './random-school.ts';

describe('release', () => {
  it('counts its start in and its end out', () => {
    expect([9, 10, 19, 20].map((t) => within({ from: 10, until: 20 }, t))).toEqual([
      false,
      true,
      true,
      false,
    ]);
  });

  it('has one word for each state', () => {
    expect(releaseState({ held: true, from: 99, until: null }, 0)).toBe('held');
    expect(releaseState({ held: false, from: 99, until: null }, 0)).toBe('later');
    expect(releaseState({ held: false, from: 99, until: null }, 99)).toBe('out');
    expect(releaseState({ held: false, from: null, until: 5 }, 5)).toBe('ended');
    expect(releaseState(OUT, 0)).toBe('out');
  });

  it('of a chain comes out with the last of its nodes', () => {
    expect(chainState([rule({ from: 10 }), rule({ from: 30 }), rule()], null, 5)).toEqual({
      state: 'later',
      from: 30,
    });
    expect(chainState([rule({ held: true }), rule({ from: 30 })], null, 5)).toEqual({
      state: 'held',
      from: null,
    });
    expect(chainState([rule({ from: 30 }), rule({ until: 5 })], null, 5)).toEqual({
      state: 'ended',
      from: null,
    });
    expect(chainState([rule({ held: true }, [['A', OUT]])], 'A', 5).state).toBe('out');
  });

  it('of a chain is out exactly when every node is out', () => {
    fc.assert(
      fc.property(randomSchool(), ({ data, now, classes }) => {
        const rules = data.folders.map((f) => f.release);
        for (const classId of [null, ...classes.map((c) => c.id)])
          expect(chainState(rules, classId, now).state === 'out').toBe(
            rules.every((r) => isOut(r, classId, now)),
          );
      }),
    );
  });
});
