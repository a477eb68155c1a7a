import {
  bigint,
  foreignKey,
  index,
  integer,
  pgTable,
  primaryKey,
  text,
  uuid,
} from 'drizzle-orm/pg-core';
import { createdAt, instant, schoolId, within } from './columns.ts';
import { blobs, items, versions } from './library.ts';
import { people } from './school.ts';

/** What somebody has written on a page and has not shown. */
export const pageDrafts = pgTable(
  'page_drafts',
  {
    schoolId: schoolId(),
    itemId: uuid().notNull(),
    personId: uuid().notNull(),
    /** As it came: it is cleaned when it is shown. Nobody but its writer gets it. */
    html: text().notNull(),
    /** Number of the version from which they began; 0 where there was none. */
    base: integer().notNull(),
    savedAt: instant().notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.itemId, t.personId] }),
    within(t, t.itemId, items),
    within(t, t.personId, people),
  ],
);

/** The pictures of a page, those of drafts and earlier versions too. */
export const pagePictures = pgTable(
  'page_pictures',
  {
    schoolId: schoolId(),
    itemId: uuid().notNull(),
    hash: text().notNull(),
    size: bigint({ mode: 'number' }).notNull(),
    mediaType: text().notNull(),
    addedAt: createdAt(),
  },
  (t) => [
    primaryKey({ columns: [t.itemId, t.hash] }),
    within(t, t.itemId, items),
    foreignKey({ columns: [t.schoolId, t.hash], foreignColumns: [blobs.schoolId, blobs.hash] }),
    index().on(t.schoolId, t.hash),
  ],
);

/** Which of them are in which version: its readers get these. */
export const versionPictures = pgTable(
  'version_pictures',
  {
    schoolId: schoolId(),
    versionId: uuid().notNull(),
    itemId: uuid().notNull(),
    hash: text().notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.versionId, t.hash] }),
    index().on(t.itemId, t.hash),
    foreignKey({
      columns: [t.itemId, t.versionId],
      foreignColumns: [versions.itemId, versions.id],
    }).onDelete('cascade'),
    foreignKey({
      columns: [t.itemId, t.hash],
      foreignColumns: [pagePictures.itemId, pagePictures.hash],
    }).onDelete('cascade'),
  ],
);
