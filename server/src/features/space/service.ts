import type { Space } from '@sammlung/contract';
import { kindOf } from '../../platform/file-kinds.ts';
import { AppError } from '../../platform/errors.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { filesOf } from './queries.ts';

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
