import type { FastifyReply, FastifyRequest } from 'fastify';
import { changesBy } from '../../domain/log.ts';
import { headersOf } from '../../platform/accounts.ts';
import { AppError } from '../../platform/errors.ts';
import { accountIdAt, OUTSIDE_PATH, PROVIDER, type Vouched } from '../../platform/outside.ts';
import { joinOutside } from '../../platform/passwords.ts';
import { countOutside } from '../../platform/rate-limits.ts';
import type { Services } from '../../services.ts';
import { personByEmail, personBySubject } from './queries.ts';

type Needs = Pick<Services, 'db' | 'now' | 'settings'>;

/**
 * Who somebody is that a provider vouches for: whoever has come by that subject before, or else whoever has that address, which is joined to
 * the subject from then on. Nobody else: who belongs to a school, and as what, its lists say. Nobody either where the address has come by
 * another subject before: it may have been given to somebody else.
 */
export async function whoIs(
  { db, now, settings }: Needs,
  issuer: string,
  { subject, email }: Vouched,
): Promise<{ key: string; name: string } | null> {
  const accountId = accountIdAt(issuer, subject);
  return db.transaction(async (tx) => {
    const known = await personBySubject(tx, settings, accountId);
    if (known) return known.enters ? known : null;
    const person = email === null ? null : await personByEmail(tx, settings, email);
    if (!person) return null;
    await changesBy(tx, person, now());
    if (!(await joinOutside(tx, person.id, issuer, accountId))) return null;
    return personBySubject(tx, settings, accountId);
  });
}

type Outside = Pick<Services, 'outside' | 'rateLimits' | 'address'>;

/** Begins signing in at the provider. Throws `not-found` where there is none, `provider-silent` where it does not answer. */
export async function leaveFor(
  { outside, rateLimits }: Outside,
  request: FastifyRequest,
  reply: FastifyReply,
  to: string,
): Promise<{ address: string }> {
  const provider = outside();
  if (!provider) throw new AppError('not-found');
  await countOutside(rateLimits, request.ip);
  const { headers, response } = await provider.api
    .signInSocial({
      body: {
        ...{ provider: PROVIDER, callbackURL: to, disableRedirect: true },
        errorCallbackURL: `/sign-in?to=${encodeURIComponent(to)}`,
      },
      headers: headersOf(request),
      returnHeaders: true,
    })
    .catch((error: unknown) => {
      request.log.error(error);
      throw new AppError('provider-silent');
    });
  if (!response.url) throw new AppError('provider-silent');
  reply.header('set-cookie', headers.getSetCookie());
  return { address: response.url };
}

/** Comes back from the provider: signed in, or to where signing in says what was wrong. */
export async function comeBack(
  { outside, address }: Outside,
  request: FastifyRequest,
  reply: FastifyReply,
): Promise<FastifyReply> {
  const provider = outside();
  if (!provider) throw new AppError('not-found');
  const { search } = new URL(request.url, address());
  const asked = new Request(`${address()}${OUTSIDE_PATH}/callback/${PROVIDER}${search}`, {
    headers: headersOf(request),
  });
  const answer = await provider.handler(asked);
  const location = answer.headers.get('location');
  return reply
    .header('set-cookie', answer.headers.getSetCookie())
    .header('cache-control', 'no-store')
    .redirect(location ?? '/sign-in?error=unknown', 303);
}
