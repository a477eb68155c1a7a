import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { request } from 'node:http';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { describe, expect, it } from 'vitest';
import { freePort } from '../../scripts/lib/run.mjs';
import { readSettings } from '../src/settings.ts';
import { mail, PASSWORD, startServer } from './harness.ts';

/** A real nginx in front of a server; resolves to its port. */
async function nginxBefore(base: string) {
  const folder = mkdtempSync(join(tmpdir(), 'sammlung-nginx-'));
  const port = await freePort();
  const temporary = ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi'].map(
    (name) => `${name}_temp_path ${folder}/${name};`,
  );
  writeFileSync(
    join(folder, 'nginx.conf'),
    `daemon off; worker_processes 1; pid ${folder}/pid; error_log stderr crit;
    ${process.getuid?.() === 0 ? 'user root;' : ''}
    events {} http { access_log off; ${temporary.join(' ')} server { listen 127.0.0.1:${port}; location / {
      proxy_pass ${base}; proxy_set_header Host school.example;
      proxy_set_header X-Forwarded-For $proxy_add_x_forwarded_for; } } }`,
  );
  const nginx = spawn('/usr/sbin/nginx', ['-c', join(folder, 'nginx.conf'), '-p', folder], {
    stdio: 'inherit',
  });
  const ended = new Promise((resolve) => nginx.on('close', resolve));
  for (let tries = 0; tries < 100 && !(await listens(port)); tries += 1) await wait(50);
  return {
    port,
    async stop() {
      nginx.kill('SIGTERM');
      await ended;
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

const listens = (port: number) =>
  new Promise<boolean>((resolve) => {
    const socket = connect(port, '127.0.0.1');
    socket.once('connect', () => (socket.end(), resolve(true)));
    socket.once('error', () => resolve(false));
  });

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
