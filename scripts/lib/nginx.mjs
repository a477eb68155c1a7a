import { spawn } from 'node:child_process';
import { mkdirSync, writeFileSync } from 'node:fs';
import { connect } from 'node:net';
import { join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import { freePort } from './run.mjs';

/**
 * What nginx needs to send contents of the data folder itself where the server says so (SAMMLUNG_SENDFILE=x-accel). Nobody can
 * ask for them, and they never run as pages.
 */
export const storedContents = (data) => `location ~ "^/stored/((?:files|made)/.+)$" {
  internal;
  alias ${data}/$1;
  add_header Content-Security-Policy $upstream_http_content_security_policy;
  add_header Cross-Origin-Resource-Policy $upstream_http_cross_origin_resource_policy;
  add_header X-Content-Type-Options $upstream_http_x_content_type_options;
  add_header X-Robots-Tag $upstream_http_x_robots_tag;
}`;

/** Starts an nginx of its own on loopback, with its files in `folder`. Resolves to { port, stop() } once it listens. */
export async function startNginx(folder, locations) {
  mkdirSync(folder, { recursive: true });
  const port = await freePort();
  const temporary = ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi'].map(
    (name) => `${name}_temp_path ${folder}/${name};`,
  );
  writeFileSync(
    join(folder, 'nginx.conf'),
    `daemon off; worker_processes 1; pid ${folder}/pid; error_log stderr crit;
    ${process.getuid?.() === 0 ? 'user root;' : ''}
    events {} http { access_log off; sendfile on; ${temporary.join(' ')}
    server { listen 127.0.0.1:${port}; ${locations} } }`,
  );
  const nginx = spawn('/usr/sbin/nginx', ['-c', join(folder, 'nginx.conf'), '-p', folder], {
    stdio: 'inherit',
  });
  const ended = new Promise((resolve) => nginx.on('close', resolve));
  for (let tries = 0; tries < 100 && !(await listens(port)); tries += 1) await setTimeout(50);
  return {
    port,
    async stop() {
      nginx.kill('SIGTERM');
      await ended;
    },
  };
}

const listens = (port) =>
  new Promise((resolve) => {
    const socket = connect(port, '127.0.0.1');
    socket.once('connect', () => (socket.end(), resolve(true)));
    socket.once('error', () => resolve(false));
  });
