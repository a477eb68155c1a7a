import { randomUUID } from 'node:crypto';
import { checkName, folderName, nameKey } from '@sammlung/core';
import { sql } from 'drizzle-orm';
import { rows, uuids, type Queries } from '../db/database.ts';
import { AppError } from '../platform/errors.ts';
import { lockTree } from './folders.ts';
import type { SeenFolder } from './access/folders.ts';
import type { SignedIn } from '../platform/sessions.ts';

/** So many folders are made at once. */
const MOST_FOLDERS = 5000;

/**
 * Makes the folders at these paths below `parent` (null: at the top of the person's own library), as far as they are
 * missing. Names from outside are cleaned as those of files are. Returns the folder at each path, the topmost ones
 * that were made and how many were. Throws `name-not-allowed` for a path with nothing to call a folder by, and
 * `too-many-folders`.
 */
export async function ensureFolderPaths(
  tx: Queries,
  person: SignedIn,
  parent: SeenFolder | null,
  paths: readonly (readonly string[])[],
): Promise<{ ids: string[]; made: string[]; count: number }> {
  const ownerId = parent ? parent.ownerId : person.id;
  await lockTree(tx, parent?.treeId ?? person.id);
  const known = await childrenBelow(tx, person.id, parent?.id ?? null);
  const result = { ids: [] as string[], made: [] as string[], count: 0 };
  const fresh = new Set<string>();
  const cleaned = paths.map((path) => path.map(nameOf));
  refuseTooMany(cleaned);
  const idAt = new Map<string, string>();

  // Level by level, so that parents are there and each level is one statement.
  const deepest = Math.max(0, ...cleaned.map((path) => path.length));
  for (let depth = 1; depth <= deepest; depth += 1) {
    const wanted = new Map<string, { parentId: string | null; title: string }>();
    for (const path of cleaned.filter((p) => p.length >= depth)) {
      const at = key(path.slice(0, depth));
      if (idAt.has(at) || wanted.has(at)) continue;
      const parentId =
        depth === 1
          ? (parent?.id ?? null)
          : idAt.get(key(path.slice(0, -1 * (path.length - depth + 1))))!;
      const title = path[depth - 1]!;
      const there = known.get(sibling(parentId, title));
      if (there) idAt.set(at, there);
      else wanted.set(at, { parentId, title });
    }
    if (wanted.size === 0) continue;
    const these = [...wanted.values()];
    const ids = these.map(() => randomUUID());
    await tx.execute(
      sql`insert into folders (id, school_id, owner_id, parent_id, title, created_by, position)
        select w.id, ${person.schoolId}::uuid, ${ownerId}::uuid, w.parent_id, w.title, ${person.id}::uuid,
          coalesce(last.position, 0) + row_number() over (partition by w.parent_id order by w.n)
        from unnest(${uuids(ids)}, ${sql.param(these.map((w) => w.parentId))}::uuid[],
            ${sql.param(these.map((w) => w.title))}::text[]) with ordinality w (id, parent_id, title, n)
          left join lateral (
            select max(position) as position from folders f
            where f.parent_id = w.parent_id or (w.parent_id is null and f.parent_id is null and f.owner_id = ${ownerId}::uuid)) last
            on true`,
    );
    [...wanted].forEach(([at, { parentId }], n) => {
      const id = ids[n]!;
      idAt.set(at, id);
      fresh.add(id);
      if (parentId === null || !fresh.has(parentId)) result.made.push(id);
    });
    result.count += ids.length;
  }
  result.ids = cleaned.map((path) => idAt.get(key(path))!);
  return result;
}

/** Throws `too-many-folders` for more places than are looked at in one go. */
function refuseTooMany(paths: readonly (readonly string[])[]): void {
  const places = new Set<string>();
  for (const path of paths)
    for (let depth = 1; depth <= path.length; depth += 1) {
      places.add(key(path.slice(0, depth)));
      if (places.size > MOST_FOLDERS) throw new AppError('too-many-folders');
    }
}

function nameOf(given: string): string {
  const name = folderName(given);
  if (name === null || checkName(name).faults.length > 0)
    throw new AppError('name-not-allowed', { faults: [{ field: 'title', fault: 'empty' }] });
  return name;
}

const key = (path: readonly string[]) => path.map(nameKey).join('\u0000');
const sibling = (parentId: string | null, title: string) => `${parentId} ${nameKey(title)}`;

/** The folders below a place by parent and name, the Bin left out. */
async function childrenBelow(db: Queries, ownerId: string, parentId: string | null) {
  const found = await rows<{ id: string; parentId: string | null; title: string }>(
    db,
    sql`select id, parent_id as "parentId", title from folders
      where binned_at is null
        and ${parentId === null ? sql`owner_id = ${ownerId}::uuid` : sql`path && ${uuids([parentId])}`}`,
  );
  return new Map(found.map((f) => [sibling(f.parentId, f.title), f.id]));
}
