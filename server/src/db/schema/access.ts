import { sql } from 'drizzle-orm';
import {
  boolean,
  check,
  index,
  pgEnum,
  pgTable,
  pgView,
  text,
  timestamp,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core';
import {
  createdAt,
  id,
  instant,
  release,
  schoolId,
  tenantKey,
  spanIndexes,
  within,
} from './columns.ts';
import { appearances } from './class-pages.ts';
import { folders, items, placements } from './library.ts';
import { classes, courses, people } from './school.ts';

export const rosterAudience = pgEnum('roster_audience', [
  'person',
  'class',
  'course',
  'staff',
  'school',
  // Of places in hand-in boxes alone: those who teach the class.
  'teachers',
]);
export const level = pgEnum('level', ['view', 'add', 'manage']);
export const doorKind = pgEnum('door_kind', ['public', 'school']);

/** What a release reads for one class, in place of the node's own. */
export const classReleases = pgTable(
  'class_releases',
  {
    id: id(),
    schoolId: schoolId(),
    folderId: uuid(),
    placementId: uuid(),
    classId: uuid().notNull(),
    ...release(),
  },
  (t) => [
    ...spanIndexes('class_releases', t),
    within(t, t.folderId, folders),
    within(t, t.placementId, placements),
    within(t, t.classId, classes),
    check('class_releases_target', sql`num_nonnulls(${t.folderId}, ${t.placementId}) = 1`),
    check('class_releases_span', sql`${t.fromAt} < ${t.untilAt}`),
    uniqueIndex('class_releases_folder').on(t.folderId, t.classId),
    uniqueIndex('class_releases_placement').on(t.placementId, t.classId),
  ],
);

/** Handings out. One that was taken back stays, so that Undo and history have it. */
export const grants = pgTable(
  'grants',
  {
    id: id(),
    schoolId: schoolId(),
    folderId: uuid(),
    itemId: uuid(),
    audienceKind: rosterAudience().notNull(),
    personId: uuid(),
    classId: uuid(),
    courseId: uuid(),
    /** Of the audience `teachers`: the class that they teach. */
    taughtClassId: uuid(),
    audienceId: uuid()
      .notNull()
      .generatedAlwaysAs(sql`coalesce(person_id, class_id, course_id, taught_class_id, school_id)`),
    level: level().notNull().default('view'),
    fromAt: instant(),
    untilAt: instant(),
    createdBy: uuid().notNull(),
    createdAt: createdAt(),
    takenBackAt: instant(),
    takenBackBy: uuid(),
    /** What made it: it follows that, and goes with it. Null for what was handed out by itself. */
    appearanceId: uuid(),
    /** Of the place of a student in a hand-in box: kept by the database, and nobody hands it out. */
    ofPlace: boolean().notNull().default(false),
  },
  (t) => [
    ...spanIndexes('grants', t),
    tenantKey(t),
    within(t, t.folderId, folders),
    within(t, t.itemId, items),
    within(t, t.personId, people),
    within(t, t.classId, classes),
    within(t, t.courseId, courses),
    within(t, t.taughtClassId, classes),
    within(t, t.createdBy, people),
    within(t, t.takenBackBy, people),
    within(t, t.appearanceId, appearances),
    check('grants_target', sql`num_nonnulls(${t.folderId}, ${t.itemId}) = 1`),
    check(
      'grants_audience',
      sql`(${t.audienceKind} = 'person') = (${t.personId} is not null)
        and (${t.audienceKind} = 'class') = (${t.classId} is not null)
        and (${t.audienceKind}::text = 'teachers') = (${t.taughtClassId} is not null)
        and (${t.audienceKind} = 'course') = (${t.courseId} is not null)`,
    ),
    check(
      'grants_level',
      sql`${t.level} = 'view' or (${t.audienceKind}::text in ('person', 'staff', 'teachers') and ${t.folderId} is not null)`,
    ),
    check('grants_of_place', sql`${t.ofPlace} or ${t.audienceKind}::text <> 'teachers'`),
    check('grants_span', sql`${t.fromAt} < ${t.untilAt}`),
    uniqueIndex('grants_folder_once')
      .on(t.folderId, t.audienceKind, t.audienceId)
      .where(sql`${t.takenBackAt} is null and ${t.appearanceId} is null and not ${t.ofPlace}`),
    uniqueIndex('grants_place_once')
      .on(t.folderId, t.audienceKind, t.level)
      .where(sql`${t.ofPlace}`),
    uniqueIndex('grants_item_once')
      .on(t.itemId, t.audienceKind, t.audienceId)
      .where(sql`${t.takenBackAt} is null and ${t.appearanceId} is null`),
    uniqueIndex('grants_appearance_once')
      .on(t.appearanceId, sql`coalesce(${t.folderId}, ${t.itemId})`, t.audienceId)
      .where(sql`${t.takenBackAt} is null and ${t.appearanceId} is not null`),
    index('grants_audience_index').on(t.audienceId),
    index().on(t.folderId),
    index().on(t.itemId),
  ],
);

/** A public or school link to a folder, an item, or the website of a class. A closed one stays closed but can be opened again by Undo. */
export const doors = pgTable(
  'doors',
  {
    id: id(),
    schoolId: schoolId(),
    kind: doorKind().notNull(),
    /** At least 128 random bits, in letters that fit an address. */
    token: text().notNull().unique(),
    shortAddress: text().unique(),
    wordHash: text(),
    /** What visitors read first. */
    coverText: text().notNull().default(''),
    /** Whether search engines may list it. */
    listed: boolean().notNull().default(false),
    folderId: uuid(),
    itemId: uuid(),
    /** The class whose website it opens. It hands nothing out: through it go those doors that open what is there. */
    classId: uuid(),
    fromAt: instant(),
    untilAt: instant(),
    createdBy: uuid().notNull(),
    createdAt: createdAt(),
    closedAt: instant(),
  },
  (t) => [
    ...spanIndexes('doors', t),
    tenantKey(t),
    within(t, t.folderId, folders),
    within(t, t.itemId, items),
    within(t, t.classId, classes),
    within(t, t.createdBy, people),
    check('doors_target', sql`num_nonnulls(${t.folderId}, ${t.itemId}, ${t.classId}) = 1`),
    check('doors_cover_text', sql`length(${t.coverText}) <= 2000`),
    check('doors_token', sql`length(${t.token}) >= 22`),
    check('doors_span', sql`${t.fromAt} < ${t.untilAt}`),
    uniqueIndex('doors_folder_once')
      .on(t.folderId, t.kind)
      .where(sql`${t.closedAt} is null`),
    uniqueIndex('doors_item_once')
      .on(t.itemId, t.kind)
      .where(sql`${t.closedAt} is null`),
    uniqueIndex('doors_class_once')
      .on(t.classId)
      .where(sql`${t.closedAt} is null`),
  ],
);

/** Everything that is handed out and not taken back: to audiences by roster, and through doors that stand open. */
export const handingsOut = pgView('handings_out', {
  id: uuid().notNull(),
  schoolId: uuid().notNull(),
  folderId: uuid(),
  itemId: uuid(),
  audienceKind: text().notNull(),
  audienceId: uuid().notNull(),
  level: level().notNull(),
  fromAt: timestamp({ withTimezone: true }),
  untilAt: timestamp({ withTimezone: true }),
  createdAt: timestamp({ withTimezone: true }).notNull(),
  appearanceId: uuid(),
  ofPlace: boolean().notNull(),
}).as(sql`
  select id, school_id, folder_id, item_id, audience_kind::text as audience_kind, audience_id, level, from_at, until_at, created_at, appearance_id, of_place
  from grants where taken_back_at is null
  union all
  select id, school_id, folder_id, item_id, 'door', id, 'view'::level, from_at, until_at, created_at, null::uuid, false
  from doors where closed_at is null and class_id is null`);
