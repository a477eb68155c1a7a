import type { Colour, FolderDisplay, FolderOrder, Whence } from '@sammlung/contract';
import { allows, groupBy, type Right } from '@sammlung/core';
import { sql, type SQL } from 'drizzle-orm';
import { type Queries } from '../../db/database.ts';
import { AppError } from '../../platform/errors.ts';
import {
  waysInTable,
  openWaysIn,
  ownsFolder,
  viewerStatement,
  type AccessParams,
  type Viewer,
} from './access-sql.ts';

export const RIGHTS = ['none', 'view', 'add', 'manage', 'own'] as const satisfies Right[];
export type SeenRight = Exclude<Right, 'none'>;

/** A folder the viewer sees, with what they may do in it and the folders they may know of above it. */
export interface SeenFolder {
  readonly id: string;
  readonly schoolId: string;
  /** Null in the place of a student in a hand-in box (`placeId`). */
  readonly ownerId: string | null;
  /** Of a place the student’s. */
  readonly ownerName: string;
  readonly placeId: string | null;
  /** What it is part of: its owner, or the place. */
  readonly treeId: string;
  readonly createdBy: string;
  readonly title: string;
  readonly mark: string | null;
  readonly colour: Colour | null;
  readonly order: FolderOrder;
  readonly display: FolderDisplay;
  readonly keepOnTop: boolean;
  readonly parentId: string | null;
  readonly right: SeenRight;
  /** Whether any folder lies in it, seen or not, the Bin left out. */
  readonly parent: boolean;
  readonly crumbs: readonly { id: string; title: string }[];
}

type PathRow = Omit<SeenFolder, 'right' | 'crumbs'> & {
  /** The folder that was asked about; the row is of one on the path to it. */
  of: string;
  owned: boolean;
  rank: number;
};

/** For each folder `f` asked about the folders on the path to it, topmost first. */
const pathsTo = (asked: SQL, params: AccessParams) => sql`with ${waysInTable(params)}
    select f.id as "of", n.id, n.school_id as "schoolId", n.owner_id as "ownerId", case when n.in_place then n.path[1] end as "placeId", coalesce(n.owner_id, n.path[1]) as "treeId",
      coalesce(o.name, (select s.name from places l join people s on s.id = l.person_id where l.folder_id = n.path[1])) as "ownerName", n.created_by as "createdBy", n.title, n.mark,
      n.colour, n."order", n.display, n.keep_on_top as "keepOnTop", n.parent_id as "parentId", ${ownsFolder(sql`n`, params)} as owned, coalesce(k.rank, 0) as rank,
      exists (select from folders b where b.parent_id = n.id and b.binned_at is null) as parent
    from folders f join folders n on n.id = any (f.path) left join people o on o.id = n.owner_id
      left join lateral (
        select max(k.rank) as rank from ${openWaysIn(sql`n.path`, params)} k) k
        on n.owner_id is distinct from ${params.me}
    where ${asked}
    order by cardinality(n.path)`;
const pathTo = viewerStatement<PathRow>((params) =>
  pathsTo(sql`f.id = ${sql.placeholder('folder')}::uuid`, params),
);
const pathsToMany = viewerStatement<PathRow>((params) =>
  pathsTo(sql`f.id = any (${sql.placeholder('folders')}::uuid[])`, params),
);

/**
 * The folder, when the viewer has at least the right `wanted` in it. Throws `not-found` both for a folder
 * that is not there and for one that is not seen; else as `requireRight` does.
 */
export async function folderFor(
  db: Queries,
  viewer: Viewer,
  folderId: string,
  wanted: SeenRight = 'view',
): Promise<SeenFolder> {
  const folder = seenAtEnd(await pathTo(db, viewer, { folder: folderId }));
  if (!folder) throw new AppError('not-found');
  requireRight(folder, wanted);
  return folder;
}

/** Throws `not-allowed` where there is less right in a folder than `wanted`, `box-ended` where there was more. */
export function requireRight(folder: SeenFolder, wanted: SeenRight): void {
  if (allows(folder.right, wanted)) return;
  throw new AppError(folder.placeId && wanted === 'add' ? 'box-ended' : 'not-allowed');
}

/** Those of the folders that the viewer sees, by their ids. */
export async function foldersFor(
  db: Queries,
  viewer: Viewer,
  folderIds: readonly string[],
): Promise<ReadonlyMap<string, SeenFolder>> {
  const found = await pathsToMany(db, viewer, { folders: folderIds });
  const perFolder = groupBy(found, (row) => row.of);
  return new Map(
    [...perFolder].flatMap(([id, path]) => {
      const folder = seenAtEnd(path);
      return folder ? [[id, folder] as const] : [];
    }),
  );
}

/** The folder at the end of a path, where it is seen. */
function seenAtEnd(rows: readonly PathRow[]): SeenFolder | null {
  const path = rows.map(({ of: _, owned, rank, ...row }) => ({
    ...row,
    right: owned ? ('own' as const) : RIGHTS[rank]!,
  }));
  const firstHidden = path.findLastIndex((n) => n.right === 'none');
  const seen = path.slice(firstHidden + 1);
  const folder = seen.at(-1);
  if (!folder || folder.right === 'none') return null;
  return {
    ...folder,
    right: folder.right,
    crumbs: seen.map(({ id, title }) => ({ id, title })),
  };
}

/**
 * What folders are called for whoever sees `folder`: the owner knows them all by `titles`, anybody else only those on the
 * way to it that they may know of.
 */
export function whence(
  { right, crumbs }: Pick<SeenFolder, 'right' | 'crumbs'>,
  titles: ReadonlyMap<string, string>,
): (folderId: string) => Whence {
  const known = right === 'own' ? titles : new Map(crumbs.map(({ id, title }) => [id, title]));
  return (id) => {
    const title = known.get(id);
    return title === undefined ? { id: null, title: null } : { id, title };
  };
}
