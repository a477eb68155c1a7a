import type { Colour, Crumb, FindQuery } from '@sammlung/contract';
import { sql, type SQL } from 'drizzle-orm';
import {
  at,
  ms,
  rows,
  rowsByValues,
  uuids,
  type Database,
  type Queries,
} from '../../db/database.ts';
import { inSpan } from '../../domain/spans.ts';
import {
  accessParams,
  handedTable,
  handedToAudience,
  waysInTable,
  openWaysIn,
  ownsFolder,
  placementOpens,
  type AccessParams,
  type Viewer,
} from '../../domain/access/access-sql.ts';
import { AppError } from '../../platform/errors.ts';
import { FILE_KINDS } from '../../platform/file-kinds.ts';

export interface HitRecord extends Record<string, unknown> {
  kind: 'folder' | 'placement';
  id: string;
  itemId: string | null;
  folderId: string;
  ownerId: string;
  ownerName: string;
  title: string;
  itemKind: 'file' | 'link' | 'page' | null;
  extension: string;
  mark: string | null;
  colour: Colour | null;
  url: string | null;
  lessonDate: string | null;
  changedAt: number;
  small: string | null;
  where: Crumb[];
  inside: boolean;
}

/** So many different words are looked for at once. */
const MOST_WORDS = 12;

/** The different words that are looked for. Throws `too-many-words`. */
function wordsIn(text: string): string[] {
  const words = text
    .normalize('NFC')
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean);
  const different = [...new Set(words)];
  if (different.length > MOST_WORDS) throw new AppError('too-many-words');
  return different;
}

/** One minus in place of several in a row: PostgreSQL keeps each on a stack, which is a small one. */
const withOneMinus = (words: string) => words.replace(/(?:-\s*){2,}/gu, '-');

/**
 * The words as a query for text search: each may be the beginning of a word, but for single letters among others, with
 * which half of all words begin. Empty when nothing can be searched for.
 */
function beginnings(text: string): string {
  const words = wordsIn(text);
  return words
    .map((word) => (words.length > 1 && word.length === 1 ? word : `${word}:*`))
    .join(' & ');
}

/**
 * The folders somebody sees (`folder_id`, `path`), once for each way in that leads there, with the columns of
 * `openWaysIn` and whether they are the person’s `own`; found from what was handed out to them rather than by looking at
 * every folder of the school: so the work grows with what one person sees, not with how much the school has.
 */
function seenFolders(params: AccessParams): SQL {
  return sql`${waysInTable(params)}, ${handedTable(params)},
    roots as materialized (select distinct folder_id, item_id from handed where kind not in ('door', 'teachers')),
    reached as materialized (
      select f.id from folders f where f.path && (select array_agg(folder_id) from roots where folder_id is not null)
      union
      select p.folder_id from roots join placements p on p.item_id = roots.item_id),
    mine as materialized (select f.id as folder_id, f.path, true as own, null::text as kind, null::uuid as id,
        null::uuid as reading, true as exempt, 3 as rank, null::uuid[] as doors
      from folders f where ${ownsFolder(sql`f`, params)}),
    theirs as materialized (select f.id as folder_id, f.path, false as own, k.kind, k.id, k.reading, k.exempt, k.rank, null::uuid[] as doors
      from reached r join folders f on f.id = r.id cross join lateral ${openWaysIn(sql`f.path`, params)} k
      where f.owner_id is distinct from ${params.me} and k.kind not in ('door', 'teachers')),
    seen as materialized (select * from mine union all select * from theirs)`;
}

/**
 * What somebody sees whose name is like the words, or in which they are written; best first. A name counts more than
 * what is inside, a whole word more than a part of one, a part more than something alike.
 */
export function found(
  db: Database,
  viewer: Viewer,
  query: FindQuery,
  limit: number,
): Promise<HitRecord[]> {
  const params = accessParams(viewer);
  const words = query.words.normalize('NFC').toLowerCase();
  const like = `%${words.replace(/[\\%_]/gu, '\\$&')}%`;
  /** How well a title fits: 4 the same, 3 begins with it, 2 holds it, else how alike a part of it is. */
  const fits = (title: SQL) => sql`(case
    when lower(${title}) = ${words} then 4
    when starts_with(lower(${title}), ${words}) then 3
    when lower(${title}) like ${like} then 2
    else word_similarity(${words}, lower(${title})) end)`;
  const tsquery = sql`(websearch_to_tsquery('simple', ${withOneMinus(words)}) || prefix.query)`;
  const prefix = beginnings(words);
  const onlyFolders = query.kind === 'folder';
  const onlyItems = query.kind !== undefined && !onlyFolders;
  const handed = query.class ? handedToAudience(sql`f.path`, query.class) : sql`true`;
  const ofYear = query.year
    ? sql`(exists (select from folders n where n.id = any (f.path) and n.year_id = ${query.year}::uuid)
        or exists (select from grants g join classes c on c.id = g.class_id
          where g.folder_id = any (f.path) and g.taken_back_at is null and c.year_id = ${query.year}::uuid))`
    : sql`true`;
  const day = sql`coalesce(i.lesson_date, p.added_at::date)`;
  const span = sql`${query.from ? sql`${day} >= ${query.from}::date` : sql`true`}
    and ${query.until ? sql`${day} <= ${query.until}::date` : sql`true`}`;
  const ofKind = !onlyItems
    ? sql`true`
    : query.kind === 'link' || query.kind === 'page'
      ? sql`i.kind::text = ${query.kind}`
      : sql`v.media_type ~ ${FILE_KINDS[query.kind as keyof typeof FILE_KINDS]}`;
  const dated = query.from !== undefined || query.until !== undefined;

  return rowsByValues<HitRecord>(
    db,
    sql`with ${seenFolders(params)},
      prefix as (select case when ${prefix} = '' then ''::tsquery else to_tsquery('simple', ${prefix}) end as query),
      folder_hits as (
        select 'folder' as kind, f.id, null::uuid as item_id, f.id as folder_id, ${fits(sql`f.title`)} + 0.1 as score, false as inside
        from (select distinct folder_id from seen where rank > 0) s join folders f on f.id = s.folder_id
        where ${onlyItems || dated ? sql`false` : sql`true`}
          and (lower(f.title) like ${like} or ${words} <% lower(f.title)) and ${handed} and ${ofYear}),
      placement_hits as (
        select distinct on (p.item_id) 'placement' as kind, p.id, p.item_id, p.folder_id,
          greatest(case when lower(i.title) like ${like} or ${words} <% lower(i.title) then ${fits(sql`i.title`)} else 0 end,
            case when x.words @@ ${tsquery} then 0.5 + ts_rank(x.words, ${tsquery}) else 0 end) as score,
          not (lower(i.title) like ${like} or ${words} <% lower(i.title)) as inside
        from seen s join folders f on f.id = s.folder_id join placements p on p.folder_id = s.folder_id
          join items i on i.id = p.item_id left join versions v on v.id = i.current_version_id
          left join texts x on x.school_id = v.school_id and x.hash = v.hash
          cross join prefix
        where ${onlyFolders ? sql`false` : sql`true`}
          and (case when s.own then p.binned_at is null else ${placementOpens(sql`p`, sql`s`, params)} end)
          and ${ofKind} and ${handed} and ${ofYear} and ${span}
          and (lower(i.title) like ${like} or ${words} <% lower(i.title) or x.words @@ ${tsquery}
            or lower(coalesce(i.url, '')) like ${like})
        order by p.item_id, s.own desc, p.added_at),
      hits as (
        select * from folder_hits union all select * from placement_hits
        order by score desc, id limit ${limit}::int)
      select h.kind, h.id, h.item_id as "itemId", h.folder_id as "folderId", coalesce(f.owner_id, l.person_id) as "ownerId", o.name as "ownerName",
        coalesce(i.title, f.title) as title, i.kind as "itemKind", coalesce(i.extension, '') as extension,
        case when h.kind = 'folder' then f.mark end as mark, case when h.kind = 'folder' then f.colour end as colour,
        i.url, i.lesson_date as "lessonDate", ${ms(sql`coalesce(greatest(p.added_at, v.created_at), f.created_at)`)} as "changedAt",
        case when w.small is not null then left(w.hash, 12) end as small, h.inside,
        (select coalesce(json_agg(json_build_object('id', n.id, 'title', n.title) order by cardinality(n.path)), '[]')
          from folders n where n.id = any (f.path) and n.id in (select folder_id from seen where rank > 0)
            and (h.kind = 'placement' or n.id <> f.id)) as "where"
      from hits h join folders f on f.id = h.folder_id left join places l on f.in_place and l.folder_id = f.path[1]
        join people o on o.id = coalesce(f.owner_id, l.person_id)
        left join placements p on h.kind = 'placement' and p.id = h.id
        left join items i on i.id = h.item_id left join versions v on v.id = i.current_version_id
        left join previews w on w.school_id = v.school_id and w.hash = v.hash
      order by h.score desc, coalesce(i.title, f.title) collate natural_order, h.id`,
  );
}

/** What is written around the words in these items; « and » mark them. */
export async function excerpts(db: Queries, itemIds: readonly string[], words: string) {
  const parts = beginnings(words);
  if (parts === '' || itemIds.length === 0) return new Map<string, string>();
  const found = await rows<{ itemId: string; excerpt: string | null }>(
    db,
    sql`select i.id as "itemId", ts_headline('simple', left(x.body, 60000), to_tsquery('simple', ${parts}),
        'StartSel=«, StopSel=», MaxFragments=1, MaxWords=18, MinWords=9') as excerpt
      from items i left join versions v on v.id = i.current_version_id
        left join texts x on x.school_id = v.school_id and x.hash = v.hash
      where i.id = any (${uuids(itemIds)})`,
  );
  return new Map(found.map((x) => [x.itemId, (x.excerpt ?? '').replace(/\s+/gu, ' ').trim()]));
}

/** Classes and years by which this person can narrow what they look for. */
export async function filtersFor(db: Queries, personId: string, t: number) {
  const classes = await rows<{ id: string; code: string; colour: Colour; yearId: string }>(
    db,
    sql`select c.id, c.code, c.colour, c.year_id as "yearId" from classes c
      where c.removed_at is null and (c.course_id in (select course_id from course_teachers where person_id = ${personId}::uuid)
        or c.id in (select class_id from memberships m where m.person_id = ${personId}::uuid
          and ${inSpan(sql`m`, at(t))}))
      order by c.code collate natural_order`,
  );
  const years = await rows<{ id: string; label: string }>(
    db,
    sql`select id, label from years where id = any (${sql.param(classes.map((c) => c.yearId))}::uuid[])
      order by first_day desc`,
  );
  return { classes, years };
}
