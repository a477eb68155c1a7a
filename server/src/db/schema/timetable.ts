import { sql } from 'drizzle-orm';
import { check, date, index, pgTable, smallint, text, unique, uuid } from 'drizzle-orm/pg-core';
import { id, schoolId, within } from './columns.ts';
import { classes, schools } from './school.ts';

/** A lesson that a class has each week. */
export const lessons = pgTable(
  'lessons',
  {
    id: id(),
    schoolId: schoolId(),
    classId: uuid().notNull(),
    /** From 1 for Monday to 7 for Sunday. */
    weekday: smallint().notNull(),
    period: smallint().notNull(),
  },
  (t) => [
    within(t, t.classId, classes),
    unique('lessons_once').on(t.classId, t.weekday, t.period),
    check('lessons_weekday', sql`${t.weekday} between 1 and 7`),
    check('lessons_period', sql`${t.period} between 1 and 20`),
  ],
);

/** The terms of a school, and its days off. */
export const schoolDays = pgTable(
  'school_days',
  {
    id: id(),
    schoolId: schoolId().references(() => schools.id),
    kind: text({ enum: ['term', 'off'] }).notNull(),
    title: text().notNull(),
    firstDay: date().notNull(),
    lastDay: date().notNull(),
  },
  (t) => [
    check('school_days_kind', sql`${t.kind} in ('term', 'off')`),
    check('school_days_title', sql`length(${t.title}) between 1 and 60`),
    check('school_days_span', sql`${t.firstDay} <= ${t.lastDay}`),
    index().on(t.schoolId, t.firstDay),
  ],
);
