import {
  check,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core';
import { sql } from 'drizzle-orm';
import { createdAt, id, instant, schoolId, tenantKey, within } from './columns.ts';
import { items } from './library.ts';
import { people, years } from './school.ts';

/** What somebody carries over from one year to another one, and how far that has come. */
export const carryOvers = pgTable(
  'carry_overs',
  {
    id: id(),
    schoolId: schoolId(),
    personId: uuid().notNull(),
    fromYearId: uuid().notNull(),
    toYearId: uuid().notNull(),
    /** What was asked for (contract: CarryPlan). */
    plan: jsonb().notNull(),
    state: text({ enum: ['waiting', 'done', 'failed'] })
      .notNull()
      .default('waiting'),
    /** Folders and placements: how many are made, of how many. */
    done: integer().notNull().default(0),
    total: integer().notNull().default(0),
    /** What was made (contract: CarriedCounts); null until then. */
    made: jsonb(),
    /** What has been handed out with it. */
    grants: uuid().array().notNull().default([]),
    /** When, and for whom, what was carried over was written and is wanted (contract: StaleFrames): by that what is out of date in it is found. */
    frames: jsonb().notNull(),
    /** The error that it ended with. */
    fault: text(),
    createdAt: createdAt(),
    endedAt: instant(),
    undoneAt: instant(),
  },
  (t) => [
    tenantKey(t),
    within(t, t.personId, people),
    within(t, t.fromYearId, years),
    within(t, t.toYearId, years),
    check('carry_overs_state', sql`${t.state} in ('waiting', 'done', 'failed')`),
    index().on(t.personId),
  ],
);

/** What was made out of what: so that doing it again adds only what is missing, under whichever name the rest has by now. */
export const carried = pgTable(
  'carried',
  {
    schoolId: schoolId(),
    carryOverId: uuid().notNull(),
    kind: text({ enum: ['folder', 'placement', 'heading', 'appearance', 'box'] }).notNull(),
    /** The class for which it was made, or the year. */
    key: uuid().notNull(),
    sourceId: uuid().notNull(),
    madeId: uuid().notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.carryOverId, t.kind, t.key, t.sourceId] }),
    within(t, t.carryOverId, carryOvers).onDelete('cascade'),
    check(
      'carried_kind',
      sql`${t.kind} in ('folder', 'placement', 'heading', 'appearance', 'box')`,
    ),
    index().on(t.sourceId),
  ],
);

/** What looks out of date in something that was carried over: it is open until it was mended, or left as it is. */
export const staleMarks = pgTable(
  'stale_marks',
  {
    id: id(),
    schoolId: schoolId(),
    carryOverId: uuid().notNull(),
    itemId: uuid().notNull(),
    /** In its title, in the text of a page, or inside a file, which nobody can change here. */
    place: text({ enum: ['title', 'text', 'inside'] }).notNull(),
    /** The content that was looked at; null for a title. Another one is not marked. */
    hash: text(),
    /** How many there are. */
    count: integer().notNull(),
    /** The first of them; of a title all of it. */
    found: text().notNull(),
    proposed: text(),
    settledAt: instant(),
  },
  (t) => [
    within(t, t.carryOverId, carryOvers).onDelete('cascade'),
    within(t, t.itemId, items).onDelete('cascade'),
    check('stale_marks_place', sql`${t.place} in ('title', 'text', 'inside')`),
    uniqueIndex('stale_marks_once').on(t.carryOverId, t.itemId, t.place),
    index().on(t.itemId),
  ],
);
