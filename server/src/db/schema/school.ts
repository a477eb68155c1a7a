import { sql, type SQL } from 'drizzle-orm';
import {
  boolean,
  check,
  date,
  index,
  integer,
  jsonb,
  pgEnum,
  pgTable,
  primaryKey,
  text,
  uniqueIndex,
  unique,
  uuid,
} from 'drizzle-orm/pg-core';
import { createdAt, id, instant, schoolId, tenantKey, spanIndexes, within } from './columns.ts';

export const personKind = pgEnum('person_kind', ['teacher', 'student', 'office']);
export const colour = pgEnum('colour', [
  'leaf',
  'plum',
  'lake',
  'bark',
  'rose',
  'slate',
  'moss',
  'clay',
]);

/** What teachers are told of who has opened their things: with names, in numbers, or nothing. */
export const reachLevel = pgEnum('reach_level', ['names', 'numbers', 'nothing']);

export const schools = pgTable('schools', {
  id: id(),
  name: text().notNull(),
  signInDomains: text().array().notNull().default([]),
  timeZone: text().notNull(),
  /** The language of mails to those who have chosen none; null for the server’s own. */
  language: text({ enum: ['en', 'de'] }),
  /** The made-up school that ships with the application; its sign-ins are offered to everybody. */
  sample: boolean().notNull().default(false),
  reach: reachLevel().notNull().default('names'),
  /** Of what was opened before that, teachers are told nothing: those who opened it had been told otherwise. */
  reachSince: createdAt(),
  /** Until when openings have been put together by day (`opening_days`). */
  openingsPackedUntil: instant(),
  createdAt: createdAt(),
});

/** Everybody with an account. The mail address may be missing: then the sign-in name stands in for it. */
export const people = pgTable(
  'people',
  {
    id: id(),
    schoolId: schoolId().references(() => schools.id),
    /** A short name for lists of many (`opening_days`). */
    number: integer().generatedAlwaysAsIdentity().unique(),
    kind: personKind().notNull(),
    name: text().notNull(),
    email: text(),
    emailVerified: boolean().notNull().default(false),
    signInName: text(),
    /** Whether signing in takes a second step. */
    twoFactorEnabled: boolean().notNull().default(false),
    /** What better-auth knows a person by: the mail address, or a form of the sign-in name that no mail address has. */
    signInKey: text().generatedAlwaysAs(
      (): SQL =>
        sql`lower(coalesce(${people.email}, ${people.signInName} || '@' || ${people.schoolId}::text || '.invalid'))`,
    ),
    /** What other systems call this person (OneRoster `sourcedId`). */
    externalId: text(),
    /** The language of the screens and mails, where one was chosen. */
    language: text({ enum: ['en', 'de'] }),
    /** Whether a mail tells each day what is new. */
    digest: boolean().notNull().default(false),
    image: text(),
    /** The teacher who made the account by a class list; null for the office and what it imports. */
    madeBy: uuid(),
    /** Since when this person cannot come in any more. All that is theirs stays. */
    deactivatedAt: instant(),
    /** Since when nothing is known of this person any more: the row stays for what others have from them. */
    erasedAt: instant(),
    createdAt: createdAt(),
    updatedAt: createdAt(),
  },
  (t) => [
    tenantKey(t),
    uniqueIndex('people_email').on(sql`lower(${t.email})`),
    uniqueIndex('people_sign_in_name').on(t.schoolId, sql`lower(${t.signInName})`),
    index('people_sign_in_name_anywhere').on(sql`lower(${t.signInName})`),
    uniqueIndex('people_sign_in_key').on(t.signInKey),
    uniqueIndex('people_external_id').on(t.schoolId, t.externalId),
    within(t, t.madeBy, t),
    check('people_language', sql`${t.language} in ('en', 'de')`),
    index('people_name').on(t.schoolId, sql`lower(${t.name})`),
    index('people_listed').on(t.schoolId, sql`${t.name} collate natural_order`, t.id),
  ],
);

/** What a teacher's folders are named and laid out with. */
export const teacherSettings = pgTable(
  'teacher_settings',
  {
    schoolId: schoolId(),
    personId: uuid().primaryKey(),
    namingPattern: text().notNull(),
    purpose: text().notNull().default(''),
    outline: text().notNull().default(''),
    /** Words that make a name look confidential, one a line; null for those of the application. */
    confidentialWords: text(),
    /** How lessons are titled; null for the application's own. */
    titlePattern: text(),
    /** When things of each kind go out (contract: TrayRules); null for the application's own. */
    goesOut: jsonb(),
    /** What they often write about work that is handed in. */
    phrases: text().array().notNull().default([]),
  },
  (t) => [within(t, t.personId, people)],
);

export const years = pgTable(
  'years',
  {
    id: id(),
    schoolId: schoolId().references(() => schools.id),
    label: text().notNull(),
    firstDay: date().notNull(),
    lastDay: date().notNull(),
    closedAt: instant(),
  },
  (t) => [
    tenantKey(t),
    unique().on(t.schoolId, t.label),
    check('years_days', sql`${t.firstDay} < ${t.lastDay}`),
  ],
);

export const courses = pgTable(
  'courses',
  {
    id: id(),
    schoolId: schoolId(),
    yearId: uuid().notNull(),
    title: text().notNull(),
    colour: colour().notNull(),
    externalId: text(),
    /** Removed courses and classes stay for Undo, and for what was handed out to them. */
    removedAt: instant(),
  },
  (t) => [
    tenantKey(t),
    within(t, t.yearId, years),
    index().on(t.yearId),
    uniqueIndex('courses_external_id').on(t.schoolId, t.externalId),
  ],
);

export const courseTeachers = pgTable(
  'course_teachers',
  { schoolId: schoolId(), courseId: uuid().notNull(), personId: uuid().notNull() },
  (t) => [
    primaryKey({ columns: [t.courseId, t.personId] }),
    within(t, t.courseId, courses),
    within(t, t.personId, people),
    index().on(t.personId),
  ],
);

export const classes = pgTable(
  'classes',
  {
    id: id(),
    schoolId: schoolId(),
    courseId: uuid().notNull(),
    yearId: uuid().notNull(),
    code: text().notNull(),
    colour: colour().notNull(),
    /** In which what is made for it is worded; null leaves it to whoever makes it. */
    language: text({ enum: ['en', 'de'] }),
    externalId: text(),
    removedAt: instant(),
  },
  (t) => [
    tenantKey(t),
    check('classes_language', sql`${t.language} in ('en', 'de')`),
    within(t, t.courseId, courses),
    within(t, t.yearId, years),
    uniqueIndex('classes_code')
      .on(t.yearId, sql`lower(${t.code})`)
      .where(sql`${t.removedAt} is null`),
    uniqueIndex('classes_external_id').on(t.schoolId, t.externalId),
    index().on(t.courseId),
  ],
);

/** Ties a student to a class from an instant until another; both are midnights in the school's time zone. */
export const memberships = pgTable(
  'memberships',
  {
    id: id(),
    schoolId: schoolId(),
    classId: uuid().notNull(),
    personId: uuid().notNull(),
    fromAt: instant(),
    untilAt: instant(),
    /** The teacher who put the person into the class; null for the office and what it imports. */
    addedBy: uuid(),
    /** Who ended it, where it has ended. */
    endedBy: uuid(),
  },
  (t) => [
    ...spanIndexes('memberships', t),
    within(t, t.classId, classes),
    within(t, t.personId, people),
    within(t, t.addedBy, people),
    within(t, t.endedBy, people),
    index().on(t.personId),
    index().on(t.classId),
    check('memberships_span', sql`${t.fromAt} < ${t.untilAt}`),
  ],
);

/**
 * A person whom a teacher wants in a class without having a say about them: the person or the office answers. Yes makes
 * the membership, with these instants.
 */
export const joinRequests = pgTable(
  'join_requests',
  {
    id: id(),
    schoolId: schoolId(),
    classId: uuid().notNull(),
    personId: uuid().notNull(),
    fromAt: instant(),
    untilAt: instant(),
    askedBy: uuid().notNull(),
    createdAt: createdAt(),
    answer: text({ enum: ['yes', 'no'] }),
    answeredBy: uuid(),
    answeredAt: instant(),
  },
  (t) => [
    within(t, t.classId, classes),
    within(t, t.personId, people),
    within(t, t.askedBy, people),
    within(t, t.answeredBy, people),
    check('join_requests_answer', sql`${t.answer} in ('yes', 'no')`),
    check('join_requests_span', sql`${t.fromAt} < ${t.untilAt}`),
    uniqueIndex('join_requests_once')
      .on(t.classId, t.personId)
      .where(sql`${t.answer} is null`),
    index().on(t.personId),
  ],
);
