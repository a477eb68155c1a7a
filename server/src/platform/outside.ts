import { betterAuth } from 'better-auth';
import { genericOAuth } from 'better-auth/plugins/generic-oauth';
import { decodeJwt } from 'jose';
import type { Database } from '../db/database.ts';
import type { Settings } from '../settings.ts';
import { accountOptions } from './accounts.ts';

/** What a provider vouches for about somebody who has signed in there, in a token that has been verified. */
export interface Vouched {
  /** What the provider calls the person, whatever their name or address. */
  readonly subject: string;
  /** Their email address, where the provider has verified it. */
  readonly email: string | null;
}

/** Who of ours that is, by what better-auth knows people by; null for nobody. */
export type WhoIs = (vouched: Vouched) => Promise<{ key: string; name: string } | null>;

/** The name of the provider in addresses. There is one. */
export const PROVIDER = 'school';
/** Where the browser comes back to; better-auth adds `/callback/school`. */
export const OUTSIDE_PATH = '/api/session/outside';

/** What the credentials of somebody are called who signs in there: another provider knows other people by the same words. */
export const accountIdAt = (issuer: string, subject: string) => `${issuer} ${subject}`;

/**
 * Signing in at an OpenID Connect provider, by better-auth's plugin: the code flow with PKCE, `state` and `nonce`; its tokens have to be
 * signed by a key that the provider publishes, and be for us, in time and with our nonce. No account is made by it, and no token is kept.
 */
export function outsideAccounts(
  db: Database,
  secret: string,
  address: string,
  { issuer, clientId, clientSecret }: NonNullable<Settings['provider']>,
  whoIs: WhoIs,
  note: (what: string) => void,
) {
  const options = accountOptions(db, secret, address);
  return betterAuth({
    ...options,
    basePath: OUTSIDE_PATH,
    // Only what happened: what it was given may name somebody.
    logger: { level: 'error', log: (_level, message) => note(message) },
    emailAndPassword: { enabled: false },
    onAPIError: { errorURL: `${address}/sign-in` },
    // `whoIs` has joined the account by itself before: better-auth finds it by the subject alone.
    account: { updateAccountOnSignIn: false, accountLinking: { disableImplicitLinking: true } },
    plugins: [
      genericOAuth({
        config: [
          {
            ...{ providerId: PROVIDER, clientId, clientSecret },
            discoveryUrl: `${issuer.replace(/\/$/u, '')}/.well-known/openid-configuration`,
            scopes: ['openid', 'email', 'profile'],
            ...{ pkce: true, requireIdTokenVerification: true, disableSignUp: true },
            accountSubject: ({ profile }) => accountIdAt(issuer, String(profile['sub'])),
            async getUserInfo({ idToken }) {
              if (!idToken) return null;
              const { sub, iss, email, email_verified: verified } = decodeJwt(idToken);
              // The document that names the keys could name another issuer.
              if (!sub || iss !== issuer) return null;
              const known = typeof email === 'string' && verified === true;
              const found = await whoIs({ subject: sub, email: known ? email : null });
              return (
                found && { id: sub, sub, email: found.key, name: found.name, emailVerified: true }
              );
            },
          },
        ],
      }),
    ],
  });
}
export type OutsideAccounts = ReturnType<typeof outsideAccounts>;
