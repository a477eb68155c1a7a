import type { MadePasskey, NewPasskey, OwnPasskey } from '@sammlung/contract';
import type { FastifyRequest } from 'fastify';
import { changesBy } from '../../domain/log.ts';
import { tellAccountChange } from '../../domain/sign-ins.ts';
import { headersOf, unlessRefused } from '../../platform/accounts.ts';
import { AppError } from '../../platform/errors.ts';
import {
  addPasskey,
  ALGORITHMS,
  newChallenge,
  passkeysOf,
  relyingParty,
  removePasskey,
} from '../../platform/passkeys.ts';
import { signedIn, type SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import { byPassword, isStaff } from './by-password.ts';
import { accountOf } from './queries.ts';

type Needs = Pick<
  Services,
  'accounts' | 'address' | 'db' | 'hashing' | 'now' | 'post' | 'rateLimits' | 'settings' | 'sign'
>;

/** Somebody has so many at most. */
const MOST = 20;

/** Whether somebody may sign in by a passkey: staff, where they may by a password. */
const mayHave = ({ settings }: Pick<Needs, 'settings'>, person: SignedIn): boolean =>
  isStaff(person) && (settings.passwords === 'all' || person.kind === 'office');

function requireHolder(services: Pick<Needs, 'settings'>, request: FastifyRequest): SignedIn {
  const person = signedIn(request);
  if (!mayHave(services, person)) throw new AppError('not-found');
  return person;
}

const withPassword = (services: Needs, request: FastifyRequest, password: string) =>
  byPassword(services, request, () =>
    unlessRefused(
      services.accounts.api.verifyPassword({ body: { password }, headers: headersOf(request) }),
    ),
  );

/** One’s own passkeys, the oldest first; null for those who are not offered any. */
export async function ownPasskeys(
  services: Pick<Needs, 'db' | 'settings'>,
  person: SignedIn,
): Promise<OwnPasskey[] | null> {
  if (!mayHave(services, person)) return null;
  const found = await passkeysOf(services.db, person.id);
  return found.map(({ id, name, createdAt, usedAt }) => ({
    ...{ id, name, since: createdAt.toISOString(), used: usedAt?.toISOString() ?? null },
  }));
}

/** Begins a passkey: what a browser makes it by. Throws `passkeys-enough`, and as `byPassword`. */
export async function beginPasskey(
  services: Needs,
  request: FastifyRequest,
  password: string,
): Promise<NewPasskey> {
  const person = requireHolder(services, request);
  await withPassword(services, request, password);
  const known = await passkeysOf(services.db, person.id);
  if (known.length >= MOST) throw new AppError('passkeys-enough');
  const { name, email, signInName } = await accountOf(services.db, person.id);
  return {
    challenge: newChallenge(services, `new ${person.id}`),
    rp: { id: relyingParty(services.address()).id, name: `Sammlung, ${person.schoolName}` },
    user: {
      id: Buffer.from(person.id).toString('base64url'),
      ...{ name: email ?? signInName ?? name, displayName: name },
    },
    pubKeyCredParams: ALGORITHMS.map((alg) => ({ type: 'public-key', alg })),
    timeout: 120_000,
    excludeCredentials: known.map(({ credentialId, transports }) => ({
      ...{ type: 'public-key', id: credentialId, transports },
    })),
    authenticatorSelection: {
      ...{ residentKey: 'required', requireResidentKey: true, userVerification: 'required' },
    },
    attestation: 'none',
  };
}

/** Adds the passkey that a browser has made. Throws `wrong-passkey`. */
export async function confirmPasskey(
  services: Needs,
  request: FastifyRequest,
  { name, passkey }: { name: string; passkey: MadePasskey },
): Promise<void> {
  const person = requireHolder(services, request);
  const added = await services.db.transaction(async (tx) => {
    await changesBy(tx, person, services.now());
    return addPasskey(services, tx, person, name, passkey);
  });
  if (!added) throw new AppError('wrong-passkey');
  await tellAccountChange(services, person.id, 'passkey');
}

/** Removes a passkey. Throws as `byPassword`. */
export async function endPasskey(
  services: Needs,
  request: FastifyRequest,
  id: string,
  password: string,
): Promise<void> {
  const person = requireHolder(services, request);
  await withPassword(services, request, password);
  await services.db.transaction(async (tx) => {
    await changesBy(tx, person, services.now());
    if (!(await removePasskey(tx, person.id, id))) throw new AppError('not-found');
  });
  await tellAccountChange(services, person.id, 'passkey-removed');
}
