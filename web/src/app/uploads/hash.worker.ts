import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex } from '@noble/hashes/utils.js';

/** Hashes files away from the page, a few megabytes at a time. */
const CHUNK = 4 << 20;

self.addEventListener('message', async ({ data }: MessageEvent<{ id: number; file: File }>) => {
  const { id, file } = data;
  const hash = sha256.create();
  try {
    for (let at = 0; at < file.size; at += CHUNK)
      hash.update(new Uint8Array(await file.slice(at, at + CHUNK).arrayBuffer()));
  } catch (error) {
    if (!(error instanceof DOMException)) throw error;
    self.postMessage({ id, hash: null });
    return;
  }
  self.postMessage({ id, hash: bytesToHex(hash.digest()) });
});
