import { createHash } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { startNginx, storedContents } from '../../scripts/lib/nginx.mjs';
import { DiskStorage } from '../src/platform/storage.ts';
import { readSettings } from '../src/settings.ts';
import { mail, PASSWORD, startServer } from './harness.ts';

/** A real nginx in front of a server. */
async function nginxBefore(base: string, more = '') {
  const folder = mkdtempSync(join(tmpdir(), 'sammlung-nginx-'));
  const nginx = await startNginx(
    folder,
    `location / {
      proxy_pass ${base}; proxy_set_header Host school.example;
      proxy_set_header X-Forwarded-For $proxy_add_x_forwarded_for; } ${more}`,
  );
  return {
    port: nginx.port,
    async stop() {
      await nginx.stop();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

describe.each([[1], [['127.0.0.1']]])(
  'behind a server in front (SAMMLUNG_PROXIES %j)',
  (proxies) => {
    it('each place has its own tries, whatever it claims to be; browsers come by the address they know', async () => {
      const server = await startServer({ proxies, address: 'http://library.example' });
      const nginx = await nginxBefore(server.base);
      try {
        /** Signs in from one of the addresses of this machine. */
        const signIn = (from: string, password: string, headers: Record<string, string> = {}) =>
          new Promise<number>((resolve, reject) => {
            const sent = request(
              {
                port: nginx.port,
                host: '127.0.0.1',
                localAddress: from,
                path: '/api/session',
                method: 'POST',
                headers: { 'content-type': 'application/json', ...headers },
              },
              (reply) => {
                reply.resume().on('end', () => resolve(reply.statusCode ?? 0));
              },
            );
            sent.on('error', reject);
            sent.end(JSON.stringify({ email: mail('owner'), password }));
          });
        const claims = (n: number) => ({ 'x-forwarded-for': `203.0.113.${n}` });
        for (let n = 0; n < 10; n += 1)
          expect(await signIn('127.0.0.2', 'wrong', claims(n))).toBe(401);
        expect(await signIn('127.0.0.2', PASSWORD, claims(99))).toBe(429);
        expect(await signIn('127.0.0.3', PASSWORD)).toBe(204);
        const origin = (name: string) => ({ origin: `http://${name}` });
        expect(await signIn('127.0.0.3', PASSWORD, origin('library.example'))).toBe(204);
        expect(await signIn('127.0.0.3', PASSWORD, origin('evil.example'))).toBe(403);
      } finally {
        await nginx.stop();
        await server.stop();
      }
    });
  },
);

describe('with a server in front that sends contents itself (SAMMLUNG_SENDFILE=x-accel)', () => {
  it('whoever sees a file gets it, whole or in part; nobody else, and not by its place', async () => {
    const server = await startServer({ sendfile: 'x-accel' });
    const { schoolId, content } = server.world;
    const nginx = await nginxBefore(server.base, storedContents(server.settings.data));
    try {
      const scene = await server.scene();
      const path = `/api/placements/${scene.placement}/content`;
      const get = (who: 'student in' | 'student out', at: string, headers = {}) =>
        fetch(`http://127.0.0.1:${nginx.port}${at}`, {
          headers: { cookie: server.cookies.get(who)!, ...headers },
        });
      const whole = await get('student in', path);
      expect(whole.status).toBe(200);
      const bytes = Buffer.from(await whole.arrayBuffer());
      expect(createHash('sha256').update(bytes).digest('hex')).toBe(content.hash);
      expect(whole.headers.get('content-disposition')).toContain('attachment');
      expect(whole.headers.get('content-security-policy')).toContain('sandbox');
      expect(whole.headers.get('x-content-type-options')).toBe('nosniff');
      expect(whole.headers.get('cache-control')).toBe('private, no-cache');
      const part = await get('student in', path, { range: 'bytes=1-3' });
      expect([part.status, await part.text()]).toEqual([206, bytes.subarray(1, 4).toString()]);
      const same = { 'if-none-match': whole.headers.get('etag')! };
      expect((await get('student in', path, same)).status).toBe(304);
      for (const headers of [{}, same]) {
        const refused = await get('student out', path, headers);
        expect([refused.status, await refused.text()]).toEqual([
          404,
          expect.not.stringContaining(bytes.toString()),
        ]);
      }
      const place = new DiskStorage(server.settings.data).placeOf({ schoolId, hash: content.hash });
      for (const at of [`/stored/${place}`, '/stored/secret', '/stored/files/../secret'])
        expect((await get('student in', at)).status, at).toBe(404);
    } finally {
      await nginx.stop();
      await server.stop();
    }
  });
});

describe('the setting of servers in front', () => {
  const read = (proxies: string) =>
    readSettings({
      SAMMLUNG_DATA: '/data',
      SAMMLUNG_DATABASE_URL: 'postgres://a',
      SAMMLUNG_PROXIES: proxies,
    }).proxies;

  it('takes a number, addresses and networks, and says what it does not take', () => {
    expect(read('')).toBe(0);
    expect(read('2')).toBe(2);
    expect(read('10.0.0.4, 192.168.7.0/24,::1')).toEqual(['10.0.0.4', '192.168.7.0/24', '::1']);
    for (const wrong of ['yes', '10.0.0', '10.0.0.4/33', '10.0.0.4/8/8', '::1/129', '10.0.0.4,,'])
      expect(() => read(wrong), wrong).toThrow('SAMMLUNG_PROXIES');
  });
});
