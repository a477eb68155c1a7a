import sharp from 'sharp';
import { convert } from './convert.ts';
import { random } from './random.ts';

const RATE = 16_000;

/** A bird that sings in a hedge for some seconds, as a WAV file (16 kHz, 16 bits, one channel). */
export async function makeBirdsong(seconds: number): Promise<Uint8Array> {
  const rand = random('birdsong');
  const samples = new Float64Array(RATE * seconds);
  // Wind in the leaves: soft noise without its high part.
  let wind = 0;
  for (let n = 0; n < samples.length; n += 1) {
    wind += (rand() - 0.5 - wind) * 0.05;
    samples[n] = wind * 0.12 * (1 + 0.5 * Math.sin(n / RATE / 1.3));
  }
  for (let start = 0.4; start < seconds - 1.6; start += 1.1 + rand() * 0.9) {
    const notes = 3 + Math.floor(rand() * 5);
    for (let note = 0; note < notes; note += 1) {
      const from = Math.floor((start + note * 0.13) * RATE);
      const length = Math.floor((0.06 + rand() * 0.07) * RATE);
      const [low, high] = [2300 + rand() * 1400, 2300 + rand() * 2200];
      let phase = 0;
      for (let n = 0; n < length; n += 1) {
        const share = n / length;
        phase += (2 * Math.PI * (low + (high - low) * share)) / RATE;
        samples[from + n]! += 0.4 * Math.sin(Math.PI * share) * Math.sin(phase);
      }
    }
  }
  return wav(samples);
}

/** Samples from -1 to 1 as a WAV file. */
function wav(samples: Float64Array): Uint8Array {
  const file = Buffer.alloc(44 + samples.length * 2);
  file.write('RIFF', 0);
  file.writeUInt32LE(36 + samples.length * 2, 4);
  file.write('WAVEfmt ', 8);
  file.writeUInt32LE(16, 16);
  file.writeUInt16LE(1, 20);
  file.writeUInt16LE(1, 22);
  file.writeUInt32LE(RATE, 24);
  file.writeUInt32LE(RATE * 2, 28);
  file.writeUInt16LE(2, 32);
  file.writeUInt16LE(16, 34);
  file.write('data', 36);
  file.writeUInt32LE(samples.length * 2, 40);
  samples.forEach((sample, n) =>
    file.writeInt16LE(Math.round(Math.max(-1, Math.min(1, sample)) * 32_767), 44 + n * 2),
  );
  return file;
}

const [WIDTH, HEIGHT, DAYS, A_DAY] = [640, 360, 12, 4];

/** A bean that comes up, one second a day, as an MP4 film (H.264, 4 pictures a second, without sound). */
export async function makeBeanFilm(): Promise<Uint8Array> {
  const pictures = await Promise.all(
    Array.from({ length: DAYS * A_DAY }, (_, n) =>
      sharp(Buffer.from(bean(n / A_DAY)))
        .removeAlpha()
        .raw()
        .toBuffer(),
    ),
  );
  return convert('ffmpeg', Buffer.concat(pictures), ['pictures.rgb', 'film.mp4'], (from, to) => [
    ...['-v', 'error', '-f', 'rawvideo', '-pixel_format', 'rgb24'],
    ...['-video_size', `${WIDTH}x${HEIGHT}`, '-framerate', String(A_DAY), '-i', from],
    ...['-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-crf', '26', '-threads', '1'],
    ...['-movflags', '+faststart', '-fflags', '+bitexact', '-flags:v', '+bitexact', to],
  ]);
}

/** The bean after so many days, as SVG. */
function bean(day: number): string {
  const rand = random('bean');
  const grown = (from: number, until: number) =>
    Math.max(0, Math.min(1, (day - from) / (until - from)));
  const [root, stem, leaf] = [grown(1, 7), grown(4, 11), grown(7, 12)];
  const ground = 210;
  const top = ground + 40 - stem * 170;
  const stones = Array.from({ length: 150 }, () => {
    const [x, y] = [rand() * WIDTH, ground + rand() * (HEIGHT - ground)];
    const size = 1 + rand() * 4;
    return `<ellipse cx="${x}" cy="${y}" rx="${size}" ry="${size * 0.7}" fill="#2d2016" opacity="0.4"/>`;
  });
  const roots = Array.from({ length: 7 }, (_, n) => {
    const side = (n % 2 ? 1 : -1) * (20 + n * 9) * root;
    return `<path d="M320 ${ground + 48 + n * 9 * root} q${side / 2} ${12 * root} ${side} ${26 * root}" stroke="#d9c9a0" stroke-width="2" fill="none"/>`;
  });
  const blade = (side: number) =>
    `<path d="M320 ${top} q${side * 42 * leaf} ${-46 * leaf} ${side * 92 * leaf} ${-10 * leaf} q${-side * 42 * leaf} ${34 * leaf} ${-side * 92 * leaf} ${10 * leaf}" fill="#5f8f3e"/>`;
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}" height="${HEIGHT}">
    <rect width="100%" height="100%" fill="#dfe9e2"/><rect y="${ground}" width="100%" height="100%" fill="#4d3826"/>
    ${stones.join('')}${root > 0 ? roots.join('') : ''}
    <path d="M320 ${ground + 44} v${100 * root}" stroke="#e6d7b0" stroke-width="4"/>
    ${stem > 0 ? `<path d="M320 ${ground + 40} Q${320 + 14 * Math.sin(stem * 3)} ${(ground + 40 + top) / 2} 320 ${top}" stroke="#7fa653" stroke-width="7" fill="none"/>` : ''}
    ${leaf > 0 ? blade(1) + blade(-1) : ''}
    <ellipse cx="320" cy="${ground + 42}" rx="20" ry="13" fill="#b98d5d"/>
    <text x="24" y="44" font-family="Liberation Sans" font-size="26" fill="#2a3b33">Day ${1 + Math.floor(day)}</text>
  </svg>`;
}
