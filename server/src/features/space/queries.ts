import type { Colour } from '@sammlung/contract';
import { sql } from 'drizzle-orm';
import { rows, type Queries } from '../../db/database.ts';

interface FileRecord extends Record<string, unknown> {
  itemId: string;
  title: string;
  extension: string;
  mediaType: string;
  versions: number;
  placementId: string | null;
  folderId: string | null;
  folderTitle: string | null;
  courseTitle: string | null;
  courseColour: Colour | null;
  yearLabel: string | null;
  contents: { hash: string; size: number }[];
}

/** The files of a person, oldest first, each with one of its places and what that is handed out to. */
export function filesOf(db: Queries, personId: string) {
  return rows<FileRecord>(
    db,
    sql`select i.id as "itemId", i.title, i.extension, v.media_type as "mediaType",
        (select count(*)::int from versions w where w.item_id = i.id) as versions,
        (select json_agg(distinct jsonb_build_object('hash', w.hash, 'size', w.size))
          from versions w where w.item_id = i.id) as contents,
        place.id as "placementId", place.folder_id as "folderId", place.title as "folderTitle",
        place.course as "courseTitle", place.colour as "courseColour", place.year as "yearLabel"
      from items i join versions v on v.id = i.current_version_id
        left join lateral (
          select p.id, p.folder_id, f.title, course.title as course, course.colour,
            coalesce(course.year, (select y.label from folders n join years y on y.id = n.year_id
              where n.id = any (f.path) order by cardinality(n.path) desc limit 1)) as year
          from placements p join folders f on f.id = p.folder_id
            left join lateral (
              select k.title, k.colour, y.label as year
              from grants g left join classes c on c.id = g.class_id
                join courses k on k.id = coalesce(g.course_id, c.course_id) join years y on y.id = k.year_id
              where g.folder_id = any (f.path) and g.taken_back_at is null
              order by y.first_day desc, k.title limit 1) course on true
          where p.item_id = i.id and p.binned_at is null
            and not exists (select from folders n where n.id = any (f.path) and n.binned_at is not null)
          order by course.title is null, p.added_at limit 1) place on true
      where i.owner_id = ${personId}::uuid and i.kind = 'file'
      order by i.created_at, i.id`,
  );
}
