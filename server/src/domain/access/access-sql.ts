import { sql, type SQL } from 'drizzle-orm';
import { at, uuids } from '../../db/database.ts';

/**
 * The access rule of core/access, in SQL. Every query that shows somebody something is put together from these
 * parts and nowhere else; a property test holds the answers equal to core's on random schools. Names inside the parts
 * end in a low line, so that they cannot be taken for those of the query they are put into.
 */

/** Whoever asks, with the doors whose tokens were shown. */
export interface Asker {
  readonly personId: string | null;
  readonly doorIds: readonly string[];
  /** Asks as any member of this class would, without being one. */
  readonly asClass?: string;
  /** Sees nothing but what lies in the library of this person. */
  readonly only?: string;
}

/** Who asks and when, as it stands in a statement. */
export interface Ask {
  readonly me: SQL;
  readonly doors: SQL;
  readonly asClass: SQL;
  readonly only: SQL;
  readonly t: SQL;
}

/** For a statement that is put together for one question. */
export function asking(asker: Asker, t: number): Ask {
  return {
    me: sql`${asker.personId}::uuid`,
    doors: uuids(asker.doorIds),
    asClass: sql`${asker.asClass ?? null}::uuid`,
    only: sql`${asker.only ?? null}::uuid`,
    t: at(t),
  };
}

/** For a statement that is put together once; `askValues` has the values of its placeholders. */
export const ASK: Ask = {
  me: sql`${sql.placeholder('me')}::uuid`,
  doors: sql`${sql.placeholder('doors')}::uuid[]`,
  asClass: sql`${sql.placeholder('asClass')}::uuid`,
  only: sql`${sql.placeholder('only')}::uuid`,
  t: sql`${sql.placeholder('t')}::timestamptz`,
};

export function askValues(asker: Asker, t: number) {
  return {
    me: asker.personId,
    doors: [...asker.doorIds],
    asClass: asker.asClass ?? null,
    only: asker.only ?? null,
    t: new Date(t).toISOString(),
  };
}

/** `keys(kind, id, reading, exempt)`, a common table expression: the twin of core's `keysOf`. */
export function keysTable({ me, doors, asClass, t }: Ask): SQL {
  return sql`keys as materialized (
    select 'person' as kind, p.id, null::uuid as reading, p.kind <> 'student' as exempt
      from people p where p.id = ${me}
    union all
    select v.kind, v.id, m.class_id, false
      from memberships m join classes c on c.id = m.class_id,
      lateral (values ('class', c.id), ('course', c.course_id)) v (kind, id)
      where m.person_id = ${me} and ${within(sql`m`, t)}
    union all
    select v.kind, p.school_id, null, v.kind = 'staff'
      from people p, lateral (values ('staff'), ('school')) v (kind)
      where p.id = ${me} and (v.kind = 'school' or p.kind <> 'student')
    union all
    select v.kind, v.id, v.reading, false
      from classes c, lateral (values ('class', c.id, c.id), ('course', c.course_id, c.id), ('school', c.school_id, null)) v (kind, id, reading)
      where c.id = ${asClass}
    union all
    select 'door', d.id, null, false
      from doors d where d.id = any (${doors})
      and (d.kind = 'public' or d.school_id = (select school_id from people where id = ${me})))`;
}

/**
 * The keys that come through every folder of `path` (an array of ids), with `rank`: 0 when nothing on the path was
 * handed out to them, else 1 view, 2 add, 3 manage. Needs `keys`.
 */
export function openKeys(path: SQL, ask: Ask): SQL {
  const { only, t } = ask;
  return sql`(
    select key_.*, coalesce((
        select max(case when not key_.exempt then 1 when handed_.level = 'manage' then 3 when handed_.level = 'add' then 2 else 1 end)
        from handings_out handed_
        where handed_.folder_id = any (${path}) and ${handedTo(sql`handed_`, sql`key_`, ask)}
      ), 0) as rank
    from keys key_
    where not exists (
      select from folders node_
      left join years year_ on year_.id = node_.year_id
      left join class_releases release_ on release_.folder_id = node_.id and release_.class_id = key_.reading
      where node_.id = any (${path})
        and (node_.binned_at is not null or node_.owner_id <> ${only} or not (key_.exempt or (year_.closed_at is null and ${out(sql`node_`, t)})))))`;
}

/** Whether placement `p` lets the open key `k` see it: it is out, and something above it or its item is handed out. */
export function placementOpens(p: SQL, k: SQL, ask: Ask): SQL {
  const { t } = ask;
  return sql`(${p}.binned_at is null
    and (${k}.exempt or (
      select ${out(p, t)} from (select) one_
      left join class_releases release_ on release_.placement_id = ${p}.id and release_.class_id = ${k}.reading))
    and (${k}.rank > 0 or exists (
      select from handings_out handed_
      where handed_.item_id = ${p}.item_id and ${handedTo(sql`handed_`, k, ask)})))`;
}

/** Whether the asker owns folder `f`, and neither it nor anything above lies in the Bin. */
export function ownsFolder(f: SQL, { me, only }: Ask): SQL {
  return sql`(${f}.owner_id = ${me} and ${f}.owner_id = coalesce(${only}, ${f}.owner_id) and not exists (
    select from folders node_ where node_.id = any (${f}.path) and node_.binned_at is not null))`;
}

/** What the asker may do in folder `f`: 0 nothing, 1 view, 2 add, 3 manage, 4 own. Needs `keys`. */
export function rightIn(f: SQL, ask: Ask): SQL {
  return sql`(case
    when ${f}.owner_id = ${ask.me} then case when ${ownsFolder(f, ask)} then 4 else 0 end
    else (select coalesce(max(open_.rank), 0) from ${openKeys(sql`${f}.path`, ask)} open_) end)`;
}

/** Whether the asker sees placement `p` in folder `f`. Needs `keys`. */
export function seesPlacement(p: SQL, f: SQL, ask: Ask): SQL {
  return sql`(case
    when ${f}.owner_id = ${ask.me} then ${p}.binned_at is null and ${ownsFolder(f, ask)}
    else exists (select from ${openKeys(sql`${f}.path`, ask)} open_ where ${placementOpens(p, sql`open_`, ask)}) end)`;
}

/** Whether the handing out `h` is, at `t`, to the audience of key `k`. */
export function handedTo(h: SQL, k: SQL, { t }: Ask): SQL {
  return sql`(${h}.audience_kind = ${k}.kind and ${h}.audience_id = ${k}.id and ${within(h, t)})`;
}

/** Whether `t` lies in the span of a row. */
function within(row: SQL, t: SQL): SQL {
  return sql`((${row}.from_at is null or ${row}.from_at <= ${t}) and (${row}.until_at is null or ${t} < ${row}.until_at))`;
}

/** Whether a node is out, by the release of a class in `release_` where there is one, else by its own. */
function out(node: SQL, t: SQL): SQL {
  return sql`(case when release_.id is null then not ${node}.held and ${within(node, t)} else not release_.held and ${within(sql`release_`, t)} end)`;
}
