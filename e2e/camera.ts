import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { makePicture } from '../demo/src/files/picture.ts';

/** What Chromium is started with so that its camera sees the board of the sample. */
export async function cameraOnBoard(): Promise<string[]> {
  const folder = mkdtempSync(join(tmpdir(), 'sammlung-camera-'));
  process.on('exit', () => rmSync(folder, { recursive: true }));
  const film = join(folder, 'board.mjpeg');
  writeFileSync(film, await makePicture('board'));
  return [
    '--use-fake-ui-for-media-stream',
    '--use-fake-device-for-media-stream',
    `--use-file-for-fake-video-capture=${film}`,
  ];
}
