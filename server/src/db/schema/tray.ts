import { sql } from 'drizzle-orm';
import {
  bigint,
  check,
  foreignKey,
  index,
  jsonb,
  pgTable,
  text,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core';
import { createdAt, id, instant, schoolId, tenantKey, within } from './columns.ts';
import { blobs } from './library.ts';
import { people } from './school.ts';

/** A round: what somebody put in place out of their tray with one action. */
export const rounds = pgTable(
  'rounds',
  {
    id: id(),
    schoolId: schoolId(),
    personId: uuid().notNull(),
    at: createdAt(),
  },
  (t) => [tenantKey(t), within(t, t.personId, people), index().on(t.personId, t.at)],
);

/** A file in somebody's tray, or that was: nobody else gets it. */
export const trayFiles = pgTable(
  'tray_files',
  {
    id: id(),
    schoolId: schoolId(),
    personId: uuid().notNull(),
    /** As it came, with its extension. */
    name: text().notNull(),
    /** Null once it is in place and the round cannot be undone any more: then its content is that of the item. */
    hash: text(),
    size: bigint({ mode: 'number' }).notNull(),
    mediaType: text().notNull(),
    arrivedAt: createdAt(),
    /** The upload that it came by. */
    uploadId: text().notNull(),
    /** What its teacher has decided other than proposed (contract: TrayAnswer). */
    answer: jsonb(),
    /** The round that put it in place. */
    roundId: uuid(),
    /** Taken out of the tray; it is there for Undo. */
    removedAt: instant(),
  },
  (t) => [
    tenantKey(t),
    within(t, t.personId, people),
    within(t, t.roundId, rounds),
    foreignKey({ columns: [t.schoolId, t.hash], foreignColumns: [blobs.schoolId, blobs.hash] }),
    check('tray_files_name', sql`length(${t.name}) between 1 and 1000`),
    check('tray_files_waiting', sql`${t.hash} is not null or ${t.roundId} is not null`),
    uniqueIndex('tray_files_upload').on(t.personId, t.uploadId),
    index('tray_files_waiting')
      .on(t.personId, t.arrivedAt)
      .where(sql`${t.roundId} is null and ${t.removedAt} is null`),
    index().on(t.schoolId, t.hash),
    index().on(t.roundId),
  ],
);

/** What a round did with one file in one folder. The things may have been deleted since. */
export const roundSteps = pgTable(
  'round_steps',
  {
    id: id(),
    schoolId: schoolId(),
    roundId: uuid().notNull(),
    trayFileId: uuid().notNull(),
    outcome: text({ enum: ['new', 'placed', 'version', 'opened'] }).notNull(),
    title: text().notNull(),
    folderId: uuid().notNull(),
    itemId: uuid().notNull(),
    placementId: uuid().notNull(),
    versionId: uuid(),
    /** To which classes it goes out by this. */
    classIds: uuid().array().notNull(),
    /** The releases that were set, and what was there before (contract: Released). */
    rules: jsonb().notNull(),
    before: jsonb().notNull(),
  },
  (t) => [
    within(t, t.roundId, rounds),
    within(t, t.trayFileId, trayFiles),
    check('round_steps_outcome', sql`${t.outcome} in ('new', 'placed', 'version', 'opened')`),
    index().on(t.roundId),
    index().on(t.trayFileId),
  ],
);
