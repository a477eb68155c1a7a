import sharp from 'sharp';
import { convert } from './convert.ts';
import { random } from './random.ts';

export type Scene = 'soilPit' | 'cuttings' | 'orchard' | 'seedTray' | 'board';

const WIDTH = 1600;
const HEIGHT = 1200;

/** Paints a scene that looks a little like a photograph, as JPEG. */
export function makePicture(scene: Scene): Promise<Buffer> {
  const parts = SCENES[scene](random(scene)).join('');
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${WIDTH} ${HEIGHT}" width="${WIDTH}" height="${HEIGHT}">
    <defs><linearGradient id="sky" x1="0" y1="0" x2="0" y2="1"><stop offset="0" stop-color="#a9c6d6"/><stop offset="1" stop-color="#eef1e6"/></linearGradient></defs>
    ${parts}</svg>`;
  return sharp(Buffer.from(svg)).blur(2).jpeg({ quality: 82 }).toBuffer();
}

/** The same scene as telephones keep their pictures: HEIC. */
export async function makeTelephonePicture(scene: Scene): Promise<Uint8Array> {
  const jpeg = await sharp(await makePicture(scene))
    .resize(800)
    .jpeg({ quality: 90 })
    .toBuffer();
  return convert('vips', jpeg, ['scene.jpg', 'scene.heic'], (from, to) => [
    ...['heifsave', from, to, '--compression', 'hevc', '--effort', '0'],
  ]);
}

type Random = () => number;
const rect = (x: number, y: number, w: number, h: number, fill: string) =>
  `<rect x="${x}" y="${y}" width="${w}" height="${h}" fill="${fill}"/>`;
const blob = (x: number, y: number, rx: number, ry: number, fill: string, opacity = 1) =>
  `<ellipse cx="${x}" cy="${y}" rx="${rx}" ry="${ry}" fill="${fill}" fill-opacity="${opacity}"/>`;
const many = (n: number, make: (n: number) => string) =>
  Array.from({ length: n }, (_, k) => make(k));
const pick = (rand: Random, from: readonly string[]) => from[Math.floor(rand() * from.length)]!;

/** A word as somebody writes it on a board. */
const chalk = (x: number, y: number, text: string, size = 54) =>
  `<text x="${x}" y="${y}" font-family="sans-serif" font-style="italic" font-size="${size}" fill="#f4f1e6" fill-opacity="0.92">${text}</text>`;

const SCENES: Record<Scene, (rand: Random) => string[]> = {
  /** A blackboard, photographed from the side. */
  board: (rand) => [
    rect(0, 0, WIDTH, HEIGHT, '#cfc7b4'),
    `<path d="M190 210 L1480 120 L1450 1010 L230 920 Z" fill="#6b5233"/>`,
    `<path d="M215 235 L1455 148 L1427 984 L252 897 Z" fill="#2c4a40"/>`,
    `<g transform="matrix(1 -0.065 0.02 1 40 70)">`,
    chalk(270, 330, 'pH 5.5  →  6.5', 84),
    chalk(270, 450, 'sand     120 g / m²'),
    chalk(270, 540, 'loam     180 g / m²'),
    chalk(270, 630, 'clay      270 g / m²'),
    chalk(270, 780, 'not with manure'),
    `<path d="M860 300 q170 -40 330 20 q80 190 -30 330 q-170 60 -300 -10 q-70 -180 0 -340 z" fill="none" stroke="#f4f1e6" stroke-width="7" stroke-opacity="0.85"/>`,
    chalk(930, 500, 'bed 3', 70),
    '</g>',
    ...many(500, () =>
      blob(
        240 + rand() * 1200,
        180 + rand() * 780,
        1 + rand() * 5,
        1 + rand() * 3,
        '#dfe6dc',
        0.12,
      ),
    ),
  ],
  soilPit: (rand) => [
    rect(0, 0, WIDTH, 230, '#7f9a52'),
    ...many(420, () => {
      const x = rand() * WIDTH;
      return `<path d="M${x} ${200 + rand() * 60} q${rand() * 20 - 10} -60 ${rand() * 40 - 20} -120" stroke="${pick(rand, ['#5f7d38', '#8fae5c', '#6d8b45'])}" stroke-width="4" fill="none"/>`;
    }),
    rect(0, 230, WIDTH, 240, '#3f2d1f'),
    rect(0, 470, WIDTH, 180, '#8f7550'),
    rect(0, 650, WIDTH, 320, '#8a4f28'),
    rect(0, 970, WIDTH, 230, '#a08f72'),
    ...many(2600, () =>
      blob(
        rand() * WIDTH,
        230 + rand() * 970,
        2 + rand() * 9,
        2 + rand() * 6,
        pick(rand, ['#2d2016', '#a98c62', '#6b4c30', '#c0a67b']),
        0.35,
      ),
    ),
    ...many(70, () =>
      blob(
        rand() * WIDTH,
        960 + rand() * 230,
        20 + rand() * 46,
        14 + rand() * 26,
        pick(rand, ['#8d8069', '#b8ab91', '#75694f']),
      ),
    ),
    ...many(60, () => {
      const x = rand() * WIDTH;
      return `<path d="M${x} 230 q${rand() * 60 - 30} 90 ${rand() * 90 - 45} ${120 + rand() * 240}" stroke="#c9b58a" stroke-width="${1 + rand() * 3}" fill="none" stroke-opacity="0.7"/>`;
    }),
  ],
  cuttings: (rand) => [
    rect(0, 0, WIDTH, HEIGHT, '#cbb894'),
    ...many(900, () =>
      blob(
        rand() * WIDTH,
        rand() * HEIGHT,
        3 + rand() * 8,
        2 + rand() * 5,
        pick(rand, ['#b7a17a', '#dccbaa', '#a58e66']),
        0.6,
      ),
    ),
    ...many(9, (n) => {
      const x = 160 + n * 150;
      const tilt = rand() * 10 - 5;
      return `<g transform="rotate(${tilt} ${x} 600)"><path d="M${x} 300 q14 300 -6 620 l30 -30 q10 -300 10 -590 z" fill="${pick(rand, ['#a8743f', '#b9834c', '#94622f'])}"/><path d="M${x + 2} 300 h32" stroke="#e9d9b8" stroke-width="9"/></g>`;
    }),
  ],
  orchard: (rand) => [
    rect(0, 0, WIDTH, 700, 'url(#sky)'),
    rect(0, 680, WIDTH, 520, '#7f9a52'),
    ...many(7, (n) => {
      const x = 120 + n * 235;
      const crown = many(60, () =>
        blob(
          x + rand() * 220 - 110,
          420 + rand() * 190 - 95,
          22 + rand() * 30,
          18 + rand() * 24,
          pick(rand, ['#5f7d38', '#6d8b45', '#486a2d']),
          0.9,
        ),
      );
      const fruit = many(14, () =>
        blob(x + rand() * 200 - 100, 430 + rand() * 160 - 80, 11, 11, '#b0412b'),
      );
      return `${rect(x - 12, 520, 24, 260, '#5b4a2f')}${crown.join('')}${fruit.join('')}`;
    }),
    ...many(700, () =>
      blob(
        rand() * WIDTH,
        700 + rand() * 500,
        5 + rand() * 14,
        2 + rand() * 4,
        pick(rand, ['#6d8b45', '#8fae5c', '#5f7d38']),
        0.5,
      ),
    ),
  ],
  seedTray: (rand) => [
    rect(0, 0, WIDTH, HEIGHT, '#4b5557'),
    ...many(24, (n) => {
      const x = 80 + (n % 6) * 245;
      const y = 70 + Math.floor(n / 6) * 275;
      const soil = many(70, () =>
        blob(
          x + rand() * 200,
          y + rand() * 230,
          3 + rand() * 6,
          3 + rand() * 4,
          pick(rand, ['#6b4c30', '#2d2016', '#d9c9a3']),
          0.6,
        ),
      );
      const cx = x + 100 + rand() * 20 - 10;
      const cy = y + 115;
      const green = pick(rand, ['#7fae4c', '#8fbe5c', '#6d9b45']);
      return `${rect(x, y, 200, 230, '#3a2a1c')}${soil.join('')}${blob(cx - 34, cy, 36, 18, green)}${blob(cx + 34, cy - 6, 36, 18, green)}${blob(cx, cy, 8, 8, '#cfe0a5')}`;
    }),
  ],
};
