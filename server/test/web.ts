import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/**
 * A web application as far as the server knows it, in a folder of its own: one page, and a part that makes pages. Of
 * `/new` and of folders behind doors it makes what the API replied, as text; of `/busy` nothing, and
 * of `/broken` nothing, and it throws.
 */
export function makeWeb() {
  const folder = mkdtempSync(join(tmpdir(), 'sammlung-web-'));
  const write = (path: string, text: string) => {
    mkdirSync(join(folder, path, '..'), { recursive: true });
    writeFileSync(join(folder, path), text);
  };
  write(
    'public/index.html',
    '<!doctype html><html lang="en"><head><title>Sammlung</title><script src="/assets/index-3c.js"></script></head><body><div id="app"></div><p>End</p></body></html>',
  );
  write('public/assets/first-1a2b.js', 'export {};');
  write(
    'public/.vite/manifest.json',
    JSON.stringify({
      'src/New.vue': { file: 'assets/New-5e.js', imports: ['_first-1a2b.js', 'index.html'] },
      '_first-1a2b.js': { file: 'assets/first-1a2b.js' },
      'index.html': { file: 'assets/index-3c.js' },
    }),
  );
  write('made/package.json', '{ "type": "module" }');
  write(
    'ssr/ssr.js',
    `
export function asks(path, replies) {
  const door = /^\\/(open|embed)\\/([^/]+)$/.exec(path)?.[2];
  if (door) {
    const behind = replies['/api/open/' + door];
    if (!behind) return ['/api/open/' + door];
    return behind.state === 'open' ? ['/api/open/' + door, '/api/open/' + door + '/folders/' + behind.folderId] : null;
  }
  const session = replies['/api/session'];
  if (!['/new', '/broken', '/busy'].includes(path)) return null;
  if (session && !session.person) return null;
  return ['/api/session', ...(session ? ['/api/new?limit=100'] : [])];
}
const escape = (text) => text.replaceAll('&', '&amp;').replaceAll('<', '&lt;');
export const withoutName = ({ person }) => ({ person: person && { ...person, id: '', name: '~~' } });
export const withName = (html, { person }) => html.replaceAll('~~', () => escape(person.name));
let drawn = 0;
export async function make({ path, language, replies }) {
  if (path === '/broken') throw new Error('cannot be made');
  if (path === '/busy') return null;
  drawn += 1;
  const text = escape(JSON.stringify({ language, replies, drawn }));
  return { html: '<main>' + text + '</main>', modules: ['src/New.vue', 'src/locales/en.json'] };
}
`,
  );
  return { folder, remove: () => rmSync(folder, { recursive: true }) };
}
