import { request as send } from 'node:http';
import type { Token } from '@sammlung/contract';
import type { TestServer, Who } from './harness.ts';

/** Programs that come in by passwords of their own. */
export function programs({ ask, base }: TestServer) {
  const passwords = new Map<string, string>();

  /** A password for programs, made once for each name. */
  async function passwordOf(who: Who, writes = true): Promise<string> {
    const key = `${who} ${writes}`;
    const known = passwords.get(key);
    if (known) return known;
    const made = await ask<Token & { password: string }>(who, 'POST', '/api/tokens', {
      ...{ name: key, writes },
    });
    passwords.set(key, made.password);
    return made.password;
  }

  const authorization = (password: string, name = 'anybody') =>
    `Basic ${Buffer.from(`${name}:${password}`).toString('base64')}`;

  /** One request of a program; `path` below the root of its folders, as names. */
  async function dav(
    who: Who,
    method: string,
    path: string,
    more: { body?: string | Buffer; headers?: Record<string, string>; reads?: boolean } = {},
  ) {
    const password = await passwordOf(who, !more.reads);
    return fetch(addressOf(path), {
      method,
      headers: { authorization: authorization(password), ...more.headers },
      ...(more.body !== undefined && { body: more.body as BodyInit }),
    });
  }

  const addressOf = (path: string) =>
    `${base}/dav/${path.split('/').map(encodeURIComponent).join('/')}`;

  /** The names in a folder. */
  async function list(who: Who, path: string): Promise<string[]> {
    const reply = await dav(who, 'PROPFIND', path, { headers: { depth: '1' } });
    if (reply.status !== 207) throw new Error(`${path}: ${reply.status} ${await reply.text()}`);
    const hrefs = [...(await reply.text()).matchAll(/<D:href>([^<]*)</gu)].map(([, href]) =>
      decodeURIComponent(href!),
    );
    return hrefs.slice(1).map((href) => href.split('/').filter(Boolean).at(-1)!);
  }

  /** A request with a path exactly as it is given, and only so much of its body as is said. Resolves to the status; null where it was broken off. */
  async function raw(
    who: Who,
    method: string,
    path: string,
    { headers = {}, sent = '' }: { headers?: Record<string, string>; sent?: string } = {},
  ): Promise<number | null> {
    const { hostname, port } = new URL(base);
    const auth = { authorization: authorization(await passwordOf(who)) };
    return new Promise((resolve, reject) => {
      const request = send(
        { hostname, port, method, path, headers: { ...auth, ...headers } },
        (reply) => {
          reply.resume();
          reply.on('end', () => resolve(reply.statusCode!));
        },
      );
      request.on('error', (error) => {
        if ('code' in error && error.code === 'ECONNRESET') resolve(null);
        else reject(error);
      });
      if ('content-length' in headers && Number(headers['content-length']) > sent.length) {
        request.write(sent);
        setTimeout(() => request.destroy(Object.assign(new Error(), { code: 'ECONNRESET' })), 100);
      } else request.end(sent);
    });
  }

  return { dav, list, raw, passwordOf, authorization, addressOf };
}
