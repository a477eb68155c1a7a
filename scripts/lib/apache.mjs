import { spawn } from 'node:child_process';
import { chmodSync, mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { freePort } from './run.mjs';

const MODULES = '/usr/lib/apache2/modules';

/**
 * Debian's Apache as a plain WebDAV server on a folder, with a password as ours asks for one: what folders for programs are measured
 * against. `hash` is the password as `htpasswd -d`, `-s` or `-B` would write it.
 */
export async function startApacheDav(home, { name, hash }) {
  const port = await freePort();
  const files = join(home, 'dav');
  mkdirSync(files, { recursive: true });
  // It runs as nobody who owns anything.
  chmodSync(home, 0o777);
  chmodSync(files, 0o777);
  writeFileSync(join(home, 'users'), `${name}:${hash}\n`);
  const modules = {
    mpm_event: 'mod_mpm_event',
    authn_core: 'mod_authn_core',
    authn_file: 'mod_authn_file',
    authz_core: 'mod_authz_core',
    authz_user: 'mod_authz_user',
    auth_basic: 'mod_auth_basic',
    dav: 'mod_dav',
    dav_fs: 'mod_dav_fs',
    mime: 'mod_mime',
  };
  const config = join(home, 'httpd.conf');
  writeFileSync(
    config,
    [
      ...Object.entries(modules).map(
        ([id, file]) => `LoadModule ${id}_module ${MODULES}/${file}.so`,
      ),
      `ServerRoot ${home}`,
      'ServerName 127.0.0.1',
      `Listen 127.0.0.1:${port}`,
      `PidFile ${join(home, 'pid')}`,
      `ErrorLog ${join(home, 'error.log')}`,
      'User nobody',
      'Group nogroup',
      'TypesConfig /etc/mime.types',
      'KeepAlive On',
      'MaxKeepAliveRequests 0',
      `DocumentRoot ${files}`,
      `DavLockDB ${join(home, 'locks')}`,
      `<Directory ${files}>`,
      'Dav On',
      'AuthType Basic',
      'AuthName files',
      `AuthUserFile ${join(home, 'users')}`,
      'Require valid-user',
      '</Directory>',
    ].join('\n'),
  );
  const server = spawn('/usr/sbin/apache2', ['-DFOREGROUND', '-f', config], { stdio: 'inherit' });
  const gone = new Promise((resolve) => server.once('exit', resolve));
  const address = `http://127.0.0.1:${port}`;
  for (let n = 0; n < 100; n += 1) {
    const there = await fetch(address).catch(() => null);
    if (there) break;
    await new Promise((done) => setTimeout(done, 50));
  }
  return {
    address,
    files,
    async stop() {
      server.kill('SIGTERM');
      await gone;
    },
  };
}
