import type { Language, Thing } from '@sammlung/contract';
import { sql } from 'drizzle-orm';
import { at, rows, type Queries } from '../../db/database.ts';
import { accessParams, waysInTable, type Viewer } from '../../domain/access/access-sql.ts';
import { pathTo } from '../../domain/grants.ts';
import { mailLanguage } from '../../domain/people.ts';
import type { Wanted } from '../../domain/requests.ts';
import { notOver } from '../../domain/spans.ts';

export type AtAddress = Wanted & {
  ownerId: string;
  ownerName: string;
  forWhom: string[] | null;
  mine: boolean;
};

/** What is at a school address, in the same school and not in the Bin; `mine`: it was handed out to the viewer. */
export async function atAddress(
  db: Queries,
  viewer: Viewer,
  schoolId: string,
  { kind, id }: Thing,
): Promise<AtAddress | null> {
  const params = accessParams(viewer);
  const [found] = await rows<AtAddress>(
    db,
    sql`with ${waysInTable(params)},
      target as (
        select f.id as folder_id, null::uuid as item_id, f.path, f.owner_id from folders f
          where ${kind} = 'folder' and f.id = ${id}::uuid and f.school_id = ${schoolId}::uuid
        union all
        select null, p.item_id, f.path, f.owner_id from placements p join folders f on f.id = p.folder_id
          where ${kind} = 'placement' and p.id = ${id}::uuid and p.school_id = ${schoolId}::uuid
            and p.binned_at is null),
      handed as (
        select g.audience_kind, g.audience_id, coalesce(c.code, k.title) as label
        from target t join grants g on g.taken_back_at is null and ${notOver(sql`g`, at(viewer.at))}
            and (g.folder_id = any (t.path) or g.item_id = t.item_id)
          left join classes c on c.id = g.class_id left join courses k on k.id = g.course_id)
      select t.folder_id as "folderId", t.item_id as "itemId", t.owner_id as "ownerId", o.name as "ownerName",
        (select json_agg(distinct label) from handed where label is not null) as "forWhom",
        exists (select from handed h join ways_in on ways_in.kind = h.audience_kind::text and ways_in.id = h.audience_id) as mine
      from target t join people o on o.id = t.owner_id
      where not exists (select from folders n where n.id = any (t.path) and n.binned_at is not null)`,
  );
  return found ?? null;
}

export type RequestTo = Wanted & {
  /** Null for a visitor, to whom the answer goes by name and email. */
  personId: string | null;
  visitorName: string | null;
  email: string | null;
  language: Language | null;
  answer: string | null;
  title: string;
  path: string;
};

/** A request for something that is the person's own, locked until the transaction ends; null where there is none. */
export async function requestTo(
  tx: Queries,
  ownerId: string,
  requestId: string,
): Promise<RequestTo | null> {
  const [found] = await rows<RequestTo>(
    tx,
    sql`select r.person_id as "personId", r.visitor_name as "visitorName",
        coalesce(p.email, r.visitor_email) as email, coalesce(${mailLanguage(sql`p`)}, r.visitor_language) as language, r.folder_id as "folderId", r.item_id as "itemId", r.answer,
        coalesce(f.title, i.title) as title,
        ${pathTo(sql`f`, sql`i`)} as path
      from requests r left join people p on p.id = r.person_id
        left join folders f on f.id = r.folder_id left join items i on i.id = r.item_id
      where r.id = ${requestId}::uuid and coalesce(f.owner_id, i.owner_id) = ${ownerId}::uuid for update of r`,
  );
  return found ?? null;
}

/** Whether somebody belongs to a class that is there, now or later. */
export async function belongsTo(
  tx: Queries,
  classId: string,
  personId: string,
  t: number,
): Promise<boolean> {
  const [member] = await rows(
    tx,
    sql`select m.id from memberships m join classes c on c.id = m.class_id
      where m.class_id = ${classId}::uuid and m.person_id = ${personId}::uuid and c.removed_at is null
        and ${notOver(sql`m`, at(t))}`,
  );
  return member !== undefined;
}
