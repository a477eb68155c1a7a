import type { LogEntry } from '@sammlung/contract';
import { sql, type SQL } from 'drizzle-orm';
import { at, iso, rows, type Queries } from '../../db/database.ts';
import { pathTo } from '../../domain/grants.ts';
import type { SignedIn } from '../../platform/sessions.ts';

/** Which entries are asked for. */
export interface Wanted {
  readonly thing: readonly string[];
  readonly who: readonly string[];
  /** From and until when, in milliseconds. */
  readonly span: { readonly from: number; readonly until: number } | null;
  readonly folderId: string | null;
  /** The last entry of the page before. */
  readonly after: number | null;
  readonly limit: number;
}

/** Lists, roles, years and how people sign in: what the office does. */
const OFFICE = sql`l.act in ('joined', 'days', 'left', 'teaches', 'teaches-no-more', 'added', 'role', 'deactivated', 'reactivated',
  'address', 'password', 'second-step', 'second-step-off', 'year-closed', 'year-opened', 'sign-in', 'merged', 'erased',
  'passkey', 'passkey-removed')`;

/** What is theirs now, or was when it went for good; and lists and websites of what they teach. */
const ownOf = (me: SQL) => sql`(
  l.folder_id in (select id from folders where owner_id = ${me}) or l.item_id in (select id from items where owner_id = ${me})
  or (l.owner_id = ${me} and not exists (select from folders o where o.id = l.folder_id) and not exists (select from items o where o.id = l.item_id))
  or (l.folder_id is null and l.item_id is null and l.course_id in (select course_id from course_teachers where person_id = ${me})))`;

/** Whether every one of the words is in a text. */
const hasAll = (text: SQL, words: readonly string[]) =>
  sql`not exists (select from unnest(${sql.param([...words])}::text[]) w (word) where strpos(lower(${text}), w.word) = 0)`;

/** Entries of the log that somebody may read, the newest first. */
export function entriesFor(
  db: Queries,
  person: Pick<SignedIn, 'id' | 'schoolId' | 'kind'>,
  { thing, who, span, folderId, after, limit }: Wanted,
): Promise<LogEntry[]> {
  const me = sql`${person.id}::uuid`;
  const filters = [
    sql`l.school_id = ${person.schoolId}::uuid`,
    person.kind === 'office' ? OFFICE : ownOf(me),
    ...(thing.length > 0 ? [hasAll(sql`concat_ws(' ', l.title, c.code, k.title)`, thing)] : []),
    ...(who.length > 0 ? [hasAll(sql`concat_ws(' ', b.name, p.name)`, who)] : []),
    ...(span ? [sql`l.at >= ${at(span.from)} and l.at < ${at(span.until)}`] : []),
    ...(folderId ? [sql`l.folder_id = ${folderId}::uuid`] : []),
    ...(after ? [sql`(l.at, l.id) < (select o.at, o.id from log o where o.id = ${after})`] : []),
  ];
  return rows<LogEntry & Record<string, unknown>>(
    db,
    sql`select l.id::float8 as id, ${iso(sql`l.at`)} as at, b.name as by, l.act, l.audience, p.name as person, l.details,
        case when l.title <> '' then json_build_object('title', l.title, 'path', case when f.id is not null or i.id is not null
          then ${pathTo(sql`f`, sql`i`)} end) end as thing,
        case when c.id is not null then json_build_object('code', c.code, 'colour', c.colour) end as class, k.title as course
      from log l left join people b on b.id = l.by_id left join people p on p.id = l.person_id
        left join classes c on c.id = l.class_id left join courses k on k.id = l.course_id
        left join folders f on f.id = l.folder_id and f.binned_at is null left join items i on i.id = l.item_id
      where ${sql.join(filters, sql` and `)}
      order by l.at desc, l.id desc limit ${limit}`,
  );
}
