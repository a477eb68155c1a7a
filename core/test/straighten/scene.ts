import type { Corners, Picture, Point } from '../../src/index.ts';

/** Numbers from 0 to 1 that are the same each time (mulberry32). */
export function numbers(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32;
  };
}

/** Where a point of a picture is on the sheet with these corners, in parts of it: by four equations and not by what is tested. */
function onSheet(corners: Corners): (point: Point) => Point {
  const square = [
    [0, 0],
    [1, 0],
    [1, 1],
    [0, 1],
  ];
  // Eight equations for eight unknowns, solved by elimination with pivots.
  const rows = corners.flatMap(({ x, y }, n) => {
    const [u, v] = square[n]!;
    return [
      [x, y, 1, 0, 0, 0, -u! * x, -u! * y, u!],
      [0, 0, 0, x, y, 1, -v! * x, -v! * y, v!],
    ];
  });
  for (let column = 0; column < 8; column += 1) {
    const pivot = rows
      .map((_, n) => n)
      .filter((n) => n >= column)
      .reduce((a, b) => (Math.abs(rows[b]![column]!) > Math.abs(rows[a]![column]!) ? b : a));
    [rows[column], rows[pivot]] = [rows[pivot]!, rows[column]!];
    for (const [n, row] of rows.entries()) {
      if (n === column) continue;
      const by = row[column]! / rows[column]![column]!;
      rows[n] = row.map((value, k) => value - by * rows[column]![k]!);
    }
  }
  const h = rows.map((row, n) => row[8]! / row[n]!);
  return ({ x, y }) => {
    const w = h[6]! * x + h[7]! * y + 1;
    return { x: (h[0]! * x + h[1]! * y + h[2]!) / w, y: (h[3]! * x + h[4]! * y + h[5]!) / w };
  };
}

export interface Scene {
  readonly width: number;
  readonly height: number;
  /** In pixels. */
  readonly corners: Corners;
  readonly seed: number;
  /** What is on the sheet: from 0 (ink or chalk) to 1 (ground), by parts of it. */
  readonly written: (at: Point) => number;
  /** Chalk on a dark board in place of ink on paper. */
  readonly dark?: boolean;
}

/** Lines of writing, as wide as a hand writes them. */
export const LINES = ({ x, y }: Point) =>
  x > 0.08 && x < 0.9 && y > 0.1 && y < 0.9 && (y * 14) % 1 < 0.25 && (x * 40) % 1 < 0.7 ? 0 : 1;

/** A photograph of a sheet on a desk, or of a board on a wall: in light that falls off to one side, with the noise of a camera. */
export function photograph({
  width,
  height,
  corners,
  seed,
  written,
  dark = false,
}: Scene): Picture {
  const random = numbers(seed);
  const data = new Uint8ClampedArray(width * height * 4);
  const find = onSheet(corners);
  const [ground, ink, around] = dark
    ? [
        [38, 62, 52],
        [214, 214, 205],
        [188, 176, 160],
      ]
    : [
        [228, 224, 214],
        [52, 54, 70],
        [112, 82, 58],
      ];
  for (let y = 0; y < height; y += 1)
    for (let x = 0; x < width; x += 1) {
      const at = find({ x: x + 0.5, y: y + 0.5 });
      const inside = at.x >= 0 && at.x < 1 && at.y >= 0 && at.y < 1;
      const part = inside ? written(at) : 0;
      const light = 1 - 0.45 * (x / width) - 0.1 * (y / height);
      for (let n = 0; n < 3; n += 1) {
        const colour = inside ? ground![n]! * part + ink![n]! * (1 - part) : around![n]!;
        data[(y * width + x) * 4 + n] = colour * light + (random() - 0.5) * 14;
      }
      data[(y * width + x) * 4 + 3] = 255;
    }
  return { width, height, data };
}
