import { randomInt } from 'node:crypto';
import type { Language } from '@sammlung/contract';
import { firstPassword, signInStem } from '@sammlung/core';
import { hash } from '@node-rs/argon2';
import { sql } from 'drizzle-orm';
import { rows, type Queries } from '../db/database.ts';
import type { Hashing } from '../platform/hashing.ts';
import type { Mail, Post } from '../platform/mail.ts';
import { LINK_HOURS, passwordToken, setFirstPasswords } from '../platform/passwords.ts';
import type { Words } from '../platform/texts.ts';
import type { Services } from '../services.ts';
import { changePerson, mailLanguage, type Person } from './people.ts';

/** How people come in at first: sign-in names, and first passwords on slips. */

/** A sign-in name that nobody has for each stem: with a number behind it. */
export async function freeSignInNames(
  tx: Queries,
  stems: readonly (string | null)[],
): Promise<(string | null)[]> {
  const taken = new Set(
    await signInNamesOn(
      tx,
      stems.filter((stem) => stem !== null),
    ),
  );
  return stems.map((stem) => {
    if (stem === null) return null;
    for (let digits = 2; ; digits += 1) {
      for (let tries = 0; tries < 20; tries += 1) {
        const name = `${stem}${randomInt(10 ** (digits - 1), 10 ** digits)}`;
        if (taken.has(name)) continue;
        taken.add(name);
        return name;
      }
    }
  });
}

/** The sign-in names that are one of these stems with a number behind it, at any school. */
async function signInNamesOn(tx: Queries, stems: readonly string[]): Promise<string[]> {
  const known = await rows<{ name: string }>(
    tx,
    sql`select lower(sign_in_name) as name from people where sign_in_name is not null
      and regexp_replace(lower(sign_in_name), '[0-9]+$', '') = any (${sql.param([...new Set(stems)])}::text[])`,
  );
  return known.map(({ name }) => name);
}

/** How long an invitation lets somebody choose a password. */
export const INVITATION_DAYS = LINK_HOURS.invitation / 24;

/** Queues a mail to each of these people by which they choose a password. `says`: what is in it, in the words of a language. */
export async function queueInvitations(
  tx: Queries,
  post: Post,
  schoolId: string,
  people: readonly { readonly id: string; readonly language: Language | null }[],
  says: (words: Words) => { readonly subject: string; readonly body: string },
  t: number,
): Promise<void> {
  const mails: Mail[] = [];
  for (const { id, language } of people) {
    const token = await passwordToken(tx, id, 'invitation', t);
    mails.push({
      ...{ schoolId, kind: 'invitation', personId: id, path: `/password/${token}` },
      ...says(post.words(language)),
    });
  }
  await post.queue(tx, mails, t);
}

/** A new first password and its hash. */
export interface FirstPassword {
  readonly firstPassword: string;
  readonly hash: string;
}

/**
 * A first password for each of these ids. Before the transaction: nothing that waits to be hashed holds a connection, which others wait
 * for in turn. One by one, so that whoever signs in meanwhile comes in between.
 */
export async function newFirstPasswords(
  hashing: Hashing,
  ids: readonly string[],
): Promise<Map<string, FirstPassword>> {
  const made = new Map<string, FirstPassword>();
  for (const id of ids) {
    const word = firstPassword(randomInt);
    made.set(id, { firstPassword: word, hash: await hashing(() => hash(word)) });
  }
  return made;
}

/** Gives people their first passwords, and a sign-in name to those who have neither that nor an address. Resolves to what is on the slips. */
export async function giveFirstPasswords(
  tx: Queries,
  those: readonly Pick<Person, 'id' | 'name' | 'email' | 'signInName'>[],
  passwords: ReadonlyMap<string, FirstPassword>,
) {
  const nameless = those.filter((p) => p.email === null && p.signInName === null);
  const names = await freeSignInNames(
    tx,
    nameless.map((p) => signInStem(p.name)),
  );
  for (const [n, { id }] of nameless.entries())
    await changePerson(tx, id, { signInName: names[n]! });
  const nameOf = new Map(nameless.map((p, n) => [p.id, names[n]!]));
  const slips = those.map((p) => ({
    personId: p.id,
    name: p.name,
    signInName: p.email ?? p.signInName ?? nameOf.get(p.id)!,
    ...passwords.get(p.id)!,
  }));
  await setFirstPasswords(tx, slips);
  return slips.map(({ name, signInName, firstPassword: word }) => ({
    name,
    signInName,
    firstPassword: word,
  }));
}

/** Tells a person by mail what has changed about how they sign in: it may have been somebody else. Nobody without an address is told. */
export async function tellAccountChange(
  { db, now, post }: Pick<Services, 'db' | 'now' | 'post'>,
  personId: string,
  what: keyof Words['account']['toldBody'],
): Promise<void> {
  const [person] = await rows<{ schoolId: string; school: string; language: Language | null }>(
    db,
    sql`select p.school_id as "schoolId", s.name as school, ${mailLanguage(sql`p`)} as language
      from people p join schools s on s.id = p.school_id where p.id = ${personId}::uuid and p.email is not null`,
  );
  if (!person) return;
  const { account } = post.words(person.language);
  const body = `${account.toldBody[what]} ${account.notYou}`;
  const { schoolId } = person;
  await post.queue(
    db,
    [{ schoolId, kind: 'account', personId, subject: account.told(person.school), body }],
    now(),
  );
  await post.soon();
}
