import { sql } from 'drizzle-orm';
import {
  boolean,
  check,
  doublePrecision,
  foreignKey,
  index,
  integer,
  pgTable,
  primaryKey,
  text,
  unique,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core';
import { createdAt, id, instant, schoolId, tenantKey, within } from './columns.ts';
import { folders, items, placements } from './library.ts';
import { classes, people } from './school.ts';

/** A hand-in box of a class. Its places, and who may do what in them, are kept by the database: see the migration `boxes`. */
export const boxes = pgTable(
  'boxes',
  {
    id: id(),
    schoolId: schoolId(),
    classId: uuid().notNull(),
    title: text().notNull(),
    text: text().notNull().default(''),
    /** Null: it stays open until it is closed. */
    endsAt: instant(),
    /** Whether something may still be handed in after the end, marked as late. */
    takesLate: boolean().notNull().default(true),
    createdBy: uuid().notNull(),
    createdAt: createdAt(),
    closedAt: instant(),
    /** What is in its places is deleted for good 30 days after that. */
    clearedAt: instant(),
    /** One that was removed stays, so that Undo has it. */
    removedAt: instant(),
  },
  (t) => [
    tenantKey(t),
    within(t, t.classId, classes),
    within(t, t.createdBy, people),
    check('boxes_title', sql`length(${t.title}) between 1 and 60`),
    check('boxes_text', sql`length(${t.text}) <= 5000`),
    index().on(t.classId),
  ],
);

/** The private folder of one student in one box. */
export const places = pgTable(
  'places',
  {
    folderId: uuid().primaryKey(),
    schoolId: schoolId(),
    boxId: uuid().notNull(),
    personId: uuid().notNull(),
    createdAt: createdAt(),
  },
  (t) => [
    within(t, t.folderId, folders),
    within(t, t.boxId, boxes),
    within(t, t.personId, people),
    unique('places_once').on(t.boxId, t.personId),
    index().on(t.personId),
  ],
);

/**
 * That every student of a box is given a copy of a file or page of their own, also who joins later: of the version that it has then. The
 * copies are made by the database: see the migration `copies`.
 */
export const boxCopies = pgTable(
  'box_copies',
  {
    id: id(),
    schoolId: schoolId(),
    boxId: uuid().notNull(),
    /** Null once it has been deleted. */
    itemId: uuid(),
    /** How the copies are called: `{title}`, `{student}` and `{class}` stand for what they say. */
    pattern: text().notNull(),
    createdBy: uuid().notNull(),
    createdAt: createdAt(),
    takenBackAt: instant(),
  },
  (t) => [
    within(t, t.boxId, boxes),
    within(t, t.createdBy, people),
    foreignKey({ columns: [t.itemId], foreignColumns: [items.id] }).onDelete('set null'),
    check('box_copies_pattern', sql`length(${t.pattern}) between 1 and 100`),
    uniqueIndex('box_copies_once')
      .on(t.boxId, t.itemId)
      .where(sql`${t.takenBackAt} is null`),
    index().on(t.itemId),
  ],
);

/** What a teacher and the student write to each other about one thing in a place. One that was removed stays, so that Undo has it. */
export const remarks = pgTable(
  'remarks',
  {
    id: id(),
    schoolId: schoolId(),
    placementId: uuid().notNull(),
    /** The number of the version of the thing about which it was written. */
    version: integer(),
    /** The remark that it answers. */
    replyTo: uuid(),
    /** A point on a page of it, in parts of its width and height from the left and from the top. */
    page: integer(),
    x: doublePrecision(),
    y: doublePrecision(),
    body: text().notNull(),
    createdBy: uuid().notNull(),
    createdAt: createdAt(),
    editedAt: instant(),
    removedAt: instant(),
  },
  (t) => [
    tenantKey(t),
    within(t, t.placementId, placements),
    within(t, t.replyTo, t),
    within(t, t.createdBy, people),
    check('remarks_body', sql`length(${t.body}) between 1 and 5000`),
    check(
      'remarks_point',
      sql`num_nonnulls(${t.page}, ${t.x}, ${t.y}) in (0, 3) and ${t.page} > 0 and ${t.x} between 0 and 1 and ${t.y} between 0 and 1`,
    ),
    index().on(t.placementId),
  ],
);

/** Until when somebody has read the remarks about a thing. */
export const remarkReads = pgTable(
  'remark_reads',
  {
    schoolId: schoolId(),
    placementId: uuid().notNull(),
    personId: uuid().notNull(),
    readAt: instant().notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.personId, t.placementId] }),
    within(t, t.placementId, placements),
    within(t, t.personId, people),
    index().on(t.placementId),
  ],
);
