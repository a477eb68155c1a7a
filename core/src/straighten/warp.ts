import { emptyPicture, inPixels, type Corners, type Picture, type Point } from './picture.ts';

/** A homography: nine numbers, row after row, the last one 1. */
type Projection = readonly number[];

/** The homography that takes the corners of the unit square to these (Heckbert 1989, square to quadrilateral). */
export function projectionOnto([a, b, c, d]: Corners): Projection {
  const [dx1, dx2, dx3] = [b.x - c.x, d.x - c.x, a.x - b.x + c.x - d.x];
  const [dy1, dy2, dy3] = [b.y - c.y, d.y - c.y, a.y - b.y + c.y - d.y];
  const whole = dx1 * dy2 - dx2 * dy1;
  const g = (dx3 * dy2 - dx2 * dy3) / whole;
  const h = (dx1 * dy3 - dx3 * dy1) / whole;
  return [
    ...[b.x - a.x + g * b.x, d.x - a.x + h * d.x, a.x],
    ...[b.y - a.y + g * b.y, d.y - a.y + h * d.y, a.y],
    ...[g, h, 1],
  ];
}

export function project(by: Projection, { x, y }: Point): Point {
  const w = by[6]! * x + by[7]! * y + by[8]!;
  return {
    x: (by[0]! * x + by[1]! * y + by[2]!) / w,
    y: (by[3]! * x + by[4]! * y + by[5]!) / w,
  };
}

/**
 * How wide a sheet is for its height, as it was before the camera saw it at a slant: by its corners in a picture, whose middle is taken
 * for where the camera looked (Zhang and He, Whiteboard scanning and image enhancement, 2007, equations 11 to 20).
 */
export function aspectOf(corners: Corners, { width, height }: Pick<Picture, 'width' | 'height'>) {
  const sides = sidesOf(corners);
  const seen = sides.width / sides.height;
  const [m1, m2, m4, m3] = corners.map(({ x, y }) => [x - width / 2, y - height / 2, 1]) as [
    Triple,
    Triple,
    Triple,
    Triple,
  ];
  const k2 = dot(cross(m1, m4), m3) / dot(cross(m2, m4), m3);
  const k3 = dot(cross(m1, m4), m2) / dot(cross(m3, m4), m2);
  const n2 = m2.map((part, n) => k2 * part - m1[n]!) as Triple;
  const n3 = m3.map((part, n) => k3 * part - m1[n]!) as Triple;
  const long = Math.max(width, height);
  const told = Math.sqrt(-(n2[0] * n3[0] + n2[1] * n3[1]) / (n2[2] * n3[2])) / long;
  const focal = (told > FOCAL[0] && told < FOCAL[1] ? told : USUAL) * long;
  const length = ([x, y, z]: Triple) => Math.hypot(x / focal, y / focal, z);
  const aspect = length(n2) / length(n3);
  return aspect > seen / 3 && aspect < seen * 3 ? aspect : seen;
}

/** The focal length of a telephone, in parts of the longer side of its pictures. */
const USUAL = 0.8;
/** What cameras have; where the corners tell of another one, they were drawn by hand, or opposite sides are too nearly parallel. */
const FOCAL = [0.4, 3] as const;
type Triple = [number, number, number];
const cross = (a: Triple, b: Triple): Triple => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
const dot = (a: Triple, b: Triple) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** The mean lengths of opposite sides. */
function sidesOf([a, b, c, d]: Corners) {
  const length = (p: Point, q: Point) => Math.hypot(p.x - q.x, p.y - q.y);
  return {
    width: (length(a, b) + length(d, c)) / 2,
    height: (length(a, d) + length(b, c)) / 2,
  };
}

/**
 * What is between four corners (in parts of the picture) as it looks from straight above, at most `longest` pixels wide and high and no
 * larger than it is in the picture.
 */
export function straighten(picture: Picture, corners: Corners, longest: number): Picture {
  const at = inPixels(corners, picture);
  const aspect = aspectOf(at, picture);
  const sides = sidesOf(at);
  // As many pixels as there were, in its own proportions.
  const height = Math.sqrt((sides.width * sides.height) / aspect);
  const by = Math.min(1, longest / Math.max(height, height * aspect));
  const flat = emptyPicture(
    Math.max(1, Math.round(height * aspect * by)),
    Math.max(1, Math.round(height * by)),
  );
  const from = projectionOnto(at);
  const [stepX, stepY, stepW] = [0, 3, 6].map((n) => from[n]! / flat.width) as Triple;
  for (let y = 0; y < flat.height; y += 1) {
    const v = (y + 0.5) / flat.height;
    const u = 0.5 / flat.width;
    let [px, py, pw] = [0, 3, 6].map(
      (n) => from[n]! * u + from[n + 1]! * v + from[n + 2]!,
    ) as Triple;
    for (let x = 0; x < flat.width; x += 1) {
      copyPixel(picture, px / pw - 0.5, py / pw - 0.5, flat, (y * flat.width + x) * 4);
      px += stepX;
      py += stepY;
      pw += stepW;
    }
  }
  return flat;
}

/** The pixel between four others, in the proportions of their distances. */
function copyPixel(
  { width, height, data }: Picture,
  x: number,
  y: number,
  to: Picture,
  at: number,
) {
  const left = Math.max(0, Math.min(width - 1, Math.floor(x)));
  const top = Math.max(0, Math.min(height - 1, Math.floor(y)));
  const [dx, dy] = [Math.max(0, Math.min(1, x - left)), Math.max(0, Math.min(1, y - top))];
  const right = left + 1 < width ? 4 : 0;
  const below = top + 1 < height ? width * 4 : 0;
  const first = (top * width + left) * 4;
  for (let n = 0; n < 3; n += 1) {
    const upper = data[first + n]! * (1 - dx) + data[first + right + n]! * dx;
    const lower = data[first + below + n]! * (1 - dx) + data[first + below + right + n]! * dx;
    to.data[at + n] = upper * (1 - dy) + lower * dy;
  }
  to.data[at + 3] = 255;
}
