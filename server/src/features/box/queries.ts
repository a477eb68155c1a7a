import type {
  Box,
  GivenCopies,
  OwnBox,
  Place,
  PlaceRow,
  PlaceThing,
  TaughtBox,
} from '@sammlung/contract';
import { PLACE_SHOWS } from '@sammlung/contract';
import { sql, type SQL } from 'drizzle-orm';
import { at, iso, rows, uuids, type Queries } from '../../db/database.ts';
import { columns } from '../../db/json-sql.ts';
import { accessParams, type Viewer } from '../../domain/access/access-sql.ts';
import { KEPT_MS } from '../../domain/bin.ts';
import { CHANGED, ITEM_FIELDS, opened, PREVIEW } from '../../domain/files/list.ts';
import { unreadRemarks } from '../../domain/remarks.ts';
import { inSpan } from '../../domain/spans.ts';

const YEAR_CLOSED = sql`exists (select from years o where o.id = c.year_id and o.closed_at is not null)`;

/** Which boxes are listed: those that are closed, also by their year, or all of years that are open. */
export type Listed = 'ended' | 'current';
const listed = (which: Listed) =>
  which === 'ended' ? sql`(b.closed_at is not null or ${YEAR_CLOSED})` : sql`not ${YEAR_CLOSED}`;

/** How a box `b` of class `c` stands at `t`, as the API has it. */
const boxColumns = (t: SQL) => sql`b.id, c.id as "classId", c.code, c.colour, b.title, b.text,
  ${iso(sql`b.ends_at`)} as "endsAt", b.takes_late as "takesLate",
  ${iso(sql`(b.cleared_at + make_interval(secs => ${KEPT_MS / 1000}))`)} as "goesAt",
  case when b.closed_at is not null or ${YEAR_CLOSED} then 'closed' when b.ends_at is null or b.ends_at > ${t} then 'open'
    when b.takes_late then 'late' else 'ended' end as state`;

/** When a teacher of the course of `c` first opened version `p` where it is; null while none has. */
const firstSeen = (
  c: SQL,
) => sql`(select min(o.at) from openings o join course_teachers y on y.person_id = o.person_id
  where y.course_id = ${c}.course_id and o.placement_id = p.id and o.version_id is not distinct from p.version_id and o.kind <> 'marked')`;

/** The titles of the folders from below the place down to `f`. */
const pathBelow = sql`array(select n.title from folders n where n.id = any (f.path[2:]) order by cardinality(n.path))`;
const notBinned = sql`not exists (select from folders n where n.id = any (f.path) and n.binned_at is not null)`;

/** Whether the placement `p` of item `i` in version `v` is work of the student of the place `l`, and not what they were given and have not worked on. */
const ownWork = sql`(coalesce(v.created_by, p.added_by) = l.person_id)`;

/**
 * `summed(place_id, files, last, late, seen, fresh, remarks)`, a common table expression: what is in the places `l` of the boxes `b` that the
 * condition `which` names. Of what students have put there: how much, when the last of it came, whether some was late, when a teacher first
 * looked at the last of it (null while some is unseen), and how much the person `me` has not opened. And how many remarks `me` has not read.
 */
const summedTable = (which: SQL, me: SQL) => sql`those as materialized (
    select l.folder_id, l.person_id, b.ends_at, c.course_id
    from places l join boxes b on b.id = l.box_id join classes c on c.id = b.class_id where ${which}),
  things as materialized (
    select l.folder_id as place_id, l.ends_at, ${CHANGED} as changed, ${ownWork} as own, ${firstSeen(sql`l`)} as seen,
      not exists (select from openings o where o.person_id = ${me} and o.placement_id = p.id
        and o.version_id is not distinct from p.version_id) as fresh, ${unreadRemarks(sql`p`, me)} as remarks
    from those l join folders f on f.in_place and f.path[1] = l.folder_id join placements p on p.folder_id = f.id
      left join versions v on v.id = p.version_id
    where p.binned_at is null and ${notBinned}),
  summed as materialized (
    select place_id, (count(*) filter (where own))::int as files, max(changed) filter (where own) as last,
      coalesce(bool_or(own and changed >= ends_at), false) as late,
      case when bool_and(seen is not null) filter (where own) then max(seen) filter (where own) end as seen,
      (count(*) filter (where own and fresh))::int as fresh, sum(remarks)::int as remarks
    from things group by place_id)`;

const handedIn = sql`coalesce(x.files, 0) as files, ${iso(sql`x.last`)} as "handedInAt", coalesce(x.late, false) as late`;

/** Whether the student of the place `l` may add at `t`. */
const mayAdd = (
  t: SQL,
) => sql`exists (select from grants g where g.folder_id = l.folder_id and g.of_place
  and g.level = 'add' and g.taken_back_at is null and ${inSpan(sql`g`, t)})`;

/** The boxes in which a person has a place: what ends first comes first. */
export function ownBoxes(
  db: Queries,
  personId: string,
  t: number,
  which: Listed,
): Promise<OwnBox[]> {
  const me = sql`${personId}::uuid`;
  return rows(
    db,
    sql`with ${summedTable(sql`l.person_id = ${me} and b.removed_at is null`, me)}
      select ${boxColumns(at(t))}, l.folder_id as "placeId", ${mayAdd(at(t))} as "mayAdd", ${handedIn}, ${iso(sql`x.seen`)} as "seenAt",
        coalesce(x.remarks, 0) as remarks
      from places l join boxes b on b.id = l.box_id join classes c on c.id = b.class_id
        left join summed x on x.place_id = l.folder_id
      where l.person_id = ${me} and b.removed_at is null and ${listed(which)}
      order by b.closed_at is not null, b.ends_at nulls last, b.title collate natural_order, b.id`,
  );
}

/** The boxes of the classes that a person teaches, or only these of them. */
export function taughtBoxes(
  db: Queries,
  personId: string,
  t: number,
  which: Listed | { ids: readonly string[] },
): Promise<TaughtBox[]> {
  const me = sql`${personId}::uuid`;
  const wanted = typeof which === 'string' ? listed(which) : sql`b.id = any (${uuids(which.ids)})`;
  const taught = sql`b.removed_at is null and c.removed_at is null and ${wanted}
    and exists (select from course_teachers y where y.course_id = c.course_id and y.person_id = ${me})`;
  return rows(
    db,
    sql`with ${summedTable(taught, me)}
      select ${boxColumns(at(t))}, x.*
      from boxes b join classes c on c.id = b.class_id
        cross join lateral (
          select count(*)::int as students, (count(*) filter (where x.files > 0))::int as "handedIn",
            (count(*) filter (where x.fresh + x.remarks > 0))::int as fresh
          from places l left join summed x on x.place_id = l.folder_id where l.box_id = b.id) x
      where ${taught}
      order by b.closed_at is not null, b.ends_at nulls last, b.title collate natural_order, c.code collate natural_order, b.id`,
  );
}

/** The places of a box with what has been handed in, in no order; what is new in them is that for `personId`. */
export function placesIn(
  db: Queries,
  boxId: string,
  personId: string,
  t: number,
): Promise<Omit<PlaceRow, 'familyName'>[]> {
  const inBox = sql`b.id = ${boxId}::uuid`;
  return rows(
    db,
    sql`with ${summedTable(inBox, sql`${personId}::uuid`)}
      select l.folder_id as "placeId", s.id as "personId", s.name, ${handedIn}, coalesce(x.fresh + x.remarks, 0) as fresh,
        exists (select from memberships m where m.class_id = b.class_id and m.person_id = s.id and ${inSpan(sql`m`, at(t))}) as member
      from places l join boxes b on b.id = l.box_id join people s on s.id = l.person_id left join summed x on x.place_id = l.folder_id
      where ${inBox}`,
  );
}

/** Whether a student has put something into a place of a box. */
export async function hasWork(db: Queries, boxId: string): Promise<boolean> {
  const [found] = await rows<{ files: number }>(
    db,
    sql`with ${summedTable(sql`b.id = ${boxId}::uuid`, sql`null::uuid`)} select coalesce(sum(files), 0)::int as files from summed`,
  );
  return found!.files > 0;
}

/** A place with its box; null where there is none. Whoever asks has been let in. */
export async function placeById(
  db: Queries,
  placeId: string,
  t: number,
): Promise<(Omit<Place, 'box' | 'own' | 'things'> & { box: Box }) | null> {
  const [found] = await rows<
    Box & { placeId: string; personId: string; name: string; mayAdd: boolean }
  >(
    db,
    sql`select ${boxColumns(at(t))}, l.folder_id as "placeId", s.id as "personId", s.name, ${mayAdd(at(t))} as "mayAdd"
      from places l join boxes b on b.id = l.box_id join classes c on c.id = b.class_id join people s on s.id = l.person_id
      where l.folder_id = ${placeId}::uuid and b.removed_at is null`,
  );
  if (!found) return null;
  const { placeId: id, personId, name, mayAdd: adds, ...box } = found;
  return { placeId: id, personId, name, mayAdd: adds, box };
}

/** All that is in a place for somebody who sees it: what is at the top first, each folder from A to Z. */
export function thingsIn(db: Queries, viewer: Viewer, placeId: string): Promise<PlaceThing[]> {
  const params = accessParams(viewer);
  return rows(
    db,
    sql`select ${columns([...ITEM_FIELDS, opened(params)])}, f.id as "folderId", ${pathBelow} as path,
        ${ownWork} as own, d.name as by,
        coalesce(${CHANGED} >= b.ends_at, false) and ${ownWork} as late,
        ${iso(firstSeen(sql`c`))} as "seenAt", json_build_object(
          'count', (select count(*) from remarks r where r.placement_id = p.id and r.removed_at is null),
          'fresh', ${unreadRemarks(sql`p`, params.me)}) as remarks
      from folders f join places l on l.folder_id = f.path[1] join boxes b on b.id = l.box_id join classes c on c.id = b.class_id
        join placements p on p.folder_id = f.id and p.binned_at is null join items i on i.id = p.item_id
        left join versions v on v.id = i.current_version_id ${PREVIEW}
        join people d on d.id = coalesce(v.created_by, p.added_by)
      where f.in_place and f.path[1] = ${placeId}::uuid and ${notBinned}
      order by cardinality(f.path) > 1, ${pathBelow} collate natural_order, i.title collate natural_order, p.id limit ${PLACE_SHOWS}`,
  );
}

/** What the students of a box have been given copies of, with how many have one and have opened it; the last one first. */
export function copiesIn(db: Queries, boxId: string): Promise<GivenCopies[]> {
  return rows(
    db,
    sql`select c.id, i.title, ${iso(sql`c.created_at`)} as at, s.name as by, x.given, x.opened
      from box_copies c left join items i on i.id = c.item_id join people s on s.id = c.created_by
        cross join lateral (select count(*)::int as given, (count(*) filter (where opened))::int as opened from (${copiesOf}) k) x
      where c.box_id = ${boxId}::uuid and c.taken_back_at is null
      order by c.created_at desc, c.id`,
  );
}

/** The placements of the copies `c`, and whether the student has opened or worked on each. */
const copiesOf = sql`select p.id, (v.created_by = l.person_id or exists (
      select from openings o where o.placement_id = p.id and o.person_id = l.person_id)) as opened
  from places l join folders f on f.in_place and f.path[1] = l.folder_id join placements p on p.folder_id = f.id and p.binned_at is null
    join items k on k.id = p.item_id join versions v on v.id = k.current_version_id
  where l.box_id = c.box_id and k.copy_of_item_id = c.item_id and p.added_by = c.created_by`;

/** The placements of copies, and whether the student has opened or worked on each. */
export function placementsOfCopies(
  db: Queries,
  copiesId: string,
): Promise<{ id: string; opened: boolean }[]> {
  return rows(
    db,
    sql`select k.* from box_copies c cross join lateral (${copiesOf}) k where c.id = ${copiesId}::uuid`,
  );
}
