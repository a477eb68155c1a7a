import type { PlacedUpload } from '@sammlung/contract';
import { SAMPLE_PASSWORD } from '@sammlung/demo/sign-ins';
import { eq } from 'drizzle-orm';
import type { ScratchPostgres } from '../../scripts/lib/scratch-server.mjs';
import { openDatabase, type Database } from '../../server/src/db/database.ts';
import * as s from '../../server/src/db/schema/index.ts';
import { signInAs } from './requests.ts';
import { DiskStorage } from '../../server/src/platform/storage.ts';

export const TEACHER = 'ilse.vandermoor@fennmoor.example';

/** Signs one of the sample people in; resolves to the cookie header. */
export const sampleCookie = (address: string, email: string): Promise<string> =>
  signInAs(address, email, SAMPLE_PASSWORD);

/** A new folder at the top of the sample teacher's library, and what is needed to fill it. */
export interface BenchFolder {
  readonly db: Database;
  readonly id: string;
  readonly schoolId: string;
  readonly ownerId: string;
  close(): Promise<void>;
}

export async function benchFolder(postgres: ScratchPostgres, title: string): Promise<BenchFolder> {
  const { db, close } = openDatabase(postgres.url('postgres'));
  const [owner] = await db.select().from(s.people).where(eq(s.people.email, TEACHER));
  const { schoolId, id: ownerId } = owner!;
  const [folder] = await db
    .insert(s.folders)
    .values({ schoolId, ownerId, createdBy: ownerId, title })
    .returning({ id: s.folders.id });
  return { db, id: folder!.id, schoolId, ownerId, close };
}

/** Lays the bytes down as a file in the folder, beside the server; resolves to the placement. */
export async function layDown(
  postgres: ScratchPostgres,
  { db, id: folderId, schoolId, ownerId }: BenchFolder,
  title: string,
  bytes: Uint8Array,
  { extension, mediaType } = { extension: 'bin', mediaType: 'application/octet-stream' },
): Promise<string> {
  const content = await new DiskStorage(postgres.data).put(schoolId, bytes);
  return db.transaction(async (tx) => {
    await tx.insert(s.blobs).values({ schoolId, ...content });
    const [item] = await tx
      .insert(s.items)
      .values({ schoolId, ownerId, kind: 'file', title, extension })
      .returning({ id: s.items.id });
    const itemId = item!.id;
    const [version] = await tx
      .insert(s.versions)
      .values({
        schoolId,
        itemId,
        number: 1,
        ...content,
        mediaType,
        originalName: `${title}.${extension}`,
        createdBy: ownerId,
      })
      .returning({ id: s.versions.id });
    await tx.update(s.items).set({ currentVersionId: version!.id }).where(eq(s.items.id, itemId));
    const [placement] = await tx
      .insert(s.placements)
      .values({ schoolId, folderId, itemId, addedBy: ownerId })
      .returning({ id: s.placements.id });
    return placement!.id;
  });
}

/**
 * An upload by the protocol, of a content that is new, until it lies in the folder; `send` sends the bytes to an address,
 * with these headers. Resolves to what `send` does.
 */
export async function upload<T>(
  { address, cookie }: { readonly address: string; readonly cookie: string },
  { folderId, name, length }: { folderId: string; name: string; length: number },
  send: (address: string, headers: Record<string, string>) => Promise<T>,
): Promise<T> {
  const base64 = (text: string) => Buffer.from(text).toString('base64');
  const tus = { cookie, origin: address, 'tus-resumable': '1.0.0' };
  const begun = await fetch(`${address}/api/uploads`, {
    method: 'POST',
    headers: {
      ...tus,
      'upload-length': String(length),
      'upload-metadata': `filename ${base64(name)},folderId ${base64(folderId)}`,
    },
  });
  const at = begun.headers.get('location');
  if (begun.status !== 201 || !at) throw new Error(`not begun: ${begun.status}`);
  const sent = await send(new URL(at, address).href, {
    ...tus,
    'content-type': 'application/offset+octet-stream',
    'upload-offset': '0',
  });
  const placed = await fetch(`${address}/api/folders/${folderId}/files`, {
    method: 'POST',
    headers: { cookie, origin: address, 'content-type': 'application/json' },
    body: JSON.stringify({ uploadId: at.split('/').at(-1) }),
  });
  const { outcome } = (await placed.json()) as PlacedUpload;
  if (outcome !== 'new') throw new Error(`not placed: ${placed.status} ${outcome}`);
  return sent;
}
