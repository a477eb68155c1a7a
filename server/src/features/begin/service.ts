import type { Beginning } from '@sammlung/contract';
import { PASSWORD_LENGTH } from '@sammlung/core';
import { hash } from '@node-rs/argon2';
import { addYear } from '../../domain/courses.ts';
import { addPeople, emailTaken } from '../../domain/people.ts';
import { addSchool, hasSchool, lockSchools } from '../../domain/schools.ts';
import { AppError } from '../../platform/errors.ts';
import {
  beginToken,
  beginUntil,
  forgetBeginTokens,
  setPassword,
} from '../../platform/passwords.ts';
import { countBegin } from '../../platform/rate-limits.ts';
import type { Services } from '../../services.ts';

type Needs = Pick<Services, 'db' | 'now' | 'rateLimits' | 'hashing'>;

/**
 * A one-time address by which the school of this server begins, good for a day; null where there is one already. The sample does not
 * count as one.
 */
export async function beginAddress({
  db,
  now,
  address,
}: Pick<Services, 'db' | 'now' | 'address'>): Promise<string | null> {
  if (await hasSchool(db)) return null;
  return `${address()}/begin/${await beginToken(db, now())}`;
}

/** Until when a school can begin by this token. Throws `begin-over`. */
export async function offerOf({ db, now, rateLimits }: Needs, token: string, ip: string) {
  const giveBack = await countBegin(rateLimits, ip);
  const until = await beginUntil(db, token, now());
  if (until === null || (await hasSchool(db))) throw new AppError('begin-over');
  await giveBack();
  return { until: new Date(until).toISOString() };
}

/** Begins by such a token, which is good for nothing afterwards. Throws `begin-over`, and what `begin` throws. */
export async function beginBy(services: Needs, token: string, wanted: Beginning, ip: string) {
  await offerOf(services, token, ip);
  await begin(services, wanted, token);
}

/**
 * Makes the school of this server with its first office account and year. Of several at the same time the first one counts. Throws
 * `begin-over` where there is a school already or the token is good for nothing, `email-taken`, `password-short`.
 */
export async function begin(
  { db, now, hashing }: Pick<Needs, 'db' | 'now' | 'hashing'>,
  { school, person, year }: Beginning,
  token?: string,
): Promise<void> {
  if (person.password.length < PASSWORD_LENGTH)
    throw new AppError('password-short', {
      faults: [{ field: 'person.password', fault: 'password-short' }],
    });
  const password = await hashing(() => hash(person.password));
  await db.transaction(async (tx) => {
    await lockSchools(tx);
    if (await hasSchool(tx)) throw new AppError('begin-over');
    if (token !== undefined && (await beginUntil(tx, token, now())) === null)
      throw new AppError('begin-over');
    if (await emailTaken(tx, person.email))
      throw new AppError('email-taken', {
        faults: [{ field: 'person.email', fault: 'email-taken' }],
      });
    const schoolId = await addSchool(tx, school);
    const { name, email } = person;
    const [personId] = await addPeople(tx, [
      { schoolId, kind: 'office', name, email, language: school.language },
    ]);
    await setPassword(tx, personId!, password);
    await addYear(tx, { schoolId, ...year });
    await forgetBeginTokens(tx);
  });
}
