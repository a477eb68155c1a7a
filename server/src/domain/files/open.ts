import type { ItemRow, PlacementView } from '@sammlung/contract';
import { withExtension } from '@sammlung/core';
import { sql } from 'drizzle-orm';
import { type Queries } from '../../db/database.ts';
import { columns } from '../../db/json-sql.ts';
import { AppError } from '../../platform/errors.ts';
import { seesPlacement, waysInTable, viewerStatement, type Viewer } from '../access/access-sql.ts';
import { noteOpenings } from '../openings.ts';
import { ITEM_FIELDS, opened, PREVIEW } from './list.ts';

const onePlacement = viewerStatement<
  ItemRow & {
    folderId: string;
    schoolId: string;
    ownerId: string;
    description: string;
    preview: PlacementView['preview'];
    hash: string | null;
    versionId: string | null;
  }
>(
  (params) => sql`with ${waysInTable(params)}
    select ${columns([...ITEM_FIELDS, opened(params)])}, p.folder_id as "folderId", p.school_id as "schoolId",
      i.owner_id as "ownerId", i.description,
      case when w.hash is not null then json_build_object('state', w.state, 'fault', w.fault, 'shown', w.shown) end as preview,
      v.hash, v.id as "versionId"
    from placements p join folders f on f.id = p.folder_id join items i on i.id = p.item_id
      left join versions v on v.id = i.current_version_id
      ${PREVIEW}
    where p.id = ${sql.placeholder('placement')}::uuid and ${seesPlacement(sql`p`, sql`f`, params)}`,
);

/** A placement the viewer sees, with its content's whereabouts. Throws `not-found` otherwise. */
export async function placementFor(db: Queries, viewer: Viewer, placementId: string) {
  const [found] = await onePlacement(db, viewer, { placement: placementId });
  if (!found) throw new AppError('not-found');
  return found;
}

const content = viewerStatement<{
  schoolId: string;
  placementId: string;
  versionId: string;
  version: number;
  hash: string;
  mediaType: string;
  title: string;
  extension: string;
  page: boolean;
}>(
  (params) => sql`with ${waysInTable(params)}
    select p.school_id as "schoolId", p.id as "placementId", v.id as "versionId", v.number as version, v.hash,
      v.media_type as "mediaType", i.title, i.extension, i.kind = 'page' as page
    from placements p join folders f on f.id = p.folder_id join items i on i.id = p.item_id
      join versions v on v.id = i.current_version_id
    where p.id = ${sql.placeholder('placement')}::uuid and ${seesPlacement(sql`p`, sql`f`, params)}`,
);

/** A file as it goes out: what `storage.open` takes, with its type and name. */
export interface OpenedFile {
  readonly schoolId: string;
  readonly hash: string;
  readonly mediaType: string;
  readonly name: string;
  /** Whether it is a page, which goes out as a document. */
  readonly page: boolean;
}

/**
 * The newest version of a file that the viewer sees: with `of` only if that is its number. With `download` it is noted
 * that they took it. Throws `not-found`, `changed-since`.
 */
export async function openFile(
  db: Queries,
  viewer: Viewer,
  placementId: string,
  { of, download }: { of: number | undefined; download: boolean },
): Promise<OpenedFile> {
  const [found] = await content(db, viewer, { placement: placementId });
  if (!found) throw new AppError('not-found');
  if (of !== undefined && found.version !== of) throw new AppError('changed-since');
  if (download) await noteOpenings(db, viewer, 'downloaded', [found]);
  return {
    schoolId: found.schoolId,
    hash: found.hash,
    mediaType: found.mediaType,
    name: withExtension(found.title, found.page ? 'html' : found.extension),
    page: found.page,
  };
}
