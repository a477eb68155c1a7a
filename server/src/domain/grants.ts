import type { HandedUndo, Level, RosterAudience, Thing } from '@sammlung/contract';
import { and, eq, inArray, isNull, or, sql, type SQL } from 'drizzle-orm';
import { at, ms, rows, toDate, toIso, uuids, type Queries } from '../db/database.ts';
import { grants } from '../db/schema/index.ts';
import { AppError } from '../platform/errors.ts';
import type { SignedIn } from '../platform/sessions.ts';
import type { Rights } from './access/rights.ts';
import { changesBy } from './log.ts';

export type Grant = typeof grants.$inferSelect;

/** What was or will be handed out: one of the two is null. */
export type Target = {
  readonly schoolId: string;
  readonly folderId: string | null;
  readonly itemId: string | null;
};

/** What handing these things out concerns, when the person may decide who sees each. Throws as `Rights` does. */
export async function targetsOf(rights: Rights, things: readonly Thing[]): Promise<Target[]> {
  const ids = (kind: Thing['kind']) => things.filter((x) => x.kind === kind).map((x) => x.id);
  const folders = await rights.decides(ids('folder'));
  const items = await rights.decidesItems(ids('placement'));
  return [
    ...folders.map(({ id, schoolId }) => ({ schoolId, folderId: id, itemId: null })),
    ...items.map(({ itemId, folder }) => ({ schoolId: folder.schoolId, folderId: null, itemId })),
  ];
}

/** What an entry of a class page has handed out is changed and taken back with that. */
const GRANTS_AND_DOORS = sql`(select id, school_id, folder_id, item_id from grants where appearance_id is null and not of_place union all
  select id, school_id, folder_id, item_id from doors)`;

/** The same as `decidableGrants` for doors alone. */
export const decidableDoor = (rights: Rights, id: string) =>
  decidableGrants(rights, [id], sql`doors`);

/**
 * Handings out and doors by their ids, taken back ones too, when the person may decide about each. Whoever may not is
 * not told that there is one: `not-found` for all.
 */
export async function decidableGrants(
  rights: Rights,
  ids: readonly string[],
  among = GRANTS_AND_DOORS,
): Promise<(Target & { id: string })[]> {
  const wanted = [...new Set(ids)];
  const found = await rows<Target & { id: string; placementId: string | null }>(
    rights.db,
    sql`select h.id, h.school_id as "schoolId", h.folder_id as "folderId", h.item_id as "itemId", (
          ${firstPlace(sql`h.item_id`)}) as "placementId"
      from ${among} h
      where h.id = any (${uuids(wanted)})`,
  );
  if (found.length < wanted.length) throw new AppError('not-found');
  const things = found.map(({ folderId, placementId }): Thing => {
    if (folderId) return { kind: 'folder', id: folderId };
    if (!placementId) throw new AppError('not-found');
    return { kind: 'placement', id: placementId };
  });
  await targetsOf(rights, things).catch((error: unknown) => {
    throw error instanceof AppError && error.code === 'not-allowed'
      ? new AppError('not-found')
      : error;
  });
  return found;
}

/** The placement by which an item is opened where only the item is known: its oldest one. */
export function firstPlace(itemId: SQL): SQL {
  return sql`select place.id from placements place
    where place.item_id = ${itemId} and place.binned_at is null order by place.added_at limit 1`;
}

/** Where in the application a folder, or else an item, is opened: the rows are called by their aliases. */
export function pathTo(folder: SQL, item: SQL): SQL {
  return sql`case when ${folder}.id is not null then '/folder/' || ${folder}.id
    else '/item/' || (${firstPlace(sql`${item}.id`)}) end`;
}

/** When a handing out is in force, and what it allows, as the API writes it. */
export type Terms = HandedUndo['changed'][number]['before'];

/**
 * Hands targets out to audiences. What an audience has already gets the new terms, as core works it out; what it has
 * under the same terms stays as it is. Throws `audience-unknown` for staff or school of another school.
 */
export async function putGrants(
  tx: Queries,
  targets: readonly Target[],
  audiences: readonly RosterAudience[],
  { level, from, until }: Terms,
  by: { readonly personId: string; readonly t: number },
): Promise<HandedUndo & { already: number }> {
  await changesBy(tx, { id: by.personId }, by.t);
  await refuseRemoved(
    tx,
    audiences.map((a) => a.id),
  );
  for (const { kind, id } of audiences)
    if ((kind === 'staff' || kind === 'school') && targets.some((x) => x.schoolId !== id))
      throw new AppError('audience-unknown');
  const columns = {
    schoolIds: uuids(targets.map((x) => x.schoolId)),
    folderIds: sql`${sql.param(targets.map((x) => x.folderId))}::uuid[]`,
    itemIds: sql`${sql.param(targets.map((x) => x.itemId))}::uuid[]`,
    kinds: sql`${sql.param(audiences.map((a) => a.kind))}::roster_audience[]`,
    audienceIds: uuids(audiences.map((a) => a.id)),
  };
  const span = { fromAt: toDate(from), untilAt: toDate(until) };
  const made = await rows<{ id: string }>(
    tx,
    sql`insert into grants (school_id, folder_id, item_id, audience_kind, person_id, class_id, course_id, level,
        from_at, until_at, created_by, created_at)
      select x.school_id, x.folder_id, x.item_id, a.kind, case when a.kind = 'person' then a.id end,
        case when a.kind = 'class' then a.id end, case when a.kind = 'course' then a.id end, ${level}::level,
        ${span.fromAt}::timestamptz, ${span.untilAt}::timestamptz, ${by.personId}::uuid, ${at(by.t)}
      from unnest(${columns.schoolIds}, ${columns.folderIds}, ${columns.itemIds}) x (school_id, folder_id, item_id),
        unnest(${columns.kinds}, ${columns.audienceIds}) a (kind, id)
      on conflict do nothing returning id`,
  );
  const ids = new Set(made.map(({ id }) => id));
  const wanted = targets.length * audiences.length;
  if (ids.size === wanted) return { made: [...ids], changed: [], already: 0 };
  const known = await rows<{ id: string; level: Level; from: number | null; until: number | null }>(
    tx,
    sql`select id, level, ${ms(sql`from_at`)} as "from", ${ms(sql`until_at`)} as "until" from grants g
      where taken_back_at is null and appearance_id is null and (folder_id = any (${columns.folderIds}) or item_id = any (${columns.itemIds}))
        and (audience_kind, audience_id) in (
          select a.kind, a.id from unnest(${columns.kinds}, ${columns.audienceIds}) a (kind, id))
      for update`,
  );
  const changed = known
    .filter((g) => !ids.has(g.id))
    .map((g) => ({
      id: g.id,
      before: { level: g.level, from: toIso(g.from), until: toIso(g.until) },
    }))
    .filter(
      ({ before }) =>
        before.level !== level || !sameTime(before.from, from) || !sameTime(before.until, until),
    );
  if (changed.length > 0)
    await tx.execute(
      sql`update grants set level = ${level}::level, from_at = ${span.fromAt}::timestamptz, until_at = ${span.untilAt}::timestamptz
        where id = any (${uuids(changed.map(({ id }) => id))})`,
    );
  return { made: [...ids], changed, already: wanted - ids.size - changed.length };
}

const sameTime = (a: string | null, b: string | null) =>
  toDate(a)?.getTime() === toDate(b)?.getTime();

/** Hands folders that have just been made out to a class each. Resolves to the ids of the grants. */
export async function handOutNew(
  tx: Queries,
  person: Pick<SignedIn, 'id' | 'schoolId'>,
  folders: readonly { classId: string; folderId: string }[],
): Promise<string[]> {
  const made = await tx
    .insert(grants)
    .values(
      folders.map(({ classId, folderId }) => ({
        ...{ schoolId: person.schoolId, folderId, classId, createdBy: person.id },
        audienceKind: 'class' as const,
      })),
    )
    .onConflictDoNothing()
    .returning({ id: grants.id });
  return made.map(({ id }) => id);
}

/** What is handed out by a grant that has not been taken back; null where there is none. */
export async function grantById(db: Queries, id: string): Promise<Grant | null> {
  const [found] = await db
    .select()
    .from(grants)
    .where(and(eq(grants.id, id), isNull(grants.takenBackAt), isNull(grants.appearanceId)));
  return found ?? null;
}

/** Gives a grant other terms. */
export async function changeTerms(
  tx: Queries,
  id: string,
  { level, from, until }: Terms,
): Promise<void> {
  await tx
    .update(grants)
    .set({ level, fromAt: toDate(from), untilAt: toDate(until) })
    .where(eq(grants.id, id));
}

/** Takes grants back that are in force. */
export async function takeBackGrants(
  tx: Queries,
  ids: readonly string[],
  by: { readonly personId: string; readonly t: number },
): Promise<void> {
  await tx
    .update(grants)
    .set({ takenBackAt: new Date(by.t), takenBackBy: by.personId })
    .where(and(inArray(grants.id, [...ids]), isNull(grants.takenBackAt)));
}

/** Undoes a taking back. Throws `audience-unknown` where the class or course has been removed. */
export async function restoreGrants(tx: Queries, ids: readonly string[]): Promise<void> {
  const found = await tx
    .update(grants)
    .set({ takenBackAt: null, takenBackBy: null })
    .where(inArray(grants.id, [...ids]))
    .returning({ audienceId: grants.audienceId });
  await refuseRemoved(
    tx,
    found.map((g) => g.audienceId),
  );
}

/** Classes and courses, by their ids. */
export interface ClassesAndCourses {
  readonly classIds: readonly string[];
  readonly courseIds: readonly string[];
}

/** To them as a whole, or by entries on their pages to some members. */
const handedTo = ({ classIds, courseIds }: ClassesAndCourses) =>
  or(
    inArray(grants.classId, [...classIds]),
    inArray(grants.courseId, [...courseIds]),
    sql`${grants.appearanceId} in (select id from appearances where class_id = any (${uuids(classIds)}))`,
  );

/** Takes back all that is handed out to classes and courses that are removed, at the instant of their removal. */
export async function takeBackFrom(
  tx: Queries,
  audiences: ClassesAndCourses,
  by: { readonly personId: string; readonly t: number },
): Promise<void> {
  await tx
    .update(grants)
    .set({ takenBackAt: new Date(by.t), takenBackBy: by.personId })
    .where(and(handedTo(audiences), isNull(grants.takenBackAt)));
}

/** Undoes `takeBackFrom`: what was taken back at that instant, and nothing else. */
export async function giveBackTo(
  tx: Queries,
  audiences: ClassesAndCourses,
  removedAt: Date,
): Promise<void> {
  await tx
    .update(grants)
    .set({ takenBackAt: null, takenBackBy: null })
    .where(and(handedTo(audiences), eq(grants.takenBackAt, removedAt)));
}

/** Whether every class and course of these is one that is there, for `audience-unknown`. */
async function refuseRemoved(db: Queries, audienceIds: readonly string[]): Promise<void> {
  const removed = await rows(
    db,
    sql`select id from classes where id = any (${uuids(audienceIds)}) and removed_at is not null
      union all select id from courses where id = any (${uuids(audienceIds)}) and removed_at is not null`,
  );
  if (removed.length > 0) throw new AppError('audience-unknown');
}

/**
 * Gives an appearance of an entry the handings out that it is to have now: those that it lacks are made, those that it should not have are
 * taken back, and the span of the others follows it. Members for whom it is have them for as long as they belong to the class, which the
 * database keeps so.
 */
export async function applyAppearance(
  tx: Queries,
  appearanceId: string,
  by: { readonly personId: string; readonly t: number },
): Promise<void> {
  await changesBy(tx, { id: by.personId }, by.t);
  const wanted = sql`(
    select a.id as appearance_id, a.school_id, e.folder_id, p.item_id, v.kind, v.person_id, v.class_id,
      coalesce(v.person_id, v.class_id) as audience_id, v.from_at, v.until_at
    from appearances a join entry_things e on e.entry_id = a.entry_id left join placements p on p.id = e.placement_id
      cross join lateral (
        select 'class' as kind, null::uuid as person_id, a.class_id, a.from_at, a.until_at where not a.for_some
        union all
        select 'person', w.person_id, null, s.from_at, s.until_at
        from appearance_people w cross join lateral member_span(a.class_id, w.person_id, a.from_at, a.until_at) s
        where a.for_some and w.appearance_id = a.id and s.member) v
    where a.id = ${appearanceId}::uuid and a.taken_back_at is null and not a.held)`;
  await tx.execute(
    sql`update grants g set taken_back_at = ${at(by.t)}, taken_back_by = ${by.personId}::uuid
      where g.appearance_id = ${appearanceId}::uuid and g.taken_back_at is null and not exists (
        select from ${wanted} w where w.audience_id = g.audience_id
          and coalesce(w.folder_id, w.item_id) = coalesce(g.folder_id, g.item_id))`,
  );
  await tx.execute(
    sql`update grants g set from_at = w.from_at, until_at = w.until_at from ${wanted} w
      where g.appearance_id = w.appearance_id and g.taken_back_at is null and w.audience_id = g.audience_id
        and coalesce(w.folder_id, w.item_id) = coalesce(g.folder_id, g.item_id)
        and (g.from_at, g.until_at) is distinct from (w.from_at, w.until_at)`,
  );
  await tx.execute(
    sql`insert into grants (school_id, folder_id, item_id, audience_kind, person_id, class_id, from_at, until_at,
        created_by, created_at, appearance_id)
      select distinct on (coalesce(w.folder_id, w.item_id), w.audience_id) w.school_id, w.folder_id, w.item_id,
        w.kind::roster_audience, w.person_id, w.class_id, w.from_at, w.until_at, ${by.personId}::uuid, ${at(by.t)}, w.appearance_id
      from ${wanted} w
      on conflict do nothing`,
  );
}
