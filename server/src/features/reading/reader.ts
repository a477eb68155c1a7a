import type { Contents, Reader, ReaderPart } from '@sammlung/contract';
import type { Queries } from '../../db/database.ts';
import type { Viewer } from '../../domain/access/access-sql.ts';
import { folderFor } from '../../domain/access/folders.ts';
import { listFolder } from '../../domain/files/list.ts';

/** So many folders, and so many items in each of them, a reader lists. */
const MOST_PARTS = 80;
const MOST_ITEMS = 200;

/**
 * A folder with all below it that the viewer sees: first what is in a folder, then the folders in it, each in the order that the
 * folder has. Throws `not-found` unless the folder is seen.
 */
export async function readerOf(db: Queries, viewer: Viewer, folderId: string): Promise<Reader> {
  const { title, mark } = await folderFor(db, viewer, folderId);
  const parts: ReaderPart[] = [];
  let cut = false;
  const read = async (part: Omit<ReaderPart, 'items'>): Promise<void> => {
    if (parts.length === MOST_PARTS) {
      cut = true;
      return;
    }
    const listing = await listFolder(db, viewer, part.folderId, { limit: MOST_ITEMS });
    const { items, folders, next }: Contents = listing.contents.read();
    parts.push({ ...part, items });
    cut ||= next !== null;
    for (const folder of folders)
      await read({
        ...{ folderId: folder.id, title: folder.title, mark: folder.mark },
        depth: part.depth + 1,
      });
  };
  await read({ folderId, title, mark, depth: 0 });
  return { parts, cut };
}
