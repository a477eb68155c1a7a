import { randomBytes } from 'node:crypto';
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { escapeHtml } from '@sammlung/core';
import { SAMPLE_SIGN_INS } from '@sammlung/demo/sign-ins';
import { exportJWK, generateKeyPair } from 'jose';
import type Provider from 'oidc-provider';
import { OUTSIDE_PATH, PROVIDER } from '../platform/outside.ts';
import type { Settings } from '../settings.ts';

/** Who has an account there: the people of the sample school who are offered at its sign-in, and one whom the school does not know. */
const ACCOUNTS = [
  ...SAMPLE_SIGN_INS.map(({ email, about }) => ({ email, about })),
  { email: 'somebody.else@fennmoor.example', about: 'Not on any list of the school' },
].map((account) => ({ ...account, subject: `account-${account.email.split('@')[0]!}` }));

/**
 * A made-up place where the people of the sample school have accounts, as schools have one elsewhere: an OpenID Connect provider that asks
 * for no password. At another port, so that it is another origin.
 */
export async function startSignInProvider(
  application: () => string,
  port: number,
  note: (error: unknown) => void,
): Promise<{ provider: NonNullable<Settings['provider']>; stop(): Promise<void> }> {
  const clientSecret = randomBytes(24).toString('base64url');
  let made: Promise<Provider> | null = null;
  const server = createServer((request, reply) => {
    made ??= makeProvider(issuer, application(), clientSecret);
    made
      .then((provider) =>
        request.url?.startsWith('/choose/')
          ? choose(provider, request, reply)
          : provider.callback()(request, reply),
      )
      .catch((error: unknown) => {
        note(error);
        reply.writeHead(400, { 'content-type': 'text/plain' }).end('That did not work.');
      });
  });
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', resolve);
  });
  const issuer = `http://localhost:${(server.address() as AddressInfo).port}`;
  return {
    provider: { issuer, clientId: 'sammlung', clientSecret, name: 'Fennmoor College' },
    stop: () =>
      new Promise<void>((resolve) => {
        server.close(() => resolve());
        server.closeAllConnections();
      }),
  };
}

/** Made when somebody comes: by then it is known where the application is. */
async function makeProvider(issuer: string, application: string, clientSecret: string) {
  const { default: OpenId, interactionPolicy } = await import('oidc-provider');
  const { base, Check } = interactionPolicy;
  // Whoever comes is asked each time: to try one account after the other.
  const policy = base();
  const unanswered = new Check('always', 'asked each time', ({ oidc }) => !oidc.result?.['login']);
  policy.get('login')?.checks.add(unanswered);
  const { privateKey } = await generateKeyPair('RS256', { extractable: true });
  const secret = () => randomBytes(24).toString('base64url');
  return new OpenId(issuer, {
    clients: [
      {
        client_id: 'sammlung',
        client_secret: clientSecret,
        redirect_uris: [`${application}${OUTSIDE_PATH}/callback/${PROVIDER}`],
        token_endpoint_auth_method: 'client_secret_post',
      },
    ],
    jwks: { keys: [{ ...(await exportJWK(privateKey)), kid: 'one', alg: 'RS256', use: 'sig' }] },
    cookies: {
      keys: [secret()],
      names: { session: 'provider.session', resume: 'provider.resume' },
    },
    claims: { openid: ['sub'], email: ['email', 'email_verified'], profile: ['name'] },
    // What it says of somebody is in the token that it signs.
    conformIdTokenClaims: false,
    features: { devInteractions: { enabled: false } },
    interactions: { policy, url: (_context, { uid }) => `/choose/${uid}` },
    findAccount: (_context, subject) => {
      const account = ACCOUNTS.find((one) => one.subject === subject);
      if (!account) return undefined;
      const { email } = account;
      return { accountId: subject, claims: () => ({ sub: subject, email, email_verified: true }) };
    },
    // Nobody is asked what the application may know.
    async loadExistingGrant({ oidc }) {
      const { client, session } = oidc;
      const grant = new oidc.provider.Grant({
        ...(client && { clientId: client.clientId }),
        ...(session?.accountId && { accountId: session.accountId }),
      });
      grant.addOIDCScope('openid email profile');
      await grant.save();
      return grant;
    },
  });
}

/** A page on which one of the accounts is chosen, in place of a password; and what follows from that. */
async function choose(provider: Provider, request: IncomingMessage, reply: ServerResponse) {
  const { uid } = await provider.interactionDetails(request, reply);
  const accountId = new URL(request.url!, 'http://localhost').searchParams.get('account');
  if (accountId !== null)
    return provider.interactionFinished(request, reply, { login: { accountId, remember: false } });
  const rows = ACCOUNTS.map(
    ({ subject, email, about }) =>
      `<li><a href="/choose/${uid}?account=${encodeURIComponent(subject)}"><b>${escapeHtml(email)}</b><br>${escapeHtml(about)}</a></li>`,
  );
  reply.writeHead(200, { 'content-type': 'text/html; charset=utf-8' });
  reply.end(`<!doctype html><html lang="en"><meta name="viewport" content="width=device-width">
    <title>Fennmoor account</title><style>
      body { font: 17px/1.5 system-ui, sans-serif; max-width: 30rem; margin: 3rem auto; padding: 0 1rem; color: #1f2a2e; background: #eef1ee }
      ul { list-style: none; padding: 0 } a { display: block; margin: .5rem 0; padding: .6rem 1rem; color: inherit; background: #fff; border: 1px solid #c9d2cc; text-decoration: none }
      a:hover, a:focus { border-color: #12535a }
    </style><h1>Fennmoor account</h1><p>A made-up place to sign in. Choose whose account it is.</p><ul>${rows.join('')}</ul></html>`);
}
