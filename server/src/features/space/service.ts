import type { Colour, Space } from '@sammlung/contract';
import { sql } from 'drizzle-orm';
import { rows, type Queries } from '../../db/database.ts';
import { kindOf } from '../../platform/file-kinds.ts';
import { AppError } from '../../platform/errors.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';

interface FileRecord extends Record<string, unknown> {
  itemId: string;
  title: string;
  extension: string;
  mediaType: string;
  versions: number;
  placementId: string | null;
  folderId: string | null;
  folderTitle: string | null;
  courseTitle: string | null;
  courseColour: Colour | null;
  yearLabel: string | null;
  contents: { hash: string; size: number }[];
}

/** What of a teacher's files takes up how much. Content that several files share counts for the oldest of them. */
export async function space(
  { db, settings }: Pick<Services, 'db' | 'settings'>,
  person: SignedIn,
): Promise<Space> {
  if (person.kind === 'student') throw new AppError('not-found');
  const known = new Set<string>();
  const files = (await filesOf(db, person.id)).map(({ contents, ...file }) => {
    const fresh = contents.filter(({ hash }) => !known.has(hash));
    for (const { hash } of contents) known.add(hash);
    return { ...file, size: fresh.reduce((sum, content) => sum + content.size, 0) };
  });
  type File = (typeof files)[number];
  const share = (some: readonly File[]) => ({
    size: some.reduce((sum, file) => sum + file.size, 0),
    files: some.length,
  });
  const grouped = <K>(by: (file: File) => K) => {
    const groups = new Map<K, File[]>();
    for (const file of files) groups.set(by(file), [...(groups.get(by(file)) ?? []), file]);
    return [...groups]
      .map(([key, some]) => ({ key, some, ...share(some) }))
      .sort((a, b) => b.size - a.size);
  };
  return {
    used: share(files).size,
    quota: settings.teacherQuota,
    kinds: grouped((file) => kindOf(file.mediaType)).map(({ key, size, files: count }) => ({
      kind: key,
      size,
      files: count,
    })),
    courses: grouped((file) => file.courseTitle).map(({ key, some, size, files: count }) => ({
      title: key,
      colour: some[0]!.courseColour,
      size,
      files: count,
    })),
    years: grouped((file) => file.yearLabel)
      .map(({ key, size, files: count }) => ({ label: key, size, files: count }))
      .sort((a, b) => (b.label ?? '').localeCompare(a.label ?? '')),
    largest: [...files]
      .sort((a, b) => b.size - a.size)
      .slice(0, 20)
      .map(({ placementId, title, extension, size, versions, folderId, folderTitle }) => ({
        placementId,
        title,
        extension,
        size,
        versions,
        folder: folderId === null ? null : { id: folderId, title: folderTitle ?? '' },
      })),
    unplaced: share(files.filter((file) => file.placementId === null)),
  };
}

/** The files of a person, oldest first, each with one of its places and what that is handed out to. */
function filesOf(db: Queries, personId: string) {
  return rows<FileRecord>(
    db,
    sql`select i.id as "itemId", i.title, i.extension, v.media_type as "mediaType",
        (select count(*)::int from versions w where w.item_id = i.id) as versions,
        (select json_agg(distinct jsonb_build_object('hash', w.hash, 'size', w.size))
          from versions w where w.item_id = i.id) as contents,
        place.id as "placementId", place.folder_id as "folderId", place.title as "folderTitle",
        place.course as "courseTitle", place.colour as "courseColour", place.year as "yearLabel"
      from items i join versions v on v.id = i.current_version_id
        left join lateral (
          select p.id, p.folder_id, f.title, course.title as course, course.colour,
            coalesce(course.year, (select y.label from folders n join years y on y.id = n.year_id
              where n.id = any (f.path) order by cardinality(n.path) desc limit 1)) as year
          from placements p join folders f on f.id = p.folder_id
            left join lateral (
              select k.title, k.colour, y.label as year
              from grants g left join classes c on c.id = g.class_id
                join courses k on k.id = coalesce(g.course_id, c.course_id) join years y on y.id = k.year_id
              where g.folder_id = any (f.path) and g.taken_back_at is null
              order by y.first_day desc, k.title limit 1) course on true
          where p.item_id = i.id and p.binned_at is null
            and not exists (select from folders n where n.id = any (f.path) and n.binned_at is not null)
          order by course.title is null, p.added_at limit 1) place on true
      where i.owner_id = ${personId}::uuid and i.kind = 'file'
      order by i.created_at, i.id`,
  );
}
