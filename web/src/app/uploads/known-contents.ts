import type { PlacedUpload } from '@sammlung/contract';
import { api, ApiError, OfflineError } from '../api/api.ts';
import { hashFile } from './hash.ts';
import { fileGone } from './send-bytes.ts';
import { inTray, TRAY, type Transfer } from './transfer.ts';

/** Larger files are sent without looking first whether they are known: hashing them takes too long. In bytes. */
const HASHED = 256 << 20;
/** Sizes that can be asked about in one request. */
const SIZES = 5000;

/** Contents that the library has already: their files need not be sent. */
export function useKnownContents() {
  const knownSizes = new Set<number>();

  /** Asks which of these sizes (bytes) the library has already: only such files are worth hashing. */
  async function look(sizes: readonly number[]) {
    try {
      for (let at = 0; at < sizes.length; at += SIZES) {
        const { known } = await api('POST /api/intake/look', {
          body: { sizes: sizes.slice(at, at + SIZES) },
        });
        for (const size of known) knownSizes.add(size);
      }
    } catch (error) {
      // Sending will say what is wrong, beside each file.
      if (!(error instanceof ApiError || error instanceof OfflineError)) throw error;
    }
  }

  /** Adds a file without sending it, where the library has its content. Null when it has not. */
  async function place(transfer: Transfer): Promise<PlacedUpload | null> {
    const { file, size, folder, name, batch } = transfer;
    if (!file || !knownSizes.has(size) || size > HASHED) return null;
    const hash = await hashFile(file);
    if (hash === null) throw fileGone();
    try {
      if (folder.id === TRAY) {
        const { answer } = transfer;
        const { id } = await api('POST /api/tray/known', { body: { name, hash, answer } });
        return inTray(transfer, id);
      }
      return await api('POST /api/folders/:folder/known', {
        params: { folder: folder.id },
        body: { name, hash, batch },
      });
    } catch (error) {
      if (error instanceof ApiError && error.problem.code === 'not-found') return null;
      throw error;
    }
  }

  return { look, place, has: (size: number) => knownSizes.has(size) };
}
