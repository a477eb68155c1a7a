import type { Language } from '@sammlung/contract';
import { sql } from 'drizzle-orm';
import type { Library, Viewer } from '@sammlung/core';
import { at, ms, rows, uuids, type Database, type Queries } from '../db/database.ts';
import { notes } from '../db/schema/index.ts';
import { active, mailLanguage } from './people.ts';
import { inSpan } from './spans.ts';
import { pathTo } from './grants.ts';
import { loadLibrary } from './access/load-library.ts';
import { loadPeople } from './access/load-world.ts';
import type { DueMail, Mail, Post } from '../platform/mail.ts';
import { passwordToken, renewToken } from '../platform/passwords.ts';
import type { SignedIn } from '../platform/sessions.ts';
import type { Words } from '../platform/texts.ts';

/** What a teacher writes to those to whom something is handed out. */
export interface CoverNote {
  readonly body: string;
  readonly copyToSender: boolean;
}

/** Somebody who gets a mail of a note. */
type Addressee = {
  noteId: string;
  personId: string;
  ready: boolean;
  language: Language | null;
  title: string;
  path: string;
  fromAt: number | null;
  untilAt: number | null;
};
type Reached = Omit<Addressee, 'noteId'> & { grantId: string };
/** What a mail says first: that something has been handed out, or that somebody is asked to look at it. */
type Says = 'body' | 'reminder';

/** Whether person `p` can sign in. */
const READY = sql`exists (select from credentials d where d.user_id = p.id and d.password is not null)`;

/**
 * Queues a note to everybody with a mail address whom these handings out reach: one mail to one person, with a link of
 * their own. Whoever cannot sign in yet is led past choosing a password. Mails of a handing out that begins later wait
 * for its beginning. Resolves to how many people get one.
 */
export async function queueNote(
  post: Post,
  tx: Queries,
  sender: SignedIn,
  grantIds: readonly string[],
  note: CoverNote,
  t: number,
): Promise<number> {
  const reached = await reachedBy(tx, grantIds, sender.id, t);
  const noteIds = new Map<string, string>();
  for (const grantId of grantIds)
    noteIds.set(grantId, await addNote(tx, sender, { grantId }, note, t));
  // Somebody in two of the audiences gets one mail.
  const perPerson = new Map(reached.map((r) => [r.personId, r]));
  const mails = [...perPerson.values()].map((person) => ({
    ...person,
    noteId: noteIds.get(person.grantId)!,
  }));
  return queueMails(post, tx, sender, mails, note, 'body', t);
}

/**
 * Queues a note about an item to some of those who have it, each with a mail address led to a placement that they see. Resolves to how many
 * get one.
 */
export async function queueReminder(
  post: Post,
  tx: Queries,
  sender: SignedIn,
  { itemId, title }: { readonly itemId: string; readonly title: string },
  note: CoverNote,
  to: readonly { readonly personId: string; readonly placementId: string }[],
  t: number,
): Promise<number> {
  const found = await rows<Pick<Addressee, 'personId' | 'language' | 'ready' | 'path'>>(
    tx,
    sql`select p.id as "personId", ${mailLanguage(sql`p`)} as language, ${READY} as ready, '/item/' || x.placement_id as path
      from unnest(${uuids(to.map(({ personId }) => personId))}, ${uuids(to.map(({ placementId }) => placementId))}) x (person_id, placement_id)
        join people p on p.id = x.person_id and p.email is not null and ${active(sql`p`)}`,
  );
  if (found.length === 0) return 0;
  const noteId = await addNote(tx, sender, { itemId }, note, t);
  const mails = found.map((one) => ({ ...one, title, noteId, fromAt: null, untilAt: null }));
  return queueMails(post, tx, sender, mails, note, 'reminder', t);
}

async function addNote(
  tx: Queries,
  sender: SignedIn,
  about: { grantId: string } | { itemId: string },
  { body, copyToSender }: CoverNote,
  t: number,
): Promise<string> {
  const [made] = await tx
    .insert(notes)
    .values({
      ...{ schoolId: sender.schoolId, ...about, body, copyToSender },
      ...{ createdBy: sender.id, createdAt: new Date(t) },
    })
    .returning({ id: notes.id });
  return made!.id;
}

/** Queues a mail to each, and a copy to the sender where they want one. Resolves to how many people get one. */
async function queueMails(
  post: Post,
  tx: Queries,
  sender: SignedIn,
  to: readonly Addressee[],
  { copyToSender }: CoverNote,
  says: Says,
  t: number,
): Promise<number> {
  const byStart = new Map<number, Mail[]>();
  for (const person of to) {
    const start = Math.max(t, person.fromAt ?? t);
    const path = person.ready
      ? person.path
      : `/password/${await passwordToken(tx, person.personId, 'invitation', start)}?to=${encodeURIComponent(person.path)}`;
    const mail = mailOf(post.words(person.language), sender, { ...person, path }, says);
    byStart.set(start, [...(byStart.get(start) ?? []), mail]);
  }
  for (const [start, mails] of byStart) await post.queue(tx, mails, start);
  const [first] = to;
  if (copyToSender && first) {
    const words = post.words(sender.language);
    const copy = mailOf(words, sender, first, says);
    const subject = words.note.copy(copy.subject);
    await post.queue(tx, [{ ...copy, personId: sender.id, subject }], t);
  }
  return to.length;
}

/** A mail that has waited this long for its thing to go out is given up. */
const GIVEN_UP_MS = 180 * 24 * 60 * 60 * 1000;

/**
 * Of these mails, those of notes about something that their reader does not see at `t`: a mail must not name what is held
 * back. They wait until it goes out; what ends before that, or takes half a year, is not told any more.
 */
export async function unseenNotes(
  db: Database,
  mails: readonly Pick<DueMail, 'id' | 'personId' | 'noteId' | 'path'>[],
  t: number,
): Promise<ReadonlySet<string>> {
  const about = await rows<About>(
    db,
    sql`select n.id as "noteId", g.folder_id as "folderId", coalesce(g.item_id, n.item_id) as "itemId", n.created_by as "senderId",
        coalesce(g.taken_back_at is not null or g.until_at <= ${at(t)}, false)
          or n.created_at < ${at(t - GIVEN_UP_MS)} as over
      from notes n left join grants g on g.id = n.grant_id
      where n.id = any (${uuids(mails.flatMap(({ noteId }) => noteId ?? []))})`,
  );
  const waiting = new Set<string>();
  const over: string[] = [];
  for (const { noteId, folderId, itemId, senderId, over: ended } of about) {
    const those = mails.filter((mail) => mail.noteId === noteId && mail.personId !== senderId);
    if (ended) over.push(...those.map(({ id }) => id));
    const [library, people] = await Promise.all([
      loadLibrary(db, { folderIds: folderId ? [folderId] : [], itemIds: itemId ? [itemId] : [] }),
      loadPeople(
        db,
        those.flatMap(({ personId }) => personId ?? []),
      ),
    ]);
    const seen = new Set(
      people.filter((person) => sees(library, person, { folderId, itemId }, t)).map(({ id }) => id),
    );
    for (const { id, personId } of those) if (ended || !seen.has(personId ?? '')) waiting.add(id);
  }
  if (over.length > 0) await db.execute(sql`delete from mails where id = any (${uuids(over)})`);
  for (const { id, noteId, path } of mails)
    if (noteId && path && !waiting.has(id)) await renewToken(db, path, t);
  return waiting;
}

type About = {
  noteId: string;
  folderId: string | null;
  itemId: string | null;
  senderId: string;
  over: boolean;
};

function sees(
  library: Library,
  person: NonNullable<Viewer['person']>,
  { folderId, itemId }: Pick<About, 'folderId' | 'itemId'>,
  t: number,
): boolean {
  const viewer: Viewer = { person, doors: [] };
  if (folderId) return library.seesFolder(viewer, folderId, t);
  return library.placesOf(itemId ?? '').some(({ id }) => library.seesPlacement(viewer, id, t));
}

/** Notes that wait for the beginning of a handing out are not sent when it is taken back. */
export async function withdrawNotes(tx: Queries, grantIds: readonly string[]): Promise<void> {
  await tx.execute(sql`delete from mails m using notes n
    where n.id = m.note_id and n.grant_id = any (${uuids(grantIds)}) and m.state = 'waiting'`);
}

/** Lets the mails of a person's note that did not arrive be tried again. Resolves to whether it is theirs. */
export async function sendFailedAgain(
  db: Queries,
  noteId: string,
  senderId: string,
  t: number,
): Promise<boolean> {
  const found = await rows(
    db,
    sql`with mine as (select id from notes where id = ${noteId}::uuid and created_by = ${senderId}::uuid),
      again as (update mails m set state = 'waiting', tries = 0, due_at = ${at(t)} from mine
        where m.note_id = mine.id and m.state = 'failed')
      select id from mine`,
  );
  return found.length > 0;
}

function mailOf({ locale, note }: Words, sender: SignedIn, to: Addressee, says: Says): Mail {
  const until = to.untilAt && note.until(moment(to.untilAt, locale, sender.timeZone));
  return {
    schoolId: sender.schoolId,
    kind: 'note',
    personId: to.personId,
    noteId: to.noteId,
    subject: note.subject(to.title, sender.name),
    body: [note[says](to.title, sender.name), until, note.here].filter(Boolean).join(' '),
    path: to.path,
  };
}

function moment(t: number, locale: string, timeZone: string): string {
  return new Intl.DateTimeFormat(locale, {
    timeZone,
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
  }).format(t);
}

/** Everybody with a mail address to whom these are handed out, classes as they will be when it begins. */
async function reachedBy(tx: Queries, grantIds: readonly string[], senderId: string, t: number) {
  return rows<Reached>(
    tx,
    sql`select distinct on (p.id) g.id as "grantId", p.id as "personId", ${mailLanguage(sql`p`)} as language, coalesce(f.title, i.title) as title,
        ${READY} as ready,
        ${pathTo(sql`f`, sql`i`)} as path, ${ms(sql`g.from_at`)} as "fromAt", ${ms(sql`g.until_at`)} as "untilAt"
      from grants g left join folders f on f.id = g.folder_id left join items i on i.id = g.item_id
        join people p on p.school_id = g.school_id and p.email is not null and ${active(sql`p`)} and p.id <> ${senderId}::uuid and (
          (g.audience_kind = 'person' and p.id = g.person_id)
          or (g.audience_kind = 'staff' and p.kind <> 'student')
          or (g.audience_kind in ('class', 'course') and exists (
            select from memberships m join classes c on c.id = m.class_id
              join years y on y.id = c.year_id and y.closed_at is null
            where m.person_id = p.id and (c.id = g.class_id or c.course_id = g.course_id)
              and ${inSpan(sql`m`, sql`greatest(g.from_at, ${at(t)})`)})))
      where g.id = any (${uuids(grantIds)}) and g.taken_back_at is null
      order by p.id, g.from_at nulls first`,
  );
}
