import { sql } from 'drizzle-orm';
import {
  boolean,
  check,
  doublePrecision,
  index,
  pgEnum,
  pgTable,
  primaryKey,
  text,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core';
import {
  createdAt,
  id,
  instant,
  release,
  schoolId,
  spanIndexes,
  tenantKey,
  within,
} from './columns.ts';
import { folders, placements } from './library.ts';
import { classes, colour, people } from './school.ts';

/** What the website of a class says of what is only for those who sign in. */
export const websiteTells = pgEnum('website_tells', ['nothing', 'number', 'titles']);

/** What is set for the page of a class; a class without a row has a page with nothing set. */
export const classPages = pgTable(
  'class_pages',
  {
    classId: uuid().primaryKey(),
    schoolId: schoolId(),
    /** Whether headings are numbered by themselves. */
    numbered: boolean().notNull().default(false),
    /** Where today's things of the class go; it may have been deleted since. */
    currentFolderId: uuid(),
    /** Whether what is under no heading is on the website of the class. */
    websiteLoose: boolean().notNull().default(false),
    websiteTells: websiteTells().notNull().default('nothing'),
  },
  (t) => [within(t, t.classId, classes)],
);

/** A part of the page of a class. One that was removed stays, so that Undo has it; what was under it is without a heading. */
export const headings = pgTable(
  'headings',
  {
    id: id(),
    schoolId: schoolId(),
    classId: uuid().notNull(),
    title: text().notNull(),
    mark: text(),
    colour: colour(),
    position: doublePrecision().notNull().default(0),
    /** Whether it is on the website of the class. */
    onWebsite: boolean().notNull().default(false),
    removedAt: instant(),
  },
  (t) => [
    tenantKey(t),
    within(t, t.classId, classes),
    check('headings_title', sql`length(${t.title}) between 1 and 60`),
    index().on(t.classId),
  ],
);

/** What stands on pages of classes: its words and things are the same on all of them. */
export const entries = pgTable(
  'entries',
  {
    id: id(),
    schoolId: schoolId(),
    ownerId: uuid().notNull(),
    title: text().notNull(),
    text: text().notNull().default(''),
    createdAt: createdAt(),
  },
  (t) => [
    tenantKey(t),
    within(t, t.ownerId, people),
    check('entries_title', sql`length(${t.title}) between 1 and 120`),
    check('entries_text', sql`length(${t.text}) <= 5000`),
    index().on(t.ownerId),
  ],
);

/** A folder or an item of an entry. */
export const entryThings = pgTable(
  'entry_things',
  {
    id: id(),
    schoolId: schoolId(),
    entryId: uuid().notNull(),
    folderId: uuid(),
    placementId: uuid(),
    position: doublePrecision().notNull(),
  },
  (t) => [
    within(t, t.entryId, entries),
    within(t, t.folderId, folders).onDelete('cascade'),
    within(t, t.placementId, placements).onDelete('cascade'),
    check('entry_things_thing', sql`num_nonnulls(${t.folderId}, ${t.placementId}) = 1`),
    uniqueIndex('entry_things_folder').on(t.entryId, t.folderId),
    uniqueIndex('entry_things_placement').on(t.entryId, t.placementId),
    index().on(t.folderId),
    index().on(t.placementId),
  ],
);

/** That an entry is on the page of a class. One that was taken back stays, so that Undo and use in later years have it. */
export const appearances = pgTable(
  'appearances',
  {
    id: id(),
    schoolId: schoolId(),
    entryId: uuid().notNull(),
    classId: uuid().notNull(),
    headingId: uuid(),
    position: doublePrecision().notNull().default(0),
    keepOnTop: boolean().notNull().default(false),
    ...release(),
    /** Whether it is for some members of the class only: those of `appearance_people`. */
    forSome: boolean().notNull().default(false),
    /** Whether its words may be read on the website of the class by whoever comes. */
    openText: boolean().notNull().default(false),
    createdBy: uuid().notNull(),
    createdAt: createdAt(),
    takenBackAt: instant(),
    takenBackBy: uuid(),
  },
  (t) => [
    tenantKey(t),
    within(t, t.entryId, entries),
    within(t, t.classId, classes),
    within(t, t.headingId, headings),
    within(t, t.createdBy, people),
    within(t, t.takenBackBy, people),
    check('appearances_span', sql`${t.fromAt} < ${t.untilAt}`),
    uniqueIndex('appearances_once')
      .on(t.entryId, t.classId)
      .where(sql`${t.takenBackAt} is null`),
    ...spanIndexes('appearances', t),
    index().on(t.classId),
  ],
);

/** For whom an appearance is, where it is not for the whole class. */
export const appearancePeople = pgTable(
  'appearance_people',
  { schoolId: schoolId(), appearanceId: uuid().notNull(), personId: uuid().notNull() },
  (t) => [
    primaryKey({ columns: [t.appearanceId, t.personId] }),
    within(t, t.appearanceId, appearances),
    within(t, t.personId, people),
    index().on(t.personId),
  ],
);
