import { sql, type SQL } from 'drizzle-orm';
import {
  customType,
  foreignKey,
  index,
  integer,
  pgEnum,
  pgTable,
  primaryKey,
  text,
} from 'drizzle-orm/pg-core';
import { createdAt, schoolId } from './columns.ts';
import { blobs } from './library.ts';

const tsvector = customType<{ data: string }>({ dataType: () => 'tsvector' });

export const previewState = pgEnum('preview_state', ['waiting', 'done', 'failed']);

/** What was made of a content to look at it and to find it; one row for each content. */
export const previews = pgTable(
  'previews',
  {
    schoolId: schoolId(),
    hash: text().notNull(),
    mediaType: text().notNull(),
    state: previewState().notNull().default('waiting'),
    /** Why there is none: `broken`, `password`, `too-large` (time, memory or size), `off` (not to be made here). */
    fault: text({ enum: ['broken', 'password', 'too-large', 'off'] }),
    /** Media types of what was made; null where there is none. */
    small: text(),
    shown: text(),
    tries: integer().notNull().default(0),
    createdAt: createdAt(),
  },
  (t) => [
    primaryKey({ columns: [t.schoolId, t.hash] }),
    foreignKey({
      columns: [t.schoolId, t.hash],
      foreignColumns: [blobs.schoolId, blobs.hash],
    }).onDelete('cascade'),
    index('previews_waiting')
      .on(t.createdAt)
      .where(sql`${t.state} = 'waiting'`),
  ],
);

/** What is written in a content, for finding it. */
export const texts = pgTable(
  'texts',
  {
    schoolId: schoolId(),
    hash: text().notNull(),
    /** The first few lines, for a small picture of a text. */
    opening: text().notNull(),
    body: text().notNull(),
    /** By which nearly the same texts are found (core: fingerprint); null for texts too short to tell, and for those not looked at yet. */
    fingerprint: text(),
    words: tsvector()
      .notNull()
      .generatedAlwaysAs((): SQL => sql`to_tsvector('simple', left(${texts.body}, 300000))`),
  },
  (t) => [
    primaryKey({ columns: [t.schoolId, t.hash] }),
    foreignKey({
      columns: [t.schoolId, t.hash],
      foreignColumns: [blobs.schoolId, blobs.hash],
    }).onDelete('cascade'),
    index('texts_words').using('gin', t.words),
  ],
);
