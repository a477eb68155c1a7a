import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';

/** The source of the server by its paths, but for the schema, the sample and the stand-ins of what is outside. */
const SOURCE = fileURLToPath(new URL('../src/', import.meta.url));
const files = readdirSync(SOURCE, { recursive: true, encoding: 'utf8' })
  .filter((path) => path.endsWith('.ts') && !/^(db|standin)\//u.test(path))
  .map((path) => ({ path, text: readFileSync(`${SOURCE}${path}`, 'utf8') }));

/** The tables into which a file writes. */
function tablesWritten(text: string): Set<string> {
  const built = /\b(?:tx|db)\s*\.(?:insert|update|delete)\((\w+)\)/gu;
  const written = /\b(?:insert into|delete from|update) (?!of\b|set\b|skip\b)(\w+)/gu;
  const snake = (name: string) => name.replace(/[A-Z]/gu, (letter) => `_${letter.toLowerCase()}`);
  return new Set(
    [...text.matchAll(built), ...text.matchAll(written)].map(([, name]) => snake(name!)),
  );
}

describe('the shape of the server', () => {
  it('has one writer for each table; only what is deleted for good, erased or merged goes through many at once', () => {
    const writers: Record<string, string[]> = {};
    for (const { path, text } of files)
      if (
        ![
          'domain/erase.ts',
          'domain/merge.ts',
          'domain/purge.ts',
          'domain/remove-school.ts',
        ].includes(path)
      )
        for (const table of tablesWritten(text)) (writers[table] ??= []).push(path);
    expect(Object.fromEntries(Object.entries(writers).map(([t, by]) => [t, by.sort()]))).toEqual({
      announced: ['domain/quota.ts'],
      appearance_people: ['domain/class-pages.ts'],
      appearances: ['domain/class-pages.ts'],
      blobs: ['domain/contents.ts'],
      box_copies: ['domain/boxes.ts'],
      boxes: ['domain/boxes.ts'],
      carried: ['domain/carry-overs.ts'],
      carry_overs: ['domain/carry-overs.ts'],
      class_pages: ['domain/class-pages.ts'],
      class_releases: ['domain/releases.ts'],
      classes: ['domain/courses.ts'],
      course_teachers: ['domain/courses.ts'],
      courses: ['domain/courses.ts'],
      credentials: ['platform/passwords.ts'],
      dav_files: ['domain/programs/dav-files.ts'],
      dav_locks: ['domain/programs/locks.ts'],
      dav_properties: ['domain/programs/properties.ts'],
      doors: ['domain/doors.ts'],
      entries: ['domain/class-pages.ts'],
      entry_things: ['domain/class-pages.ts'],
      feeds: ['domain/feeds.ts'],
      // Whole paths of folders are made at once, and moves concern folders and placements alike.
      folders: ['domain/folder-paths.ts', 'domain/folders.ts', 'domain/positions.ts'],
      grants: ['domain/grants.ts'],
      hand_overs: ['domain/hand-overs.ts'],
      headings: ['domain/class-pages.ts'],
      // A file's newest version is noted at the item.
      items: ['domain/placements.ts', 'domain/versions.ts'],
      join_requests: ['features/roster/queries.ts'],
      kept: ['domain/kept.ts'],
      log: ['domain/log.ts'],
      lessons: ['domain/timetable.ts'],
      // A note that is sent again, or not at all, concerns its mails.
      mails: ['domain/notes.ts', 'platform/mail.ts'],
      memberships: ['domain/memberships.ts'],
      notes: ['domain/notes.ts'],
      opening_days: ['domain/openings.ts'],
      // A version that is withdrawn takes its traces along.
      opening_counts: ['domain/openings.ts', 'domain/versions.ts'],
      openings: ['domain/openings.ts', 'domain/versions.ts'],
      page_drafts: ['domain/pages/pages.ts'],
      page_pictures: ['domain/pages/pages.ts'],
      passkeys: ['platform/passkeys.ts'],
      people: ['domain/people.ts'],
      placements: ['domain/placements.ts', 'domain/positions.ts'],
      // A content is noted when it arrives; what is made of it, by whoever makes it.
      previews: ['domain/contents.ts', 'features/preview/queries.ts'],
      remark_reads: ['domain/remarks.ts'],
      remarks: ['domain/remarks.ts'],
      requests: ['domain/requests.ts'],
      round_steps: ['domain/tray.ts'],
      rounds: ['domain/tray.ts'],
      schools: ['domain/schools.ts'],
      school_days: ['domain/timetable.ts'],
      sessions: ['platform/passwords.ts'],
      stale_marks: ['domain/carry-overs.ts'],
      teacher_settings: ['domain/teacher-settings.ts'],
      texts: ['domain/contents.ts', 'features/preview/queries.ts'],
      tokens: ['domain/programs/tokens.ts'],
      tray_files: ['domain/tray.ts'],
      two_factors: ['platform/passwords.ts'],
      uploads: ['domain/versions.ts', 'features/intake/queries.ts'],
      verifications: ['platform/passwords.ts'],
      version_pictures: ['domain/pages/pages.ts'],
      versions: ['domain/versions.ts'],
      visitor_salts: ['domain/openings.ts'],
      waiting_moves: ['domain/programs/waiting-moves.ts'],
      years: ['domain/courses.ts'],
    });
  });

  it('finds what is handed out to somebody in domain/access alone', () => {
    const found = files
      .filter(({ text }) => /\bhandings_out\b/u.test(text))
      .map(({ path }) => path);
    expect(found.sort()).toEqual([
      'domain/access/access-sql.ts',
      'domain/access/class-reach.ts',
      'domain/access/load-library.ts',
      'domain/access/year-folders.ts',
      'domain/live/queries.ts',
    ]);
  });
});
