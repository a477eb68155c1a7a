import type { Language } from '@sammlung/contract';
import { sql } from 'drizzle-orm';
import nodemailer, { type Transporter } from 'nodemailer';
import { at, rows, uuids, type Database, type Queries } from '../db/database.ts';
import { mails } from '../db/schema/index.ts';
import type { Jobs } from './jobs.ts';
import type { Settings } from '../settings.ts';
import { TEXTS, type Words } from './texts.ts';

export type Mail = Omit<
  typeof mails.$inferInsert,
  'id' | 'state' | 'tries' | 'fault' | 'sentAt' | 'createdAt' | 'dueAt'
>;

/** Sends what is due. One mail goes to one person, and nobody reads another one's address. */
export interface Post {
  /** The words of a language; of the server's own where somebody has chosen none. */
  words(language: Language | null): Words;
  /** Puts mails in the queue, within the transaction that wants them sent. */
  queue(tx: Queries, mails: readonly Mail[], t: number): Promise<void>;
  /** Sees to it that what has been queued is sent soon. To be called after the transaction. */
  soon(): Promise<void>;
  /** Sends what is due at `t`; resolves to how many went out. */
  sendDue(t: number): Promise<number>;
  close(): void;
}

/** Whether mails go out to this person’s school: beside a real one, what the stand-in takes is of the sample alone. */
export const mailsGoOut = (
  { smtp, postRoom }: Pick<Settings, 'smtp' | 'postRoom'>,
  { sample }: { readonly sample: boolean },
): boolean => smtp !== null && (sample || !postRoom);

/** Minutes after which a mail is tried again: an hour without a mail server costs five tries, a day ten. */
const AGAIN_MINUTES = [1, 2, 5, 15, 30, 60, 120, 240, 480, 480];
const AT_ONCE = 20;
const JOB = 'post';

interface Needs {
  readonly db: Database;
  readonly jobs: Jobs | null;
  readonly settings: Pick<Settings, 'smtp' | 'mailFrom' | 'postRoom' | 'language'>;
  readonly address: () => string;
  readonly note: (error: unknown) => void;
  /** Of these mails, those that may not go out yet: they are looked at again every minute. */
  readonly mustWait: (mails: readonly DueMail[], t: number) => Promise<ReadonlySet<string>>;
}

/** Mail through SMTP, as jobs. Without a mail server in the settings mails wait in the queue. */
export async function startPost({
  db,
  jobs,
  settings,
  address,
  note,
  mustWait,
}: Needs): Promise<Post> {
  const transport = settings.smtp === null ? null : openTransport(settings.smtp);
  const post: Post = {
    words: (language) => TEXTS[language ?? settings.language],
    async queue(tx, wanted, t) {
      const dueAt = new Date(t);
      for (let n = 0; n < wanted.length; n += 500)
        await tx
          .insert(mails)
          .values(wanted.slice(n, n + 500).map((mail) => ({ ...mail, dueAt, createdAt: dueAt })));
    },
    async soon() {
      await jobs?.send(JOB, {}, JOB);
    },
    async sendDue(t) {
      let sent = 0;
      if (!transport) return sent;
      for (;;) {
        const due = await take(db, t, settings.postRoom);
        if (due.length === 0) return sent;
        const waiting = await mustWait(due, t);
        await lookAgain(db, [...waiting], t);
        const going = due.filter((mail) => !waiting.has(mail.id));
        await Promise.all(
          going.map(async (mail) => {
            if (await send(transport, mail)) sent += 1;
          }),
        );
      }
    },
    close() {
      transport?.close();
    },
  };

  async function send(by: Transporter, mail: DueMail): Promise<boolean> {
    try {
      await by.sendMail({
        from: { name: mail.sender ?? 'Sammlung', address: settings.mailFrom },
        to: { name: mail.name, address: mail.email },
        subject: oneLine(mail.subject),
        text: textOf(mail, address()),
        headers: { 'auto-submitted': 'auto-generated' },
      });
      await db.execute(sql`update mails set state = 'sent', sent_at = now(), fault = null, path = null,
        tries = tries + 1 where id = ${mail.id}::uuid`);
      return true;
    } catch (error) {
      const refusal = refusalOf(error);
      if (!refusal.final && mail.tries === 0) note(error);
      await putOff(db, mail, refusal);
      return false;
    }
  }

  if (jobs && transport) {
    await jobs.work(JOB, async () => void (await post.sendDue(Date.now())));
    await jobs.schedule(
      'post-again',
      '* * * * *',
      async () => void (await post.sendDue(Date.now())),
    );
  }
  return post;
}

function openTransport(url: string): Transporter {
  const at = new URL(url);
  return nodemailer.createTransport({
    host: at.hostname,
    port: Number(at.port) || (at.protocol === 'smtps:' ? 465 : 587),
    secure: at.protocol === 'smtps:',
    ...(at.username && {
      auth: { user: decodeURIComponent(at.username), pass: decodeURIComponent(at.password) },
    }),
    pool: true,
    maxConnections: 5,
    connectionTimeout: 10_000,
    greetingTimeout: 10_000,
    socketTimeout: 30_000,
    disableFileAccess: true,
    disableUrlAccess: true,
  });
}

export type DueMail = {
  id: string;
  /** Null for somebody without an account. */
  personId: string | null;
  noteId: string | null;
  subject: string;
  body: string;
  note: string | null;
  path: string | null;
  tries: number;
  name: string;
  email: string;
  sender: string | null;
};

/**
 * Takes mails that are due: while they are being sent they are put off, so that no other process sends them, and a
 * process that dies under way loses none. What everybody can read in the post room is of the sample school only
 * (`sampleOnly`): mails of another school wait for a real mail server.
 */
async function take(db: Database, t: number, sampleOnly: boolean): Promise<DueMail[]> {
  return rows<DueMail>(
    db,
    sql`with due as (
        select id from mails where state = 'waiting' and due_at <= ${at(t)}
          and (not ${sampleOnly} or exists (select from schools s where s.id = mails.school_id and s.sample))
        order by due_at
        limit ${AT_ONCE} for update skip locked),
      taken as (
        update mails m set due_at = ${at(t)} + interval '5 minutes' from due where m.id = due.id
        returning m.*)
      select m.id, m.person_id as "personId", m.note_id as "noteId", m.subject, m.body, n.body as note, m.path, m.tries, 
        coalesce(p.name, m.to_name) as name, coalesce(p.email, m.to_email) as email, s.name as sender
      from taken m left join people p on p.id = m.person_id left join notes n on n.id = m.note_id
        left join people s on s.id = n.created_by
      where coalesce(p.email, m.to_email) is not null`,
  );
}

/** Mails that were taken but may not go out yet are due again in a minute. */
async function lookAgain(db: Database, ids: readonly string[], t: number): Promise<void> {
  if (ids.length === 0) return;
  await db.execute(
    sql`update mails set due_at = ${at(t)} + interval '1 minute' where id = any (${uuids(ids)})`,
  );
}

interface Refusal {
  /** Whether trying again is of no use. */
  readonly final: boolean;
  readonly words: string;
}

/** A mail server's answer of 500 and more is final; no answer, or 400 and more, is not. */
function refusalOf(error: unknown): Refusal {
  const { responseCode, message } = error as { responseCode?: number; message?: string };
  return {
    final: responseCode !== undefined && responseCode >= 500,
    words: oneLine(message ?? String(error)).slice(0, 300),
  };
}

async function putOff(db: Database, mail: DueMail, { final, words }: Refusal) {
  const minutes = final ? undefined : AGAIN_MINUTES[mail.tries];
  await db.execute(
    minutes === undefined
      ? sql`update mails set state = 'failed', fault = ${words}, tries = tries + 1 where id = ${mail.id}::uuid`
      : sql`update mails set fault = ${words}, tries = tries + 1,
          due_at = due_at - interval '5 minutes' + make_interval(mins => ${minutes}) where id = ${mail.id}::uuid`,
  );
}

/** Line ends and other control characters have no place in a heading. */
const oneLine = (text: string) => text.replace(/[\p{Cc}\p{Cf}\u2028\u2029]+/gu, ' ').trim();

function textOf({ note, body, path }: DueMail, address: string): string {
  return [note, body, path && `${address}${path}`]
    .filter((part) => part !== null && part !== '')
    .join('\n\n');
}
