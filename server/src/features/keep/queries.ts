import type { KeptThing } from '@sammlung/contract';
import { sql } from 'drizzle-orm';
import type { Queries } from '../../db/database.ts';
import { statement } from '../../db/statement.ts';
import {
  waysInTable,
  openWaysIn,
  rightIn,
  seesPlacement,
  viewerStatement,
} from '../../domain/access/access-sql.ts';

type KeptRecord = Omit<KeptThing, 'token' | 'ownerName'> & {
  doorId: string | null;
  ownerName: string | null;
  /** What it was called when it was last seen. */
  knownTitle: string;
  knownMark: string | null;
  [key: string]: unknown;
};

/**
 * What a person keeps, in their order, each with where it is seen now. A door that stands open for them is among
 * `doorIds`; what was kept at another one is seen only if it comes to them otherwise.
 */
export const keptBy = (db: Queries, personId: string, doorIds: readonly string[], t: number) =>
  keptStatement(db, { personId, doorIds, at: t }, {});
const keptStatement = viewerStatement<KeptRecord>(
  (params) => sql`with ${waysInTable(params)}
      select kept.id, kept.door_id as "doorId", kept.title as "knownTitle", kept.mark as "knownMark",
        o.name as "ownerName", coalesce(i.kind::text, case when kept.class_id is null then 'folder' else 'class' end) as kind,
        coalesce(i.title, f.title, c.code || ' ' || course.title) as title,
        case when kept.folder_id is not null then f.mark end as mark, coalesce(i.extension, '') as extension,
        case when kept.folder_id is not null and ${rightIn(sql`f`, params)} > 0 then f.id end as "folderId",
        place.id as "placementId", case when place.id is not null then i.url end as url,
        case when exists (select from ways_in k where k.kind = 'class' and k.id = kept.class_id) then kept.class_id end as "classId",
        coalesce((
          select json_agg(distinct jsonb_build_object('id', by.id, 'code', by.code, 'colour', by.colour))
          from classes by where by.id = c.id or by.id in (
            select k.reading from ${openWaysIn(sql`f.path`, params)} k where k.rank > 0)), '[]') as classes
      from kept
        left join items i on i.id = kept.item_id
        left join lateral (
          select p.id, p.folder_id from placements p join folders f on f.id = p.folder_id
          where p.item_id = kept.item_id and ${seesPlacement(sql`p`, sql`f`, params)} limit 1) place on true
        left join folders f on f.id = coalesce(kept.folder_id, place.folder_id)
        left join classes c on c.id = kept.class_id
        left join courses course on course.id = c.course_id
        left join people o on o.id = coalesce(i.owner_id, f.owner_id)
      where kept.person_id = ${params.me}
      order by kept.position, kept.created_at desc`,
);

/** The doors at which a person keeps something, at the address that they had then. */
export const doorsKept = (db: Queries, personId: string) =>
  doorsStatement(db, { person: personId });
const doorsStatement = statement<{ token: string; wordHash: string | null }>(
  () => sql`select kept.door_token as token, kept.door_word_hash as "wordHash"
    from kept join doors on doors.id = kept.door_id and doors.token = kept.door_token
    where kept.person_id = ${sql.placeholder('person')}::uuid`,
);
