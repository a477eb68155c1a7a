import { sql } from 'drizzle-orm';
import {
  bigint,
  boolean,
  check,
  date,
  doublePrecision,
  foreignKey,
  index,
  integer,
  pgEnum,
  pgTable,
  primaryKey,
  text,
  unique,
  uniqueIndex,
  uuid,
  type AnyPgColumn,
} from 'drizzle-orm/pg-core';
import {
  createdAt,
  id,
  instant,
  release,
  schoolId,
  tenantKey,
  spanIndexes,
  within,
} from './columns.ts';
import { colour, people, schools, years } from './school.ts';

export const folderOrder = pgEnum('folder_order', ['hand', 'a_to_z', 'lesson_date', 'newest']);
export const folderDisplay = pgEnum('folder_display', ['list', 'tiles', 'reader']);
export const itemKind = pgEnum('item_kind', ['file', 'link', 'page']);

/** The form in which siblings are compared; `nameKey` of core/naming makes the same. */
const nameKey = (column: AnyPgColumn) => sql`lower(normalize(${column}, NFC) collate "und-x-icu")`;

export const folders = pgTable(
  'folders',
  {
    id: id(),
    schoolId: schoolId(),
    /** Null for the place of a student in a hand-in box and what is below it. */
    ownerId: uuid(),
    parentId: uuid(),
    /** From the topmost folder to this one. Kept by a trigger; see the migration `tree`. */
    path: uuid().array().notNull().default([]),
    title: text().notNull(),
    nameKey: text()
      .notNull()
      .generatedAlwaysAs((): ReturnType<typeof nameKey> => nameKey(folders.title)),
    mark: text(),
    colour: colour(),
    order: folderOrder().notNull().default('hand'),
    display: folderDisplay().notNull().default('list'),
    position: doublePrecision().notNull().default(0),
    keepOnTop: boolean().notNull().default(false),
    /** Whether it is the place of a student in a hand-in box, or below one. Below it is kept by a trigger. */
    inPlace: boolean().notNull().default(false),
    yearId: uuid(),
    ...release(),
    createdBy: uuid().notNull(),
    createdAt: createdAt(),
    binnedAt: instant(),
    binnedBy: uuid(),
  },
  (t) => [
    ...spanIndexes('folders', t),
    tenantKey(t),
    unique().on(t.schoolId, t.ownerId, t.id),
    index().on(t.parentId),
    within(t, t.ownerId, people),
    within(t, t.createdBy, people),
    within(t, t.binnedBy, people),
    within(t, t.yearId, years),
    // A folder lies in one of the same owner.
    foreignKey({
      columns: [t.schoolId, t.ownerId, t.parentId],
      foreignColumns: [t.schoolId, t.ownerId, t.id],
    }),
    check('folders_title', sql`length(${t.title}) between 1 and 60`),
    check('folders_owner', sql`(${t.ownerId} is null) = ${t.inPlace}`),
    check(
      'folders_in_place',
      sql`not ${t.inPlace} or num_nonnulls(${t.yearId}, ${t.fromAt}, ${t.untilAt}) = 0 and not ${t.held}`,
    ),
    check('folders_span', sql`${t.fromAt} < ${t.untilAt}`),
    check(
      'folders_path',
      sql`${t.path}[cardinality(${t.path})] = ${t.id} and ${t.path}[cardinality(${t.path}) - 1] is not distinct from ${t.parentId} and cardinality(${t.path}) <= 64`,
    ),
    uniqueIndex('folders_sibling_name')
      .on(t.parentId, t.nameKey)
      .where(sql`${t.binnedAt} is null and ${t.parentId} is not null`),
    uniqueIndex('folders_top_name')
      .on(t.ownerId, t.nameKey)
      .where(sql`${t.binnedAt} is null and ${t.parentId} is null`),
    index('folders_path_gin').using('gin', t.path),
    index('folders_place')
      .on(sql`(${t.path}[1])`)
      .where(sql`${t.inPlace}`),
    index().on(t.ownerId),
    index('folders_binned')
      .on(t.binnedAt)
      .where(sql`${t.binnedAt} is not null`),
  ],
);

/** File contents by SHA-256, stored once in a school. */
export const blobs = pgTable(
  'blobs',
  {
    schoolId: schoolId().references(() => schools.id),
    hash: text().notNull(),
    size: bigint({ mode: 'number' }).notNull(),
    createdAt: createdAt(),
  },
  (t) => [
    primaryKey({ columns: [t.schoolId, t.hash] }),
    check('blobs_hash', sql`${t.hash} ~ '^[0-9a-f]{64}$'`),
    check('blobs_size', sql`${t.size} >= 0`),
  ],
);

export const items = pgTable(
  'items',
  {
    id: id(),
    schoolId: schoolId(),
    ownerId: uuid().notNull(),
    kind: itemKind().notNull(),
    title: text().notNull(),
    /** Of a file, lower case without the dot; empty otherwise. */
    extension: text().notNull().default(''),
    description: text().notNull().default(''),
    lessonDate: date(),
    url: text(),
    /** Of a page: readers get what is written while it is. */
    showWhileWriting: boolean().notNull().default(false),
    currentVersionId: uuid(),
    /** Where this is somebody's own copy: what it was copied from. */
    copyOfItemId: uuid(),
    copyOfVersionId: uuid(),
    createdAt: createdAt(),
  },
  (t) => [
    tenantKey(t),
    within(t, t.ownerId, people),
    within(t, t.copyOfItemId, t),
    check('items_title', sql`length(${t.title}) between 1 and 121`),
    check('items_link', sql`(${t.kind} = 'link') = (${t.url} is not null)`),
    check('items_version', sql`${t.kind} <> 'link' or ${t.currentVersionId} is null`),
    index().on(t.ownerId),
  ],
);

export const versions = pgTable(
  'versions',
  {
    id: id(),
    schoolId: schoolId(),
    itemId: uuid().notNull(),
    number: integer().notNull(),
    hash: text().notNull(),
    size: bigint({ mode: 'number' }).notNull(),
    mediaType: text().notNull(),
    originalName: text().notNull(),
    createdBy: uuid().notNull(),
    createdAt: createdAt(),
    /** Of a page: shown while it was written, and written on until its writer pauses. */
    whileWriting: boolean().notNull().default(false),
  },
  (t) => [
    tenantKey(t),
    unique().on(t.itemId, t.id),
    unique().on(t.itemId, t.number),
    within(t, t.itemId, items),
    within(t, t.createdBy, people),
    foreignKey({ columns: [t.schoolId, t.hash], foreignColumns: [blobs.schoolId, blobs.hash] }),
    check('versions_number', sql`${t.number} > 0`),
    index().on(t.schoolId, t.hash),
  ],
);

export const placements = pgTable(
  'placements',
  {
    id: id(),
    schoolId: schoolId(),
    folderId: uuid().notNull(),
    itemId: uuid().notNull(),
    /** Name key of the item with its extension, kept by a trigger so that siblings cannot share a name. */
    nameKey: text().notNull().default(''),
    /** The item's current version and since when it is that, kept by triggers: what is new to somebody is found here alone. */
    versionId: uuid(),
    versionAt: instant(),
    /** When what is here now came here. */
    cameAt: instant().generatedAlwaysAs(sql`greatest(added_at, version_at)`),
    /** Whether there is, or was, a release of it for a class. Kept by a trigger. */
    released: boolean().notNull().default(false),
    /** Whether its folder alone decides who sees it: it is not in the Bin and has no release, for a class or for all. */
    plain: boolean()
      .notNull()
      .generatedAlwaysAs(
        sql`not (held or released or from_at is not null or until_at is not null or binned_at is not null)`,
      ),
    /** Whether its item may reach somebody in another way too: it is, or was, in other folders, or handed out by itself. Kept by triggers. */
    several: boolean().notNull().default(true),
    position: doublePrecision().notNull().default(0),
    keepOnTop: boolean().notNull().default(false),
    ...release(),
    addedBy: uuid().notNull(),
    addedAt: createdAt(),
    binnedAt: instant(),
    binnedBy: uuid(),
  },
  (t) => [
    ...spanIndexes('placements', t),
    tenantKey(t),
    within(t, t.folderId, folders),
    within(t, t.itemId, items),
    within(t, t.addedBy, people),
    within(t, t.binnedBy, people),
    check('placements_span', sql`${t.fromAt} < ${t.untilAt}`),
    uniqueIndex('placements_once')
      .on(t.folderId, t.itemId)
      .where(sql`${t.binnedAt} is null`),
    uniqueIndex('placements_sibling_name')
      .on(t.folderId, t.nameKey)
      .where(sql`${t.binnedAt} is null`),
    index('placements_by_hand').on(t.folderId, t.position, t.id),
    // All that New asks of nearly everything that came, so that it need not read the table.
    index('placements_came')
      .on(t.folderId, t.cameAt.desc().nullsFirst(), t.id, t.itemId, t.versionId, t.several)
      .where(sql`${t.plain}`),
    index('placements_special')
      .on(t.folderId)
      .where(sql`not ${t.plain}`),
    index('placements_several')
      .on(t.folderId)
      .where(sql`${t.plain} and ${t.several}`),
    index('placements_binned')
      .on(t.binnedAt)
      .where(sql`${t.binnedAt} is not null`),
    index().on(t.itemId),
  ],
);

/** What the office has handed from one teacher to another, by ids of its own: what has been moved or given away since is left alone by Undo. */
export const handOvers = pgTable(
  'hand_overs',
  {
    id: id(),
    schoolId: schoolId(),
    fromId: uuid().notNull(),
    toId: uuid().notNull(),
    /** The folder that was made for the folders; null where there were none. */
    folderId: uuid(),
    topFolders: uuid().array().notNull(),
    items: uuid().array().notNull(),
    entries: uuid().array().notNull(),
    doors: uuid().array().notNull(),
    courses: uuid().array().notNull(),
    createdBy: uuid().notNull(),
    createdAt: createdAt(),
    undoneAt: instant(),
  },
  (t) => [
    within(t, t.fromId, people),
    within(t, t.toId, people),
    within(t, t.createdBy, people),
    index().on(t.fromId),
  ],
);

/** A file that has been announced: it has room of its person's quota and of the disk until it is placed or given up. */
export const announced = pgTable(
  'announced',
  {
    /** The id of its upload. */
    id: text().primaryKey(),
    schoolId: schoolId(),
    personId: uuid().notNull(),
    size: bigint({ mode: 'number' }).notNull(),
    /** Bytes that have arrived, as of `touchedAt`. */
    received: bigint({ mode: 'number' }).notNull().default(0),
    touchedAt: instant().notNull(),
  },
  (t) => [within(t, t.personId, people), index().on(t.personId)],
);

/** A file on its way in: which finished uploads have become which placement. */
export const uploads = pgTable(
  'uploads',
  {
    id: text().primaryKey(),
    schoolId: schoolId(),
    personId: uuid().notNull(),
    folderId: uuid().notNull(),
    /** Where it lies; null when it was skipped. */
    placementId: uuid(),
    /** The version it became, where it is one. */
    versionId: uuid(),
    outcome: text({ enum: ['new', 'version', 'unchanged', 'placed', 'skipped'] }).notNull(),
    givenName: text().notNull(),
    /** What was added together with it. */
    batch: uuid(),
    createdAt: createdAt(),
  },
  (t) => [
    within(t, t.personId, people),
    within(t, t.folderId, folders),
    within(t, t.placementId, placements),
    within(t, t.versionId, versions),
    index().on(t.folderId),
    index().on(t.placementId),
    index().on(t.versionId),
    check(
      'uploads_outcome',
      sql`${t.outcome} in ('new', 'version', 'unchanged', 'placed', 'skipped')`,
    ),
  ],
);
