import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { exportJWK, generateKeyPair, SignJWT, type JWTPayload } from 'jose';

export const CLIENT = { clientId: 'sammlung', clientSecret: 'between us' };

/** What a token says besides, or in place of what it should; `key`: by which key it is signed. */
export interface Says extends JWTPayload {
  readonly key?: 'own' | 'foreign' | 'none';
}

/** An OpenID Connect provider that says of anybody whatever it is told to. */
export async function startProvider() {
  const [own, foreign] = await Promise.all([generateKeyPair('RS256'), generateKeyPair('RS256')]);
  const keys = [{ ...(await exportJWK(own.publicKey)), kid: 'one', alg: 'RS256', use: 'sig' }];
  const codes = new Map<string, Says>();
  /** What was sent for the last code. */
  let exchanged = new URLSearchParams();
  const server = createServer((request, reply) => {
    const chunks: Buffer[] = [];
    request.on('data', (chunk: Buffer) => chunks.push(chunk));
    request.on('end', () => {
      answer(request.url ?? '', Buffer.concat(chunks).toString()).then(
        (json) => {
          reply.writeHead(json ? 200 : 400, { 'content-type': 'application/json' });
          reply.end(JSON.stringify(json ?? { error: 'invalid_grant' }));
        },
        (error: unknown) => reply.writeHead(500).end(String(error)),
      );
    });
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const issuer = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;

  async function answer(path: string, body: string): Promise<object | null> {
    if (path === '/.well-known/openid-configuration')
      return {
        issuer,
        authorization_endpoint: `${issuer}/authorize`,
        token_endpoint: `${issuer}/token`,
        jwks_uri: `${issuer}/keys`,
        id_token_signing_alg_values_supported: ['RS256'],
      };
    if (path === '/keys') return { keys };
    if (path !== '/token') return null;
    exchanged = new URLSearchParams(body);
    const said = codes.get(exchanged.get('code') ?? '');
    if (!said) return null;
    const { key = 'own', ...claims } = said;
    const token = { access_token: 'of no use here', token_type: 'Bearer', expires_in: 60 };
    if (key === 'none') return token;
    const signed = new SignJWT(claims).setProtectedHeader({ alg: 'RS256', kid: 'one' });
    return {
      ...token,
      id_token: await signed.sign(key === 'own' ? own.privateKey : foreign.privateKey),
    };
  }

  return {
    issuer,
    exchanged: () => exchanged,
    /** Lets somebody go back with a code for this: by default all is as it should be. */
    vouch(nonce: string, claims: Says): string {
      const code = crypto.randomUUID();
      const now = Math.floor(Date.now() / 1000);
      const right = { iss: issuer, aud: CLIENT.clientId, iat: now, exp: now + 60, nonce };
      codes.set(code, { ...right, ...claims });
      return code;
    },
    stop: () => new Promise<void>((resolve) => server.close(() => resolve())),
  };
}
