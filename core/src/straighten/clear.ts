import { emptyPicture, shrink, type Picture } from './picture.ts';

/** The light on a sheet is known in squares of a picture of this size, in pixels of the longer side. */
const ROUGH = 320;
const SQUARE = 16;
/** Which part of the pixels of a square is darker than its ground: of paper, and of a dark board. */
const GROUND = { light: 0.8, dark: 0.35 };
/** A picture whose middle brightness is below this is of a dark board. */
const DARK = 105;
/** How bright paper and chalk are when it is done, of 255; and how much darker a board is then. */
const WHITE = 250;
const DARKER = 0.75;
/** What reaches so much of the ground is paper; what has only so much is black: ink that was photographed is grey. */
const PAPER = 0.97;
const INK = 0.22;

/**
 * The same sheet or board in even light: its ground is white, or on a dark board evenly dark, and what is written on it is
 * clear. The ground of each part is taken from around it, so shadows and the colour of lamps go.
 */
export function clearLight(picture: Picture): Picture {
  const rough = shrink(picture, ROUGH);
  const dark = middleOf(rough) < DARK;
  const ground = groundOf(rough, dark);
  const { width, height, data } = picture;
  const clear = emptyPicture(width, height);
  const board = boardOf(ground);
  const gain = dark ? (WHITE - brightness(board, 0)) / chalkOf(rough, ground) : 0;
  // The ground of one row of pixels, red, green and blue after each other.
  const base = new Float32Array(width * 3);
  for (let y = 0; y < height; y += 1) {
    groundAt(ground, (y + 0.5) / height, base);
    for (let x = 0; x < width; x += 1) {
      const slot = (y * width + x) * 4;
      for (let n = 0; n < 3; n += 1) {
        const value = data[slot + n]!;
        const here = base[x * 3 + n]!;
        clear.data[slot + n] = dark
          ? board[n]! + (value - here) * gain
          : WHITE * stronger(value / Math.max(here, 1));
      }
      clear.data[slot + 3] = 255;
    }
  }
  return clear;
}

/** Ink for the paper it is on, from 0 to 1: paper stays, what is much darker becomes black. */
const stronger = (part: number) => (part >= PAPER ? 1 : Math.max(0, (part - INK) / (PAPER - INK)));

/** The colour that a dark board has when it is done. */
function boardOf({ values }: Ground): Uint8ClampedArray {
  const mean = (all: Float32Array) => all.reduce((sum, one) => sum + one, 0) / all.length;
  return Uint8ClampedArray.from(values, (all) => mean(all) * DARKER);
}

/** The ground along a row of pixels, at a part of the height: between those of the squares. */
function groundAt({ columns, rows, values }: Ground, part: number, to: Float32Array): void {
  const width = to.length / 3;
  const v = between(part * rows - 0.5, rows);
  for (let x = 0; x < width; x += 1) {
    const h = between(((x + 0.5) / width) * columns - 0.5, columns);
    for (let n = 0; n < 3; n += 1) {
      const all = values[n]!;
      const [upper, lower] = [v.at * columns, v.next * columns];
      const above = all[upper + h.at]! * (1 - h.part) + all[upper + h.next]! * h.part;
      const below = all[lower + h.at]! * (1 - h.part) + all[lower + h.next]! * h.part;
      to[x * 3 + n] = above * (1 - v.part) + below * v.part;
    }
  }
}

const brightness = (data: Uint8ClampedArray, at: number) =>
  (data[at]! * 3 + data[at + 1]! * 6 + data[at + 2]!) / 10;

function middleOf({ data }: Picture): number {
  const all = Float32Array.from({ length: data.length / 4 }, (_, n) => brightness(data, n * 4));
  return all.sort()[Math.floor(all.length / 2)]!;
}

interface Ground {
  readonly columns: number;
  readonly rows: number;
  /** For red, green and blue: that of each square, row after row. */
  readonly values: readonly Float32Array[];
}

function groundOf({ width, height, data }: Picture, dark: boolean): Ground {
  const [columns, rows] = [Math.ceil(width / SQUARE), Math.ceil(height / SQUARE)];
  const values = [0, 1, 2].map((n) => {
    const squares = new Float32Array(columns * rows);
    for (let row = 0; row < rows; row += 1)
      for (let column = 0; column < columns; column += 1) {
        const inSquare: number[] = [];
        for (let y = row * SQUARE; y < Math.min(height, (row + 1) * SQUARE); y += 1)
          for (let x = column * SQUARE; x < Math.min(width, (column + 1) * SQUARE); x += 1)
            inSquare.push(data[(y * width + x) * 4 + n]!);
        inSquare.sort((a, b) => a - b);
        const part = dark ? GROUND.dark : GROUND.light;
        squares[row * columns + column] = inSquare[Math.floor((inSquare.length - 1) * part)]!;
      }
    // A square that is all picture or ink has no ground of its own: the squares around it tell.
    const most = around(squares, columns, rows, (all) =>
      dark ? Math.min(...all) : Math.max(...all),
    );
    const mean = (all: readonly number[]) => all.reduce((sum, one) => sum + one, 0) / all.length;
    return around(around(most, columns, rows, mean), columns, rows, mean);
  });
  return { columns, rows, values };
}

/** For each square what `of` makes of it and those around it. */
function around(
  squares: Float32Array,
  columns: number,
  rows: number,
  of: (all: readonly number[]) => number,
): Float32Array {
  return squares.map((_, at) => {
    const [row, column] = [Math.floor(at / columns), at % columns];
    const all: number[] = [];
    for (let y = Math.max(0, row - 1); y <= Math.min(rows - 1, row + 1); y += 1)
      for (let x = Math.max(0, column - 1); x <= Math.min(columns - 1, column + 1); x += 1)
        all.push(squares[y * columns + x]!);
    return of(all);
  });
}

/** How much brighter than its ground chalk is. */
function chalkOf({ width, height, data }: Picture, ground: Ground): number {
  const over = Float32Array.from({ length: data.length / 4 }, (_, n) => {
    const column = Math.floor(((n % width) * ground.columns) / width);
    const row = Math.floor((Math.floor(n / width) * ground.rows) / height);
    const [red, green, blue] = ground.values.map((v) => v[row * ground.columns + column]!) as [
      number,
      number,
      number,
    ];
    return brightness(data, n * 4) - (red * 3 + green * 6 + blue) / 10;
  }).sort();
  return Math.max(60, over[Math.floor(over.length * 0.985)]!);
}

/** The two of a row between which something is, and how near it is to the second. */
function between(at: number, count: number) {
  const first = Math.max(0, Math.min(count - 1, Math.floor(at)));
  return {
    at: first,
    next: Math.min(count - 1, first + 1),
    part: Math.max(0, Math.min(1, at - first)),
  };
}
