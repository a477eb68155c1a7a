import { LINK_HOURS, passwordToken } from '../../platform/passwords.ts';
import type { Services } from '../../services.ts';
import { countAttempt } from '../../platform/rate-limits.ts';
import { personByEmail } from './queries.ts';

/**
 * Sends the person of an address a mail by which they set a new password. Nothing tells whether there is one; asking
 * counts as a try, so that nobody's post is flooded. Throws `too-many-tries`.
 */
export async function mailPassword(
  {
    db,
    now,
    post,
    rateLimits,
    settings,
  }: Pick<Services, 'db' | 'now' | 'post' | 'rateLimits' | 'settings'>,
  email: string,
  ip: string,
): Promise<void> {
  await countAttempt(rateLimits, `forgotten ${email}`, ip);
  const t = now();
  await db.transaction(async (tx) => {
    const person = await personByEmail(tx, settings, email);
    if (!person) return;
    const words = post.words(person.language).password;
    const token = await passwordToken(tx, person.id, 'password', t);
    await post.queue(
      tx,
      [
        {
          schoolId: person.schoolId,
          kind: 'password',
          personId: person.id,
          subject: words.subject(person.school),
          body: words.body(LINK_HOURS.password),
          path: `/password/${token}`,
        },
      ],
      t,
    );
  });
  await post.soon();
}
