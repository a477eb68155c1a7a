import { sql, type SQL } from 'drizzle-orm';
import { at, uuids, type Queries } from '../../db/database.ts';
import { statement, type Gathering } from '../../db/statement.ts';
import { inSpan, notOver } from '../spans.ts';

/**
 * The access rule of core/access, in SQL. Every query that shows somebody something is put together from these
 * parts and nowhere else; a property test holds the answers equal to core's on random schools. Names inside the parts
 * end in a low line, so that they cannot be taken for those of the query they are put into.
 */

/** Who sees something, when, and in what way. */
export interface Viewer {
  readonly personId: string | null;
  /** The doors whose tokens were shown. */
  readonly doorIds: readonly string[];
  /** What tells somebody who is not known from others, for counting them once; null for a program, which does not count. */
  readonly visitor?: string | null;
  /** The instant as of which it is seen, in milliseconds. */
  readonly at: number;
  /** Sees what any member of this class would, without being one. */
  readonly asClass?: string;
  /** Sees nothing but what is in the library of this person. */
  readonly only?: string;
}

/** A viewer as the statements that decide about access need them. */
export interface AccessParams {
  readonly me: SQL;
  readonly doors: SQL;
  readonly asClass: SQL;
  readonly only: SQL;
  readonly t: SQL;
  /** For people who have signed in and see as themselves: a statement has no more parts than they need. */
  readonly own: boolean;
}

const seesAsThemselves = ({ doorIds, asClass, only }: Viewer) =>
  doorIds.length === 0 && asClass === undefined && only === undefined;

/** For a statement that is put together for one viewer. */
export function accessParams(viewer: Viewer): AccessParams {
  return {
    me: sql`${viewer.personId}::uuid`,
    doors: uuids(viewer.doorIds),
    asClass: sql`${viewer.asClass ?? null}::uuid`,
    only: sql`${viewer.only ?? null}::uuid`,
    t: at(viewer.at),
    own: seesAsThemselves(viewer),
  };
}

const PLACEHOLDERS: AccessParams = {
  me: sql`${sql.placeholder('me')}::uuid`,
  doors: sql`${sql.placeholder('doors')}::uuid[]`,
  asClass: sql`${sql.placeholder('asClass')}::uuid`,
  only: sql`${sql.placeholder('only')}::uuid`,
  t: sql`${sql.placeholder('t')}::timestamptz`,
  own: false,
};
const OWN_PLACEHOLDERS: AccessParams = { ...PLACEHOLDERS, own: true };

/** A `statement` that shows a viewer something. */
export function viewerStatement<T extends Record<string, unknown>>(
  build: (params: AccessParams) => SQL,
  gathering?: Gathering,
) {
  const own = statement<T>(() => build(OWN_PLACEHOLDERS), gathering);
  const any = statement<T>(() => build(PLACEHOLDERS), gathering);
  return (db: Queries, viewer: Viewer, values: Record<string, unknown>): Promise<T[]> => {
    const run = seesAsThemselves(viewer) ? own : any;
    return run(db, {
      me: viewer.personId,
      doors: viewer.doorIds,
      asClass: viewer.asClass ?? null,
      only: viewer.only ?? null,
      t: new Date(viewer.at).toISOString(),
      ...values,
    });
  };
}

/**
 * `ways_in(kind, id, reading, exempt)`, a common table expression: the audiences to which the viewer belongs, each with the
 * class whose releases are read on that way (`reading`) and whether releases matter to it. As `waysIn` in core; but all doors are one way,
 * whose ids are `doors`, since nothing else tells them apart, and the website of a class may have hundreds. For people who see as
 * themselves there is no such column.
 */
export function waysInTable({ me, doors, asClass, t, own }: AccessParams): SQL {
  const others = sql`
    union all
    select v.kind, v.id, v.reading, false, null
      from classes c join years y on y.id = c.year_id,
        lateral (values ('class', c.id, c.id), ('course', c.course_id, c.id), ('school', c.school_id, null)) v (kind, id, reading)
      where c.id = ${asClass} and (y.closed_at is null or v.kind = 'school')
    union all
    select 'door', null, null, false, array_agg(d.id)
      from doors d where d.id = any (${doors})
      and (d.kind = 'public' or d.school_id = (select school_id from people where id = ${me}))
      having count(*) > 0`;
  return sql`ways_in as materialized (
    select v.kind, v.id, null::uuid as reading, v.exempt ${own ? sql`` : sql`, null::uuid[] as doors`}
      from people p, lateral (values
        ('person', p.id, p.kind <> 'student'), ('staff', p.school_id, true), ('school', p.school_id, false)) v (kind, id, exempt)
      where p.id = ${me} and (v.kind <> 'staff' or p.kind <> 'student')
    union all
    select 'teachers', c.id, null, true ${own ? sql`` : sql`, null`}
      from course_teachers y join classes c on c.course_id = y.course_id where y.person_id = ${me} and c.removed_at is null
    union all
    select v.kind, v.id, m.class_id, false ${own ? sql`` : sql`, null`}
      from memberships m join classes c on c.id = m.class_id join years y on y.id = c.year_id and y.closed_at is null,
      lateral (values ('class', c.id), ('course', c.course_id)) v (kind, id)
      where m.person_id = ${me} and ${inSpan(sql`m`, t)}${own ? sql`` : others})`;
}

/** What is handed out. */
const handings = ({ own }: AccessParams) =>
  own ? sql`(select * from handings_out where audience_kind <> 'door')` : sql`handings_out`;

/**
 * The ways in that lead through every folder of `path` (an array of ids), with `rank`: 0 when nothing on the path was
 * handed out to them, else 1 view, 2 add, 3 manage. Needs `ways_in`.
 */
export function openWaysIn(path: SQL, params: AccessParams): SQL {
  return sql`(
    select way_.*, coalesce((
        select max(case when not (way_.exempt or handed_.of_place) then 1 when handed_.level = 'manage' then 3 when handed_.level = 'add' then 2 else 1 end)
        from ${handings(params)} handed_
        where handed_.folder_id = any (${path}) and ${handedTo(sql`handed_`, sql`way_`, params)}
      ), 0) as rank
    from ways_in way_
    where not exists (select from ${nodesOn(path, sql`way_`)} and ${shutAt(sql`way_`, params)}))`;
}

/** The year of folder `node_`, and its release for the class of the way in `k`. */
const nodeState = (k: SQL) => sql`left join years year_ on year_.id = node_.year_id
  left join class_releases release_ on release_.folder_id = node_.id and release_.class_id = ${k}.reading`;

/** The folders on `path`, with those. */
const nodesOn = (path: SQL, k: SQL) =>
  sql`folders node_ ${nodeState(k)} where node_.id = any (${path})`;

/** Whether a folder of `nodesOn` lets nobody through who comes on the way in `k`. */
const shutAt = (k: SQL, { only, t, own }: AccessParams) =>
  sql`(node_.binned_at is not null ${own ? sql`` : sql`or (${only} is not null and node_.owner_id is distinct from ${only})`} or not (${k}.exempt or (year_.closed_at is null and ${out(sql`node_`, t)})))`;

/**
 * Whether the way in `k` is `shut` somewhere on `path`, and since when all that is on it has been out by its releases
 * (`opened_at`; null where none says).
 */
export function pathState(path: SQL, k: SQL, params: AccessParams): SQL {
  return sql`(select coalesce(bool_or(${shutAt(k, params)}), false) as shut, max(${outSince(sql`node_`, sql`release_`)}) as opened_at
    from ${nodesOn(path, k)})`;
}

/** Whether placement `p` lets the open way in `k` see it: it is out, and something above it or its item is handed out. */
export function placementOpens(p: SQL, k: SQL, params: AccessParams): SQL {
  const { t } = params;
  return sql`(${p}.binned_at is null
    and (${k}.exempt or (
      select ${out(p, t)} from (select) one_
      left join class_releases release_ on release_.placement_id = ${p}.id and release_.class_id = ${k}.reading))
    and (${k}.rank > 0 or exists (
      select from ${handings(params)} handed_
      where handed_.item_id = ${p}.item_id and ${handedTo(sql`handed_`, k, params)})))`;
}

/** Whether the viewer owns folder `f`, and neither it nor anything above lies in the Bin. */
export function ownsFolder(f: SQL, { me, only, own }: AccessParams): SQL {
  return sql`(${f}.owner_id = ${me} ${own ? sql`` : sql`and ${f}.owner_id = coalesce(${only}, ${f}.owner_id)`} and not exists (
    select from folders node_ where node_.id = any (${f}.path) and node_.binned_at is not null))`;
}

/** What the viewer may do in folder `f`: 0 nothing, 1 view, 2 add, 3 manage, 4 own. Needs `ways_in`. */
export function rightIn(f: SQL, params: AccessParams): SQL {
  return sql`(case
    when ${f}.owner_id = ${params.me} then case when ${ownsFolder(f, params)} then 4 else 0 end
    else (select coalesce(max(open_.rank), 0) from ${openWaysIn(sql`${f}.path`, params)} open_) end)`;
}

/** Whether the viewer sees placement `p` in folder `f`. Needs `ways_in`. */
export function seesPlacement(p: SQL, f: SQL, params: AccessParams): SQL {
  return sql`(case
    when ${f}.owner_id = ${params.me} then ${p}.binned_at is null and ${ownsFolder(f, params)}
    else exists (select from ${openWaysIn(sql`${f}.path`, params)} open_ where ${placementOpens(p, sql`open_`, params)}) end)`;
}

/**
 * `handed(folder_id, item_id, level, kind, way_id, reading, exempt, since)`, a common table expression: what is handed out to
 * the viewer, on each way in. Whoever looks for what somebody sees begins here, so that the work grows with that and not with the school.
 * Needs `ways_in`.
 */
export function handedTable(params: AccessParams): SQL {
  // Each door by itself: what is handed out is found by it.
  const ways = params.own
    ? sql`ways_in`
    : sql`(select kind, id, reading, exempt from ways_in where doors is null
        union all select kind, unnest(doors), reading, exempt from ways_in where doors is not null)`;
  return sql`handed as (
    select h.folder_id, h.item_id, h.level, k.kind, k.id as way_id, k.reading, k.exempt, greatest(h.created_at, h.from_at) as since
    from ${ways} k join ${handings(params)} h
      on h.audience_kind = k.kind and h.audience_id = k.id and ${inSpan(sql`h`, params.t)})`;
}

/**
 * `walked(folder_id, title, path, owner_id, kind, way_id, reading, exempt, since, opened_at)`, a recursive common table
 * expression: the folders below those of `roots` (rows of `handed`) to which their ways in lead, once for each root that lies
 * above; with when that was handed out (`since`) and since when all on the path has been out (`opened_at`). It goes down from
 * the roots, since most folders say nothing of their own: what lies above is looked at once.
 */
export function walkedTable(roots: SQL, params: AccessParams): SQL {
  return sql`walked as (
    select root_.id as folder_id, root_.title, root_.path, root_.owner_id, o.kind, o.way_id, o.reading, o.exempt, o.since, state.opened_at
    from ${roots} o join folders root_ on root_.id = o.folder_id
      cross join lateral ${pathState(sql`root_.path`, sql`o`, params)} state
    where not state.shut
    union all
    select node_.id, node_.title, node_.path, node_.owner_id, k.kind, k.way_id, k.reading, k.exempt, k.since,
      greatest(k.opened_at, ${outSince(sql`node_`, sql`release_`)})
    from walked k join folders node_ on node_.parent_id = k.folder_id ${nodeState(sql`k`)}
    where not ${shutAt(sql`k`, params)})`;
}

/** Whether placement `p` is out on the way in `k`, by the release of a class in `release_` where there is one, else by its own. */
export function placementOut(p: SQL, k: SQL, { t }: AccessParams): SQL {
  return sql`(${p}.binned_at is null and (${k}.exempt or ${out(p, t)}))`;
}

/** The folders of `ownerId` that are handed out at `t` or will be, as an array of ids. */
export function foldersHandedOut(ownerId: SQL, t: SQL): SQL {
  return sql`(
    select array_agg(handed_.folder_id) from handings_out handed_ join folders node_ on node_.id = handed_.folder_id
    where node_.owner_id = ${ownerId} and ${notOver(sql`handed_`, t)})`;
}

/** Whether something on `path` is handed out to an audience, whenever that may be. */
export function handedToAudience(path: SQL, audienceId: string): SQL {
  return sql`exists (select from handings_out handed_
    where handed_.audience_id = ${audienceId}::uuid and handed_.folder_id = any (${path}))`;
}

/** The classes to which something on `path`, or the item, is handed out, by themselves or with their course: their ids. */
export function classesHanded(path: SQL, itemId: SQL): SQL {
  return sql`(select class_.id from handings_out handed_ join classes class_ on class_.removed_at is null
      and handed_.audience_id = case handed_.audience_kind when 'class' then class_.id when 'course' then class_.course_id end
    where handed_.folder_id = any (${path}) or handed_.item_id = ${itemId})`;
}

/** Whether the handing out `h` is, at `t`, to the audience of the way in `k`. */
function handedTo(h: SQL, k: SQL, { t, own }: AccessParams): SQL {
  const toIt = own
    ? sql`${h}.audience_id = ${k}.id`
    : sql`(${h}.audience_id = ${k}.id or ${h}.audience_id = any (${k}.doors))`;
  return sql`(${h}.audience_kind = ${k}.kind and ${toIt} and ${inSpan(h, t)})`;
}

/** Since when a node, if it is out, is out by its release: that of a class in `release` where there is one, else its own. */
export function outSince(node: SQL, release: SQL): SQL {
  return sql`(case when ${release}.id is null then ${node}.from_at else ${release}.from_at end)`;
}

/** Whether a node is out, by the release of a class in `release_` where there is one, else by its own. */
function out(node: SQL, t: SQL): SQL {
  return sql`(case when release_.id is null then not ${node}.held and ${inSpan(node, t)} else not release_.held and ${inSpan(sql`release_`, t)} end)`;
}
