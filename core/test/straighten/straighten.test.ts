import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  clearLight,
  findSheet,
  isSheet,
  shrink,
  straighten,
  WHOLE,
  type Corners,
  type Picture,
  type Point,
} from '../../src/index.ts';
import { LINES, numbers, photograph } from './scene.ts';
import { runs } from '../runs.ts';

const [WIDTH, HEIGHT] = [640, 480];
/** Corners somewhere near the edges of the picture, as whoever holds a camera brings them there; in pixels. */
const someCorners = fc
  // Not doubles: most of those that are drawn are next to 0.
  .array(fc.integer({ min: 0, max: 100 }), { minLength: 8, maxLength: 8 })
  .map((parts): Corners => {
    const x = (n: number) => WIDTH * (0.03 + 0.002 * parts[n]!);
    const y = (n: number) => HEIGHT * (0.03 + 0.002 * parts[n]!);
    return [
      { x: x(0), y: y(1) },
      { x: WIDTH - x(2), y: y(3) },
      { x: WIDTH - x(4), y: HEIGHT - y(5) },
      { x: x(6), y: HEIGHT - y(7) },
    ];
  });
const photographs = fc.record({
  corners: someCorners,
  seed: fc.integer(),
  dark: fc.boolean(),
});

/** How far the found corners are from the true ones at most, in pixels. */
const farthest = (found: Corners, corners: Corners) =>
  Math.max(
    ...found.map(({ x, y }, n) =>
      Math.hypot(x * WIDTH - corners[n]!.x, y * HEIGHT - corners[n]!.y),
    ),
  );
const shade = ({ data, width }: Picture, { x, y }: Point) => {
  const at = (Math.floor(y) * width + Math.floor(x)) * 4;
  return (data[at]! + data[at + 1]! + data[at + 2]!) / 3;
};
const plain = (width: number, height: number, of: (x: number, y: number) => number): Picture => ({
  ...{ width, height },
  data: Uint8ClampedArray.from({ length: width * height * 4 }, (_, n) =>
    n % 4 === 3 ? 255 : of(Math.floor(n / 4) % width, Math.floor(n / 4 / width)),
  ),
});

describe('finding a sheet', () => {
  it('finds the corners of a sheet or board that fills most of the picture, to two pixels', () => {
    fc.assert(
      fc.property(photographs, ({ corners, seed, dark }) => {
        const picture = photograph({
          ...{ width: WIDTH, height: HEIGHT, corners, seed, dark },
          written: LINES,
        });
        const found = findSheet(picture);
        expect(found).not.toBeNull();
        expect(farthest(found!, corners)).toBeLessThan(2);
      }),
      runs(60),
    );
  });

  it('finds none where there is none', () => {
    const random = numbers(7);
    expect(findSheet(plain(400, 300, () => 128))).toBeNull();
    expect(findSheet(plain(400, 300, (x) => (x * 255) / 400))).toBeNull();
    expect(findSheet(plain(400, 300, () => random() * 255))).toBeNull();
    // A shelf, and a window that is much too small.
    expect(findSheet(plain(400, 300, (_, y) => (y > 150 ? 30 : 200)))).toBeNull();
    const small = (x: number, y: number) => x > 180 && x < 230 && y > 120 && y < 170;
    expect(findSheet(plain(400, 300, (x, y) => (small(x, y) ? 220 : 60)))).toBeNull();
  });

  it('bears pictures of any shape', () => {
    for (const [width, height] of [
      [1, 1],
      [2, 900],
      [900, 3],
      [3, 3],
    ] as const)
      expect(findSheet(plain(width, height, (x, y) => (x + y) * 9))).toBeNull();
  });
});

describe('straightening', () => {
  it('shows a sheet as it looks from above, wherever the camera was', () => {
    // A dark square in each quarter, and a line across the middle.
    const marks = ({ x, y }: Point) =>
      [0.25, 0.75].some((u) => [0.25, 0.75].some((v) => Math.hypot(x - u, y - v) < 0.06)) ? 0 : 1;
    fc.assert(
      fc.property(someCorners, fc.integer(), (corners, seed) => {
        const picture = photograph({ width: WIDTH, height: HEIGHT, corners, seed, written: marks });
        const parts = corners.map(({ x, y }) => ({ x: x / WIDTH, y: y / HEIGHT }));
        const flat = straighten(picture, parts as unknown as Corners, 600);
        expect(Math.max(flat.width, flat.height)).toBeLessThanOrEqual(600);
        const at = (x: number, y: number) => shade(flat, { x: x * flat.width, y: y * flat.height });
        for (const x of [0.25, 0.75])
          for (const y of [0.25, 0.75]) {
            expect(at(x, y)).toBeLessThan(at(x, 0.5) * 0.6);
            expect(at(x, y)).toBeLessThan(at(0.5, y) * 0.6);
          }
      }),
      runs(40),
    );
  });

  it('leaves a whole picture as it is', () => {
    const picture = plain(40, 30, (x, y) => x * 5 + y);
    expect(straighten(picture, WHOLE, 100)).toEqual(picture);
  });

  it('gives a sheet its proportions back that a camera saw at a slant', () => {
    /** Where a camera with a focal length of 0.8 of the width sees a sheet of 2 to 1, turned away by some angles. */
    const seen = (turned: number, tilted: number): Corners =>
      [
        [-1, -0.5],
        [1, -0.5],
        [1, 0.5],
        [-1, 0.5],
      ].map(([x, y]) => {
        const [a, z] = [x! * Math.cos(turned), x! * Math.sin(turned)];
        const [b, c] = [
          y! * Math.cos(tilted) - z * Math.sin(tilted),
          y! * Math.sin(tilted) + z * Math.cos(tilted),
        ];
        const focal = 0.8;
        return { x: 0.5 + (a * focal) / (c + 2.4), y: 0.5 + ((b * focal) / (c + 2.4)) * (4 / 3) };
      }) as unknown as Corners;
    const picture = plain(800, 600, () => 200);
    for (const [turned, tilted] of [
      [0, 0],
      [0.5, 0],
      [0, 0.5],
      [0.6, -0.3],
      [-0.4, 0.4],
    ] as const) {
      const flat = straighten(picture, seen(turned, tilted), 1000);
      expect(flat.width / flat.height).toBeGreaterThan(1.9);
      expect(flat.width / flat.height).toBeLessThan(2.1);
    }
  });

  it('knows corners that are no sheet', () => {
    expect(isSheet(WHOLE)).toBe(true);
    const [a, b, c, d] = WHOLE;
    expect(isSheet([a, c, b, d])).toBe(false);
    expect(isSheet([a, d, c, b])).toBe(false);
    expect(isSheet([a, b, { x: 0.2, y: 0.2 }, d])).toBe(false);
    expect(isSheet([a, a, c, d])).toBe(false);
  });
});

describe('even light', () => {
  it.each([
    ['paper is white and ink is dark', false],
    ['a board is dark and chalk is bright', true],
  ])('%s, in shadow too', (_, dark) => {
    const corners: Corners = [
      { x: 0, y: 0 },
      { x: WIDTH, y: 0 },
      { x: WIDTH, y: HEIGHT },
      { x: 0, y: HEIGHT },
    ];
    const before = photograph({
      ...{ width: WIDTH, height: HEIGHT, corners, seed: 3, dark },
      written: LINES,
    });
    const clear = clearLight(before);
    const shades = (written: number) => {
      const found: number[] = [];
      for (let y = 4; y < HEIGHT; y += 5)
        for (let x = 4; x < WIDTH; x += 5)
          if (
            [-2, 0, 2].every(
              (by) => LINES({ x: (x + 0.5 + by) / WIDTH, y: (y + 0.5 + by) / HEIGHT }) === written,
            )
          )
            found.push(shade(clear, { x, y }));
      return found.sort((a, b) => a - b);
    };
    const [ink, ground] = [shades(0), shades(1)];
    const at = (all: number[], part: number) => all[Math.floor(all.length * part)]!;
    if (dark) {
      expect(at(ground, 0.95)).toBeLessThan(70);
      expect(at(ink, 0.05)).toBeGreaterThan(150);
    } else {
      expect(at(ground, 0.05)).toBeGreaterThan(225);
      expect(at(ink, 0.95)).toBeLessThan(90);
    }
  });

  it('makes nothing out of nothing', () => {
    const clear = clearLight(plain(64, 64, () => 200));
    expect(Math.min(...clear.data)).toBeGreaterThanOrEqual(245);
  });
});

it('makes smaller pictures of the mean', () => {
  const small = shrink(
    plain(400, 200, (x) => (x % 2 === 0 ? 0 : 200)),
    100,
  );
  expect([small.width, small.height]).toEqual([100, 50]);
  expect([...small.data.slice(0, 4)]).toEqual([100, 100, 100, 255]);
});
