/** A picture as canvases have it: four bytes a pixel (red, green, blue, opacity), row after row. */
export interface Picture {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8ClampedArray<ArrayBuffer>;
}

/** A point; in pixels, or in parts of the width and the height (0 to 1) where that is said. */
export interface Point {
  readonly x: number;
  readonly y: number;
}

/** Four corners, clockwise from the upper left one. */
export type Corners = readonly [Point, Point, Point, Point];

/** The corners of a whole picture, in parts of its width and height. */
export const WHOLE: Corners = [
  { x: 0, y: 0 },
  { x: 1, y: 0 },
  { x: 1, y: 1 },
  { x: 0, y: 1 },
];

export const emptyPicture = (width: number, height: number): Picture => ({
  ...{ width, height },
  data: new Uint8ClampedArray(width * height * 4),
});

/** Corners in parts of a picture, in its pixels. */
export const inPixels = (corners: Corners, { width, height }: Pick<Picture, 'width' | 'height'>) =>
  corners.map(({ x, y }) => ({ x: x * width, y: y * height })) as unknown as Corners;

/** A smaller picture of the same, at most `longest` pixels wide and high; each pixel is the mean of those it stands for. */
export function shrink(picture: Picture, longest: number): Picture {
  const { width, height, data } = picture;
  const by = Math.max(width, height) / longest;
  if (by <= 1) return picture;
  const small = emptyPicture(
    Math.max(1, Math.round(width / by)),
    Math.max(1, Math.round(height / by)),
  );
  const edge = (n: number, of: number, all: number) => Math.floor((n * all) / of);
  for (let y = 0; y < small.height; y += 1) {
    const [top, bottom] = [edge(y, small.height, height), edge(y + 1, small.height, height)];
    for (let x = 0; x < small.width; x += 1) {
      const [left, right] = [edge(x, small.width, width), edge(x + 1, small.width, width)];
      let [red, green, blue] = [0, 0, 0];
      for (let v = top; v < bottom; v += 1)
        for (let at = (v * width + left) * 4; at < (v * width + right) * 4; at += 4) {
          red += data[at]!;
          green += data[at + 1]!;
          blue += data[at + 2]!;
        }
      const count = (bottom - top) * (right - left);
      const at = (y * small.width + x) * 4;
      small.data[at] = red / count;
      small.data[at + 1] = green / count;
      small.data[at + 2] = blue / count;
      small.data[at + 3] = 255;
    }
  }
  return small;
}

/** Twice the area of four corners; above 0 when they are clockwise. */
export function doubleArea(corners: Corners): number {
  return corners.reduce((sum, { x, y }, n) => {
    const next = corners[(n + 1) % 4]!;
    return sum + x * next.y - next.x * y;
  }, 0);
}

/** Whether four corners are a sheet that can be seen from above: clockwise, without a dent, no side or angle next to nothing. */
export function isSheet(corners: Corners): boolean {
  return corners.every((corner, n) => {
    const before = corners[(n + 3) % 4]!;
    const after = corners[(n + 1) % 4]!;
    const [ax, ay] = [corner.x - before.x, corner.y - before.y];
    const [bx, by] = [after.x - corner.x, after.y - corner.y];
    const turn = ax * by - ay * bx;
    return turn > SLIGHTEST_TURN * Math.hypot(ax, ay) * Math.hypot(bx, by);
  });
}

/** The sine of the slightest angle between two sides. */
const SLIGHTEST_TURN = 0.1;
