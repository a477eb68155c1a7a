import { sql } from 'drizzle-orm';
import {
  bigint,
  boolean,
  check,
  foreignKey,
  index,
  pgTable,
  primaryKey,
  text,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core';
import { createdAt, id, instant, schoolId, tenantKey, within } from './columns.ts';
import { blobs } from './library.ts';
import { people } from './school.ts';

/** Named passwords by which programs come in as a person. */
export const tokens = pgTable(
  'tokens',
  {
    id: id(),
    schoolId: schoolId(),
    personId: uuid().notNull(),
    name: text().notNull(),
    /** SHA-256 of the password, which is random and known to nobody else. */
    hash: text().notNull(),
    writes: boolean().notNull(),
    createdAt: createdAt(),
    usedAt: instant(),
    revokedAt: instant(),
  },
  (t) => [
    tenantKey(t),
    within(t, t.personId, people),
    check('tokens_name', sql`length(${t.name}) between 1 and 60`),
    uniqueIndex().on(t.hash),
    index().on(t.personId),
  ],
);

/**
 * Files that a program has written under a name of its own making, or without any content yet: only that person's programs
 * see them. Where one stands for an item (`placement_id`), the program has set that aside to put another file in its place.
 */
export const davFiles = pgTable(
  'dav_files',
  {
    id: id(),
    schoolId: schoolId(),
    personId: uuid().notNull(),
    /** The place where it is: `folder <id>`, `class <id>` or `tray`. */
    parent: text().notNull(),
    name: text().notNull(),
    nameKey: text().notNull(),
    /** Null while it is empty. */
    hash: text(),
    size: bigint({ mode: 'number' }).notNull(),
    mediaType: text().notNull(),
    placementId: uuid(),
    changedAt: createdAt(),
  },
  (t) => [
    tenantKey(t),
    within(t, t.personId, people),
    foreignKey({ columns: [t.schoolId, t.hash], foreignColumns: [blobs.schoolId, blobs.hash] }),
    uniqueIndex('dav_files_name').on(t.personId, t.parent, t.nameKey),
    index().on(t.changedAt),
  ],
);

/** Locks of programs (RFC 4918, 6). Each person has folders of their own to lock in. */
export const davLocks = pgTable(
  'dav_locks',
  {
    token: uuid().primaryKey(),
    schoolId: schoolId(),
    personId: uuid().notNull(),
    /** As it is compared: decoded, in lower case, without a slash at its end. */
    path: text().notNull(),
    infinite: boolean().notNull(),
    exclusive: boolean().notNull(),
    /** What the program says of itself, as XML. */
    owner: text().notNull(),
    endsAt: instant().notNull(),
  },
  (t) => [within(t, t.personId, people), index().on(t.personId, t.path)],
);

/** Properties that programs have set (RFC 4918, 4), each person's own. */
export const davProperties = pgTable(
  'dav_properties',
  {
    schoolId: schoolId(),
    personId: uuid().notNull(),
    /** What has it: `folder <id>`, `placement <id>`, `tray <id>` or `file <id>`. */
    node: text().notNull(),
    namespace: text().notNull(),
    name: text().notNull(),
    /** The whole element as XML. */
    xml: text().notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.personId, t.node, t.namespace, t.name] }),
    within(t, t.personId, people),
  ],
);

/** Moves that a program wanted, and that would show something to more people: they wait for their person's decision. */
export const waitingMoves = pgTable(
  'waiting_moves',
  {
    id: id(),
    schoolId: schoolId(),
    personId: uuid().notNull(),
    kind: text().$type<'folder' | 'placement'>().notNull(),
    thingId: uuid().notNull(),
    /** Null for the top of the library. */
    toFolderId: uuid(),
    at: createdAt(),
  },
  (t) => [
    tenantKey(t),
    within(t, t.personId, people),
    uniqueIndex('waiting_moves_once').on(t.personId, t.thingId),
  ],
);
