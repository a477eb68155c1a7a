import { createHash, randomBytes, timingSafeEqual } from 'node:crypto';
import type { MadePasskey, PasskeyAnswer } from '@sammlung/contract';
import { verifyAuthenticationResponse, verifyRegistrationResponse } from '@simplewebauthn/server';
import { and, eq, isNull } from 'drizzle-orm';
import type { Queries } from '../db/database.ts';
import { passkeys, people, schools } from '../db/schema/index.ts';
import type { Services } from '../services.ts';
import { mayEnter } from './sessions.ts';

/**
 * Passkeys (WebAuthn level 3): what a device shows who somebody is by, once they have shown it themselves. better-auth's plugin for them
 * does not go with the better-auth that is in use; the ceremonies are checked by SimpleWebAuthn.
 */

type Signs = Pick<Services, 'sign' | 'now'>;

/** A challenge is answered within so many minutes. */
const MINUTES = 3;
/** ES256, EdDSA and RS256: what devices and security keys can do. */
export const ALGORITHMS = [-8, -7, -257];

/** A challenge for one purpose. Nothing of it is kept: it says itself until when it is good. */
export function newChallenge({ sign, now }: Signs, purpose: string): string {
  const text = `${now() + MINUTES * 60_000}.${randomBytes(16).toString('base64url')}`;
  return Buffer.from(`${text}.${sign(`passkey ${purpose} ${text}`)}`).toString('base64url');
}

/** Whether a challenge is one of ours for this purpose, and in time. */
function isChallenge({ sign, now }: Signs, purpose: string, challenge: string): boolean {
  const [until = '', nonce = '', given = ''] = Buffer.from(challenge, 'base64url')
    .toString('utf8')
    .split('.');
  const right = Buffer.from(sign(`passkey ${purpose} ${until}.${nonce}`));
  const mine =
    right.length === Buffer.byteLength(given) && timingSafeEqual(right, Buffer.from(given));
  return mine && Number(until) > now();
}

/** What passkeys are made for and used at: the address at which browsers reach the application. */
export function relyingParty(address: string): { origin: string; id: string } {
  const { origin, hostname } = new URL(address);
  return { origin, id: hostname };
}

/** What is expected of an answer to a challenge: also that whoever holds the device has shown who they are (PIN, finger, face). */
const expected = (services: Signs & Pick<Services, 'address'>, purpose: string) => ({
  expectedChallenge: (challenge: string) => isChallenge(services, purpose, challenge),
  expectedOrigin: relyingParty(services.address()).origin,
  expectedRPID: relyingParty(services.address()).id,
  requireUserVerification: true,
});

/** What a check says of what was answered; null where it is not in order. Whatever is wrong with it was sent to us. */
async function unlessWrong<T>(check: Promise<T>): Promise<T | null> {
  return check.catch(() => null);
}

export const passkeysOf = (db: Queries, personId: string) =>
  db
    .select()
    .from(passkeys)
    .where(eq(passkeys.userId, personId))
    .orderBy(passkeys.createdAt, passkeys.id);

/** Adds a passkey that a browser has made for a person; false where the answer is not in order, or the key somebody’s already. */
export async function addPasskey(
  services: Signs & Pick<Services, 'address'>,
  db: Queries,
  { id: userId }: { readonly id: string },
  name: string,
  response: MadePasskey,
): Promise<boolean> {
  const made = await unlessWrong(
    verifyRegistrationResponse({
      response: { ...response, clientExtensionResults: {} },
      ...expected(services, `new ${userId}`),
      supportedAlgorithmIDs: ALGORITHMS,
    }),
  );
  if (!made?.verified) return false;
  const { id, publicKey, counter } = made.registrationInfo.credential;
  const added = await db
    .insert(passkeys)
    .values({
      ...{ userId, name, credentialId: id, counter },
      publicKey: Buffer.from(publicKey).toString('base64url'),
      transports: response.response.transports,
    })
    .onConflictDoNothing()
    .returning({ id: passkeys.id });
  return added.length > 0;
}

/** Removes a passkey of a person; resolves to whether there was one. */
export async function removePasskey(db: Queries, personId: string, id: string): Promise<boolean> {
  const removed = await db
    .delete(passkeys)
    .where(and(eq(passkeys.id, id), eq(passkeys.userId, personId)))
    .returning({ id: passkeys.id });
  return removed.length > 0;
}

/** The passkey that a browser answers by, of somebody who may come in by it; null where there is none. */
export async function knownPasskey(
  { db, settings }: Pick<Services, 'db' | 'settings'>,
  { id }: PasskeyAnswer,
): Promise<typeof passkeys.$inferSelect | null> {
  const [known] = await db
    .select({ passkey: passkeys })
    .from(passkeys)
    .innerJoin(people, eq(people.id, passkeys.userId))
    .innerJoin(schools, eq(schools.id, people.schoolId))
    .where(
      and(
        eq(passkeys.credentialId, id),
        isNull(people.deactivatedAt),
        mayEnter(settings),
        settings.passwords === 'office' ? eq(people.kind, 'office') : undefined,
      ),
    );
  return known?.passkey ?? null;
}

/** Whether an answer is in order, and the first one with its count; notes that the passkey was used. */
export async function hasAnswered(
  services: Signs & Pick<Services, 'address' | 'db'>,
  { id, credentialId, publicKey, counter }: typeof passkeys.$inferSelect,
  response: PasskeyAnswer,
): Promise<boolean> {
  const answered = await unlessWrong(
    verifyAuthenticationResponse({
      response: { ...response, clientExtensionResults: {} },
      ...expected(services, 'sign in'),
      credential: { id: credentialId, publicKey: Buffer.from(publicKey, 'base64url'), counter },
    }),
  );
  if (!answered?.verified) return false;
  const used = await services.db
    .update(passkeys)
    .set({ counter: answered.authenticationInfo.newCounter, usedAt: new Date(services.now()) })
    .where(and(eq(passkeys.id, id), eq(passkeys.counter, counter)))
    .returning({ id: passkeys.id });
  return used.length > 0;
}

/** What a challenge that was answered is known by: each is good once. */
export const answeredChallenge = ({ response }: PasskeyAnswer): string =>
  createHash('sha256').update(response.clientDataJSON).digest('base64url');
