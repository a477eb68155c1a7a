import { sql } from 'drizzle-orm';
import {
  bigint,
  boolean,
  check,
  date,
  doublePrecision,
  index,
  integer,
  pgEnum,
  pgTable,
  text,
  unique,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core';
import { doors, grants } from './access.ts';
import { createdAt, id, instant, schoolId, tenantKey, within } from './columns.ts';
import { folders, items, placements, versions } from './library.ts';
import { classes, people } from './school.ts';

/** `marked`: the reader said it need not be shown as new any more, without opening it. */
export const openingKind = pgEnum('opening_kind', ['opened', 'downloaded', 'marked']);
export const requestAnswer = pgEnum('request_answer', ['person', 'class', 'link', 'no']);
export const mailKind = pgEnum('mail_kind', [
  'note',
  'invitation',
  'password',
  'answer',
  'digest',
  'account',
]);
export const mailState = pgEnum('mail_state', ['waiting', 'sent', 'failed']);

/** Who opened or downloaded which placement, and when. No person: through a door. */
export const openings = pgTable(
  'openings',
  {
    id: bigint({ mode: 'number' }).primaryKey().generatedAlwaysAsIdentity(),
    schoolId: schoolId(),
    placementId: uuid().notNull(),
    versionId: uuid(),
    personId: uuid(),
    doorId: uuid(),
    /** What tells a visitor from others on one day, and means nothing once that day’s salt is gone. */
    visitor: text(),
    kind: openingKind().notNull(),
    at: createdAt(),
  },
  (t) => [
    within(t, t.placementId, placements),
    within(t, t.versionId, versions),
    within(t, t.personId, people),
    within(t, t.doorId, doors),
    check('openings_by', sql`num_nonnulls(${t.personId}, ${t.doorId}) = 1`),
    index().on(t.personId, t.placementId),
    uniqueIndex('openings_visitor_once')
      .on(t.placementId, sql`coalesce(${t.versionId}, ${t.placementId})`, t.kind, t.visitor)
      .where(sql`${t.visitor} is not null`),
    // With all that the reach of many things is made of.
    index('openings_reach').on(t.placementId, t.personId, t.versionId, t.kind, t.at),
    index().on(t.versionId),
    index().on(t.at),
    index()
      .on(t.doorId)
      .where(sql`${t.doorId} is not null`),
  ],
);

/**
 * Who opened or downloaded which version of what on one day where the school is, put together from `openings`: what thousands have opened of
 * hundreds of things is read from here.
 */
export const openingDays = pgTable(
  'opening_days',
  {
    schoolId: schoolId(),
    placementId: uuid().notNull(),
    versionId: uuid(),
    kind: openingKind().notNull(),
    day: date().notNull(),
    /** By their numbers. */
    people: integer().array().notNull(),
  },
  (t) => [
    within(t, t.placementId, placements).onDelete('cascade'),
    within(t, t.versionId, versions).onDelete('cascade'),
    index().on(t.placementId, t.day),
    index().on(t.versionId),
    index().on(t.day),
  ],
);

/** What is mixed into the marks of a day’s visitors. It is deleted with the day, so that nobody can work out who they were. */
export const visitorSalts = pgTable('visitor_salts', {
  day: date().primaryKey(),
  salt: text().notNull(),
});

/** What is left of openings after a year: how many there were, and of nobody. */
export const openingCounts = pgTable(
  'opening_counts',
  {
    schoolId: schoolId(),
    placementId: uuid().notNull(),
    versionId: uuid(),
    kind: openingKind().notNull(),
    /** Whether they came through a door. */
    visitors: boolean().notNull(),
    count: integer().notNull(),
  },
  (t) => [
    within(t, t.placementId, placements),
    within(t, t.versionId, versions),
    unique('opening_counts_once')
      .on(t.placementId, t.versionId, t.kind, t.visitors)
      .nullsNotDistinct(),
    index().on(t.versionId),
  ],
);

/** Folders and items a person keeps at hand, with the door where they came by one. */
export const kept = pgTable(
  'kept',
  {
    id: id(),
    schoolId: schoolId(),
    personId: uuid().notNull(),
    folderId: uuid(),
    itemId: uuid(),
    /** The class whose page it is. */
    classId: uuid(),
    doorId: uuid(),
    /** How that door was opened when it was kept: another address or password since, and it opens no more. */
    doorToken: text(),
    doorWordHash: text(),
    /** What it was called when the person last saw it: what is taken back keeps that name, and learns no other. */
    title: text().notNull(),
    mark: text(),
    position: doublePrecision().notNull().default(0),
    createdAt: createdAt(),
  },
  (t) => [
    within(t, t.personId, people),
    within(t, t.folderId, folders),
    within(t, t.itemId, items),
    within(t, t.classId, classes),
    within(t, t.doorId, doors),
    check('kept_target', sql`num_nonnulls(${t.folderId}, ${t.itemId}, ${t.classId}) = 1`),
    uniqueIndex('kept_folder').on(t.personId, t.folderId),
    uniqueIndex('kept_item').on(t.personId, t.itemId),
    uniqueIndex('kept_class').on(t.personId, t.classId),
  ],
);

/**
 * An address for programs of a person's own: a feed of what comes by one of their classes, or, for those who teach and
 * without a class, the calendar of what goes out.
 */
export const feeds = pgTable(
  'feeds',
  {
    id: id(),
    schoolId: schoolId(),
    personId: uuid().notNull(),
    classId: uuid(),
    token: text().notNull().unique(),
    createdAt: createdAt(),
    closedAt: instant(),
  },
  (t) => [
    within(t, t.personId, people),
    within(t, t.classId, classes),
    uniqueIndex('feeds_once')
      .on(t.personId, sql`coalesce(${t.classId}, ${t.personId})`)
      .where(sql`${t.closedAt} is null`),
  ],
);

/** Somebody without access asks to see what lies behind a door or school address. */
export const requests = pgTable(
  'requests',
  {
    id: id(),
    schoolId: schoolId(),
    /** Who asks: a person, or somebody without an account. */
    personId: uuid(),
    visitorName: text(),
    visitorEmail: text(),
    visitorLanguage: text({ enum: ['en', 'de'] }),
    folderId: uuid(),
    itemId: uuid(),
    message: text().notNull().default(''),
    createdAt: createdAt(),
    answer: requestAnswer(),
    answeredBy: uuid(),
    answeredAt: instant(),
  },
  (t) => [
    within(t, t.personId, people),
    within(t, t.folderId, folders),
    within(t, t.itemId, items),
    within(t, t.answeredBy, people),
    uniqueIndex('requests_folder_open')
      .on(t.personId, t.folderId)
      .where(sql`${t.answer} is null`),
    uniqueIndex('requests_item_open')
      .on(t.personId, t.itemId)
      .where(sql`${t.answer} is null`),
    uniqueIndex('requests_visitor_open')
      .on(sql`lower(${t.visitorEmail})`, sql`coalesce(${t.folderId}, ${t.itemId})`)
      .where(sql`${t.answer} is null and ${t.visitorEmail} is not null`),
    check(
      'requests_asker',
      sql`num_nonnulls(${t.personId}, ${t.visitorEmail}) = 1
        and num_nonnulls(${t.visitorName}, ${t.visitorEmail}, ${t.visitorLanguage}) in (0, 3)`,
    ),
    check('requests_target', sql`num_nonnulls(${t.folderId}, ${t.itemId}) = 1`),
    check('requests_message', sql`length(${t.message}) <= 1000`),
    check(
      'requests_answer',
      sql`num_nonnulls(${t.answer}, ${t.answeredBy}, ${t.answeredAt}) in (0, 3)`,
    ),
  ],
);

/** The cover note that goes with a handing out. */
export const notes = pgTable(
  'notes',
  {
    id: id(),
    schoolId: schoolId(),
    /** The handing out with which it goes; else it is about an item, to some of those who have it. */
    grantId: uuid(),
    itemId: uuid(),
    body: text().notNull(),
    copyToSender: boolean().notNull().default(false),
    createdBy: uuid().notNull(),
    createdAt: createdAt(),
    sentAt: instant(),
  },
  (t) => [
    tenantKey(t),
    within(t, t.grantId, grants),
    within(t, t.itemId, items),
    within(t, t.createdBy, people),
    check('notes_about', sql`num_nonnulls(${t.grantId}, ${t.itemId}) = 1`),
    index().on(t.grantId),
    index()
      .on(t.itemId)
      .where(sql`${t.itemId} is not null`),
  ],
);

/** One mail to one person, and what has become of it. Its text is in the note where it goes with one. */
export const mails = pgTable(
  'mails',
  {
    id: id(),
    schoolId: schoolId(),
    kind: mailKind().notNull(),
    /** To whom: a person, or somebody without an account. */
    personId: uuid(),
    toName: text(),
    toEmail: text(),
    noteId: uuid(),
    subject: text().notNull(),
    body: text().notNull().default(''),
    /** Where its link leads, from the root of the application; it may hold a token that opens once. */
    path: text(),
    state: mailState().notNull().default('waiting'),
    tries: integer().notNull().default(0),
    /** When it is to be tried next. */
    dueAt: createdAt(),
    /** What the mail server said at the last try. */
    fault: text(),
    createdAt: createdAt(),
    sentAt: instant(),
  },
  (t) => [
    within(t, t.personId, people),
    within(t, t.noteId, notes),
    check(
      'mails_to',
      sql`num_nonnulls(${t.personId}, ${t.toEmail}) = 1 and num_nonnulls(${t.toName}, ${t.toEmail}) in (0, 2)`,
    ),
    index().on(t.noteId),
    index('mails_waiting')
      .on(t.dueAt)
      .where(sql`${t.state} = 'waiting'`),
    index().on(t.personId, t.kind, t.createdAt),
  ],
);

/** What the stand-in mail server of the sample school has taken in. */
export const postRoom = pgTable(
  'post_room',
  {
    id: id(),
    sender: text().notNull(),
    recipient: text().notNull(),
    subject: text().notNull(),
    body: text().notNull(),
    receivedAt: createdAt(),
  },
  (t) => [index().on(t.receivedAt)],
);
