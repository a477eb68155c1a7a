import type { Today } from '@sammlung/contract';
import { confidentialWord, groupBy } from '@sammlung/core';
import { confidentialWords } from '../../domain/teacher-settings.ts';
import { AppError } from '../../platform/errors.ts';
import { sentNotes } from '../../domain/sent-notes.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { flagsOf, lastAdded, removedByOthers, requestsTo, scheduledChanges } from './queries.ts';

/** How far ahead is looked: this week and the next one. */
const AHEAD_MS = 14 * 24 * 60 * 60 * 1000;
const ADDED = 12;
const REMOVED = 12;

/** What a teacher wants to know when the day begins. */
export async function today(
  { db, now }: Pick<Services, 'db' | 'now'>,
  person: SignedIn,
): Promise<Today> {
  if (person.kind === 'student') throw new AppError('not-found');
  const t = now();
  const [scheduled, requests, flags, notes, added, removed, words] = await Promise.all([
    scheduledChanges(db, person.id, t, t + AHEAD_MS),
    requestsTo(db, person.id),
    flagsOf(db, person.id, t),
    sentNotes(db, person.id),
    lastAdded(db, person.id, ADDED),
    removedByOthers(db, person.id, REMOVED),
    confidentialWords(db, person.id),
  ]);
  const merged = groupBy(scheduled, (x) => `${x.at} ${x.what} ${x.kind} ${x.id}`);
  return {
    scheduled: [...merged.values()].map((several) => {
      const { kind, id, title, place, what, at } = several[0]!;
      const audiences = several.flatMap(({ label, colour }) => (label ? [{ label, colour }] : []));
      return { thing: { kind, id }, title, place, what, at, for: audiences };
    }),
    requests: requests.flatMap(({ folderId, placementId, name, personKind, ...request }) => {
      const thing = folderId
        ? { kind: 'folder' as const, id: folderId }
        : placementId && { kind: 'placement' as const, id: placementId };
      return thing ? [{ ...request, thing, person: { name, kind: personKind } }] : [];
    }),
    flags: flags.map(({ thingKind, id, ...flag }) => ({
      ...flag,
      thing: thingKind && id ? { kind: thingKind, id } : null,
      word: flag.kind === 'public' ? confidentialWord(flag.title, words) : null,
    })),
    notes: notes.filter((note) => note.failed.length > 0 || note.trying !== null),
    added: added.map(({ id, folderId, folderTitle, ...rest }) => ({
      ...rest,
      thing: { kind: 'placement' as const, id },
      folder: { id: folderId, title: folderTitle },
    })),
    removed: removed.map(({ kind, id, ...rest }) => ({ ...rest, thing: { kind, id } })),
  };
}
