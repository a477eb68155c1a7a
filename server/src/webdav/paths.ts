import { DavError } from './errors.ts';

/** Where the folders of programs begin. */
export const ROOT = '/dav';
/** What systems can name, in bytes, and how deep folders go here. */
const LONGEST = 255;
const DEEPEST = 70;

/** The names on the way to what a request is about; none for the root. Throws for what no folder of ours could hold. */
export function namesOf(path: string): string[] {
  if (path !== ROOT && !path.startsWith(`${ROOT}/`))
    throw new DavError(502, 'This is on another server.');
  const parts = path
    .slice(ROOT.length)
    .split('/')
    .filter((part) => part !== '');
  if (parts.length > DEEPEST) throw new DavError(414, 'This path is too deep.');
  return parts.map(nameOf);
}

function nameOf(part: string): string {
  let name: string;
  try {
    name = decodeURIComponent(part).normalize('NFC');
  } catch (error) {
    if (!(error instanceof URIError)) throw error;
    throw new DavError(400, 'This path cannot be read.');
  }
  if (name === '.' || name === '..' || /[/\\\u0000]/u.test(name))
    throw new DavError(400, 'This path leads nowhere.');
  if (Buffer.byteLength(name) > LONGEST) throw new DavError(414, 'This name is too long.');
  return name;
}

/** The path of an address, without a query. A part of a page is nothing that can be written or removed: throws. */
export function pathOf(address: string): string {
  if (address.includes('#')) throw new DavError(400, 'This path cannot be read.');
  return address.split('?', 1)[0]!;
}

/** The names in a header that speaks of another resource of this server: an address, or a path. Throws for other servers. */
export function namesInHeader(value: string, host: string | undefined): string[] {
  if (value.startsWith('/')) return namesOf(pathOf(value));
  const found = URL.canParse(value) ? new URL(value) : null;
  if (!found) throw new DavError(400, 'This address cannot be read.');
  if (host !== undefined && found.host !== host)
    throw new DavError(502, 'This is on another server.');
  // As it was written: it is decoded once.
  return namesOf(pathOf(value.slice(value.indexOf('/', value.indexOf('//') + 2))));
}

/** The address of names, with a slash at its end for a folder. */
export const hrefOf = (names: readonly string[], collection: boolean) =>
  `${ROOT}/${names.map(encodeURIComponent).join('/')}${collection && names.length > 0 ? '/' : ''}`;

/** By this paths are compared, for locks. */
export const pathKey = (names: readonly string[]) =>
  names.map((name) => name.toLowerCase()).join('/');
