import { createHash, generateKeyPairSync, randomBytes, sign } from 'node:crypto';
import { isoCBOR } from '@simplewebauthn/server/helpers';

const hash = (bytes: string | Buffer) => createHash('sha256').update(bytes).digest();
const base64url = (bytes: Buffer) => bytes.toString('base64url');

/** What a device does differently from how it should. */
export interface Wrong {
  readonly origin?: string;
  readonly rpId?: string;
  /** Whoever holds it has not shown who they are. */
  readonly unverified?: boolean;
  readonly counter?: number;
}

/** A device that makes one passkey (ES256) and answers by it, as a browser passes that on. */
export function authenticator(origin: string) {
  const { privateKey, publicKey } = generateKeyPairSync('ec', { namedCurve: 'P-256' });
  const { x, y } = publicKey.export({ format: 'jwk' });
  const id = randomBytes(32);
  let used = 0;

  const clientData = (type: string, challenge: string, wrong: Wrong) =>
    Buffer.from(JSON.stringify({ type, challenge, origin: wrong.origin ?? origin }));
  function authData(wrong: Wrong, more: Buffer | null = null) {
    const counter = Buffer.alloc(4);
    counter.writeUInt32BE(wrong.counter ?? (used += 1));
    const flags = 1 + (wrong.unverified ? 0 : 4) + (more ? 0x40 : 0);
    const rpId = wrong.rpId ?? new URL(origin).hostname;
    return Buffer.concat([hash(rpId), Buffer.of(flags), counter, more ?? Buffer.alloc(0)]);
  }
  const answer = <T>(response: T) => ({
    ...{ id: base64url(id), rawId: base64url(id), type: 'public-key' as const },
    response,
  });

  return {
    id: base64url(id),
    make(challenge: string, wrong: Wrong = {}) {
      const key = new Map<number, number | Uint8Array<ArrayBuffer>>([
        [1, 2],
        [3, -7],
        [-1, 1],
        [-2, new Uint8Array(Buffer.from(x!, 'base64url'))],
        [-3, new Uint8Array(Buffer.from(y!, 'base64url'))],
      ]);
      const length = Buffer.alloc(2);
      length.writeUInt16BE(id.length);
      const credential = Buffer.concat([
        ...[Buffer.alloc(16), length, id],
        Buffer.from(isoCBOR.encode(key)),
      ]);
      const attestation = new Map<string, unknown>([
        ['fmt', 'none'],
        ['attStmt', new Map()],
        ['authData', new Uint8Array(authData(wrong, credential))],
      ]);
      return answer({
        clientDataJSON: base64url(clientData('webauthn.create', challenge, wrong)),
        attestationObject: base64url(Buffer.from(isoCBOR.encode(attestation as never))),
        transports: ['internal'],
      });
    },
    answer(challenge: string, wrong: Wrong = {}) {
      const data = clientData('webauthn.get', challenge, wrong);
      const authenticatorData = authData(wrong);
      const signature = sign('sha256', Buffer.concat([authenticatorData, hash(data)]), privateKey);
      return answer({
        clientDataJSON: base64url(data),
        authenticatorData: base64url(authenticatorData),
        signature: base64url(signature),
      });
    },
  };
}
