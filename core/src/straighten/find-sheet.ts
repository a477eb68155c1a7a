import { doubleArea, isSheet, shrink, type Corners, type Picture, type Point } from './picture.ts';

/** Lines are looked for in a picture of this size, and laid exactly in one of the other, in pixels of the longer side. */
const COARSE = 320;
const FINE = 1200;
/** Directions in which lines are looked for, over half a turn. */
const DIRECTIONS = 120;
/** So many lines of each kind, across and down, are tried as sides: the longest, and the outermost at either end. */
const LINES = { long: 8, outer: 4, found: 64 };
/** How far outside the picture a corner may be, in parts of it. */
const OUTSIDE = 0.04;
/** A sheet takes up at least so much of the picture. */
const SMALLEST = 0.15;
/** So much of each side, and of all together, is an edge in the picture. */
const SEEN = { side: 0.45, all: 0.6 };
/** What a larger sheet counts for against one whose sides are seen better. */
const SIZE = 0.3;

/** How far from a side its edge is looked for, first and then, in pixels of the small picture. */
const REACHES = [5, 3];

/** How strongly each pixel differs from those around it, and in which direction. */
interface Edges {
  readonly width: number;
  readonly height: number;
  readonly dx: Float32Array;
  readonly dy: Float32Array;
  readonly strength: Float32Array;
}

/** A line in normal form: `x cos + y sin = distance`. */
interface Line {
  readonly cos: number;
  readonly sin: number;
  readonly distance: number;
}

/**
 * The corners of the sheet or board on a photograph, in parts of its width and height; null where none can be told. Sides are found as straight
 * edges (Hough transform), the four that are seen best and hold most of the picture are taken, and laid on the edges exactly.
 */
export function findSheet(picture: Picture): Corners | null {
  const edges = edgesOf(shrink(picture, COARSE));
  const weak = weakestOf(edges);
  const lines = linesIn(edges, weak);
  const across = lines.filter(({ sin, cos }) => Math.abs(sin) > Math.abs(cos));
  const down = lines.filter(({ sin, cos }) => Math.abs(sin) <= Math.abs(cos));
  const best = bestOf(across, down, edges, weak);
  return best && laidExactly(best, edges, edgesOf(shrink(picture, FINE)));
}

/** Of the three colours, the one that differs most (Sobel). */
function edgesOf({ width, height, data }: Picture): Edges {
  const [dx, dy, strength] = [0, 1, 2].map(() => new Float32Array(width * height)) as [
    Float32Array,
    Float32Array,
    Float32Array,
  ];
  const row = width * 4;
  for (let y = 1; y < height - 1; y += 1)
    for (let x = 1; x < width - 1; x += 1) {
      const at = y * width + x;
      for (let n = at * 4; n < at * 4 + 3; n += 1) {
        // This runs for each pixel: nothing is made in it.
        const ul = data[n - row - 4]!;
        const ur = data[n - row + 4]!;
        const dl = data[n + row - 4]!;
        const dr = data[n + row + 4]!;
        const h = ur + dr - ul - dl + 2 * (data[n + 4]! - data[n - 4]!);
        const v = dl + dr - ul - ur + 2 * (data[n + row]! - data[n - row]!);
        const size = Math.sqrt(h * h + v * v);
        if (size > strength[at]!) {
          dx[at] = h;
          dy[at] = v;
          strength[at] = size;
        }
      }
    }
  return { width, height, dx, dy, strength };
}

/**
 * The strength from which on something is an edge: it stands out from most of the picture, or from what half of it has by its noise alone, since
 * writing has stronger edges than a sheet in the shade. Never next to nothing.
 */
function weakestOf({ strength }: Edges): number {
  const sorted = strength.slice().sort();
  const at = (part: number) => sorted[Math.floor(sorted.length * part)]!;
  return Math.max(24, Math.min(at(0.85), 3 * at(0.5)));
}

/** The straight edges, the longest first; of several next to each other one. */
function linesIn({ width, height, dx, dy, strength }: Edges, weak: number): Line[] {
  const reach = Math.ceil(Math.hypot(width, height));
  const votes = new Float32Array(DIRECTIONS * 2 * reach);
  const turns = Array.from({ length: DIRECTIONS }, (_, n) => {
    const angle = (n * Math.PI) / DIRECTIONS;
    return { cos: Math.cos(angle), sin: Math.sin(angle) };
  });
  const strong = weak * 4;
  for (let at = 0; at < strength.length; at += 1) {
    if (strength[at]! < weak) continue;
    const [x, y] = [at % width, Math.floor(at / width)];
    const angle = Math.atan2(dy[at]!, dx[at]!);
    const nearest = Math.round((angle / Math.PI) * DIRECTIONS);
    for (let by = -2; by <= 2; by += 1) {
      const n = (nearest + by + 2 * DIRECTIONS) % DIRECTIONS;
      const { cos, sin } = turns[n]!;
      const slot = n * 2 * reach + Math.round(x * cos + y * sin) + reach;
      votes[slot] = votes[slot]! + Math.min(strength[at]!, strong) / strong;
    }
  }
  const fewest = Math.min(width, height) * 0.08;
  const found = [...votes.keys()]
    .filter((slot) => votes[slot]! > fewest)
    .sort((a, b) => votes[b]! - votes[a]!);
  const chosen: (Line & { n: number })[] = [];
  for (const slot of found) {
    const n = Math.floor(slot / (2 * reach));
    const distance = (slot % (2 * reach)) - reach;
    const near = (one: Line & { n: number }) => {
      const turned = Math.abs(one.n - n);
      const same = Math.min(turned, DIRECTIONS - turned) <= 3;
      // Beyond half a turn the same line has the opposite distance.
      const apart = turned > DIRECTIONS / 2 ? one.distance + distance : one.distance - distance;
      return same && Math.abs(apart) <= 5;
    };
    if (!chosen.some(near)) chosen.push({ ...turns[n]!, n, distance });
    if (chosen.length >= LINES.found) break;
  }
  return chosen;
}

function crossing(a: Line, b: Line): Point {
  const whole = a.cos * b.sin - a.sin * b.cos;
  return {
    x: (a.distance * b.sin - b.distance * a.sin) / whole,
    y: (b.distance * a.cos - a.distance * b.cos) / whole,
  };
}

/** The four lines that are a sheet most likely; null where none are. */
function bestOf(
  across: readonly Line[],
  down: readonly Line[],
  edges: Edges,
  weak: number,
): Corners | null {
  const { width, height } = edges;
  const middle = { x: width / 2, y: height / 2 };
  const yAt = (line: Line) => (line.distance - middle.x * line.cos) / line.sin;
  const xAt = (line: Line) => (line.distance - middle.y * line.sin) / line.cos;
  const rows = sidesAmong(across, yAt);
  const columns = sidesAmong(down, xAt);
  const inside = ({ x, y }: Point) =>
    x > -OUTSIDE * width &&
    x < (1 + OUTSIDE) * width &&
    y > -OUTSIDE * height &&
    y < (1 + OUTSIDE) * height;
  let best: { corners: Corners; points: number } | null = null;
  for (const [top, bottom] of pairsOf(rows))
    for (const [left, right] of pairsOf(columns)) {
      const corners: Corners = [
        crossing(top, left),
        crossing(top, right),
        crossing(bottom, right),
        crossing(bottom, left),
      ];
      const size = doubleArea(corners) / (2 * width * height);
      if (size < SMALLEST || !isSheet(corners) || !corners.every(inside)) continue;
      const seen = corners.map((corner, n) => sideSeen(corner, corners[(n + 1) % 4]!, edges, weak));
      const all = seen.reduce((sum, one) => sum + one, 0) / 4;
      if (Math.min(...seen) < SEEN.side || all < SEEN.all) continue;
      const points = all + SIZE * Math.sqrt(size);
      if (points > (best?.points ?? 0)) best = { corners, points };
    }
  return best?.corners ?? null;
}

/** Those of the lines, the longest of which come first, that may be sides, by where they are: lines of writing are between them. */
function sidesAmong(lines: readonly Line[], where: (line: Line) => number): Line[] {
  const sorted = [...lines].sort((a, b) => where(a) - where(b));
  const chosen = new Set([
    ...lines.slice(0, LINES.long),
    ...sorted.slice(0, LINES.outer),
    ...sorted.slice(-LINES.outer),
  ]);
  return sorted.filter((line) => chosen.has(line));
}

const pairsOf = (lines: readonly Line[]) =>
  lines.flatMap((a, n) => lines.slice(n + 1).map((b) => [a, b] as const));

/** How much of a side, from 0 to 1, is an edge that runs along it. */
function sideSeen(from: Point, to: Point, edges: Edges, weak: number): number {
  const { width, height, dx, dy, strength } = edges;
  const length = Math.hypot(to.x - from.x, to.y - from.y);
  const normal = { x: (to.y - from.y) / length, y: (from.x - to.x) / length };
  const count = Math.max(8, Math.round(length / 2));
  let seen = 0;
  let looked = 0;
  for (let n = 0; n < count; n += 1) {
    const part = (n + 0.5) / count;
    const at = { x: from.x + (to.x - from.x) * part, y: from.y + (to.y - from.y) * part };
    // What lies outside the picture cannot be seen.
    if (at.x < 1 || at.y < 1 || at.x > width - 2 || at.y > height - 2) continue;
    looked += 1;
    for (let by = -2; by <= 2; by += 1) {
      const x = Math.round(at.x + normal.x * by);
      const y = Math.round(at.y + normal.y * by);
      const slot = y * width + x;
      const size = strength[slot] ?? 0;
      const along = Math.abs((dx[slot] ?? 0) * normal.x + (dy[slot] ?? 0) * normal.y);
      if (size >= weak && along > 0.9 * size) {
        seen += 1;
        break;
      }
    }
  }
  return looked < count / 2 ? 0 : seen / count;
}

/**
 * The same corners, laid on the edges of a larger picture: each side through what is strongest near it, and once more through what is strongest
 * near that. In parts of the picture.
 */
function laidExactly(corners: Corners, coarse: Edges, fine: Edges): Corners {
  const by = fine.width / coarse.width;
  const given = corners.map(({ x, y }) => ({ x: (x + 0.5) * by, y: (y + 0.5) * by }));
  let laid = given;
  for (const reach of REACHES) {
    const sides = laid.map((corner, n) => lineAlong(corner, laid[(n + 1) % 4]!, fine, by * reach));
    laid = sides.map((side, n) => crossing(sides[(n + 3) % 4]!, side));
  }
  const { width, height } = fine;
  const part = (value: number) => Math.min(1, Math.max(0, value));
  const near = laid.every(({ x, y }, n) => Math.hypot(x - given[n]!.x, y - given[n]!.y) < by * 12);
  return (near ? laid : given).map(({ x, y }) => ({
    x: part((x + 0.5) / width),
    y: part((y + 0.5) / height),
  })) as unknown as Corners;
}

/** The line through the strongest edges near a side, without those that lie off it; the side itself where there are too few. */
function lineAlong(from: Point, to: Point, edges: Edges, reach: number): Line {
  const { width, height, dx, dy, strength } = edges;
  const length = Math.hypot(to.x - from.x, to.y - from.y);
  const normal = { x: (to.y - from.y) / length, y: (from.x - to.x) / length };
  const points: Point[] = [];
  const count = Math.round(length / 3);
  // Where two sides meet, the other one is the stronger edge.
  for (let n = Math.ceil(count * 0.06); n < count * 0.94; n += 1) {
    const part = (n + 0.5) / count;
    const at = { x: from.x + (to.x - from.x) * part, y: from.y + (to.y - from.y) * part };
    let best = { size: 30, x: Number.NaN, y: 0 };
    for (let off = -reach; off <= reach; off += 1) {
      const [x, y] = [at.x + normal.x * off, at.y + normal.y * off];
      if (x < 1 || y < 1 || x > width - 2 || y > height - 2) continue;
      const slot = Math.round(y) * width + Math.round(x);
      const along = Math.abs(dx[slot]! * normal.x + dy[slot]! * normal.y);
      if (along > 0.85 * strength[slot]! && along > best.size) best = { size: along, x, y };
    }
    if (!Number.isNaN(best.x)) points.push(best);
  }
  const given = { cos: normal.x, sin: normal.y, distance: from.x * normal.x + from.y * normal.y };
  let line: Line = given;
  let kept: readonly Point[] = points;
  for (const limit of [reach / 2, reach / 4, 1.5]) {
    if (kept.length < 12) return line;
    line = lineThrough(kept);
    kept = kept.filter(({ x, y }) => Math.abs(x * line.cos + y * line.sin - line.distance) < limit);
  }
  return kept.length < 12 ? given : lineThrough(kept);
}

/** The line from which points are least far (total least squares). */
function lineThrough(points: readonly Point[]): Line {
  const middle = {
    x: points.reduce((sum, p) => sum + p.x, 0) / points.length,
    y: points.reduce((sum, p) => sum + p.y, 0) / points.length,
  };
  let [xx, xy, yy] = [0, 0, 0];
  for (const p of points) {
    xx += (p.x - middle.x) ** 2;
    xy += (p.x - middle.x) * (p.y - middle.y);
    yy += (p.y - middle.y) ** 2;
  }
  const angle = Math.atan2(2 * xy, xx - yy) / 2 + Math.PI / 2;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  return { cos, sin, distance: middle.x * cos + middle.y * sin };
}
