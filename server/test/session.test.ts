import { request } from 'node:http';
import { afterAll, describe, expect, it } from 'vitest';
import { startServer } from './harness.ts';

const server = await startServer();
const { cookies, base } = server;
afterAll(() => server.stop());

/** A request whose target is written just so. */
function raw(method: string, target: string, headers: Record<string, string>, body?: string) {
  const { hostname, port } = new URL(base);
  return new Promise<{ status: number; headers: Record<string, unknown>; text: string }>(
    (resolve, reject) => {
      const sent = request({ hostname, port, method, path: target, headers }, (reply) => {
        let text = '';
        reply.setEncoding('utf8').on('data', (part: string) => (text += part));
        reply.on('end', () =>
          resolve({ status: reply.statusCode ?? 0, headers: reply.headers, text }),
        );
      });
      sent.on('error', reject).end(body);
    },
  );
}

describe('an address of the API, however it is written', () => {
  it.each([
    ['with an encoded letter', (path: string) => path.replace('/api', '/%61pi')],
    ['as an absolute target', (path: string) => `${base}${path}`],
    ['as an absolute target of another host', (path: string) => `http://a.example${path}`],
  ])('%s, knows who asks, and is kept by nobody', async (_, written) => {
    const cookie = cookies.get('owner')!;
    const reply = await raw('GET', written('/api/session'), { cookie });
    expect(reply.status).toBe(200);
    expect(JSON.parse(reply.text).person).toMatchObject({ name: 'owner' });
    expect(reply.headers['cache-control']).toBe('no-store');
    const none = await raw('GET', written('/api/nowhere'), { cookie });
    expect([none.status, none.headers['cache-control']]).toEqual([404, 'no-store']);
  });

  it.each([
    ['with an encoded letter', (path: string) => path.replace('/api', '/%61pi')],
    ['as an absolute target', (path: string) => `${base}${path}`],
  ])('%s, changes nothing for another site', async (_, written) => {
    const headers = {
      cookie: cookies.get('owner')!,
      'content-type': 'application/json',
      origin: 'https://evil.example',
    };
    const body = JSON.stringify({ parentId: null, title: 'Forged' });
    const reply = await raw('POST', written('/api/folders'), headers, body);
    expect(JSON.parse(reply.text)).toMatchObject({ status: 403, code: 'wrong-origin' });
  });
});
