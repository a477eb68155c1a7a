import { bigint, index, jsonb, pgEnum, pgTable, text, uuid } from 'drizzle-orm/pg-core';
import { createdAt, schoolId, within } from './columns.ts';
import { classes, courses, people } from './school.ts';

/** What was done, of what changes who sees or may do what. */
export const logAct = pgEnum('log_act', [
  'handed-out',
  'terms',
  'taken-back',
  'opened',
  'door',
  'closed',
  'release',
  'joined',
  'days',
  'left',
  'teaches',
  'teaches-no-more',
  'added',
  'role',
  'deactivated',
  'reactivated',
  'address',
  'password',
  'second-step',
  'second-step-off',
  'year-closed',
  'year-opened',
  'sign-in',
  'merged',
  'erased',
  'passkey',
  'passkey-removed',
]);

/**
 * Who changed what others see, and when. The database writes it by itself, with each change of the tables concerned; it is kept a year.
 * Folders and items are named as they were called: they may be gone.
 */
export const log = pgTable(
  'log',
  {
    id: bigint({ mode: 'number' }).primaryKey().generatedAlwaysAsIdentity(),
    schoolId: schoolId(),
    at: createdAt(),
    /** Null where it was a command, or happened by itself. */
    byId: uuid(),
    act: logAct().notNull(),
    folderId: uuid(),
    itemId: uuid(),
    title: text().notNull().default(''),
    /** Whose the folder or item was. */
    ownerId: uuid(),
    /** For whom it is: an audience by roster, or `public` and `link` (a school link) where it is a door. */
    audience: text(),
    personId: uuid(),
    classId: uuid(),
    courseId: uuid(),
    /** How it is now, and how it was (contract: LogDetails). */
    details: jsonb().notNull().default({}),
  },
  (t) => [
    within(t, t.byId, people),
    within(t, t.personId, people),
    within(t, t.classId, classes),
    within(t, t.courseId, courses),
    index().on(t.schoolId, t.at, t.id),
    index().on(t.folderId),
    index().on(t.itemId),
    index().on(t.ownerId),
    index().on(t.classId),
    index().on(t.courseId),
    index().on(t.byId),
    index().on(t.personId),
  ],
);
