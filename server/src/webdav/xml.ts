import { DOMParser, XMLSerializer, type Element, type Node } from '@xmldom/xmldom';
import { escapeHtml } from '@sammlung/core';
import { DavError } from './errors.ts';

export const DAV = 'DAV:';

/** A property by its namespace and name; `xml` is the whole element where it has a value. */
export interface Property {
  readonly namespace: string;
  readonly name: string;
  readonly xml?: string;
}

const unreadable = () => new DavError(400, 'The XML of this request cannot be read.');

/** The root element of a body, which must be of this name in `DAV:`. Nothing that it refers to is looked up. */
function rootOf(body: string, name: string): Element {
  // Documents of this kind have no declarations, which could make a small one huge.
  if (/<!(?:DOCTYPE|ENTITY)/iu.test(body)) throw unreadable();
  let root: Element | null;
  try {
    root = new DOMParser({
      onError: (level, message) => {
        if (level !== 'warning') throw new SyntaxError(message);
      },
    }).parseFromString(body, 'text/xml').documentElement;
  } catch {
    throw unreadable();
  }
  if (!root || root.namespaceURI !== DAV || root.localName !== name) throw unreadable();
  return root;
}

const isElement = (node: Node): node is Element => node.nodeType === 1;
const childrenOf = (element: Element) => [...element.childNodes].filter(isElement);
const childNamed = (element: Element, name: string) =>
  childrenOf(element).find((one) => one.namespaceURI === DAV && one.localName === name);

function propertyOf(element: Element): Property {
  const { namespaceURI, localName, prefix } = element;
  // A prefix that was never declared stands for nothing.
  if (!localName || (prefix && !namespaceURI)) throw unreadable();
  return {
    namespace: namespaceURI ?? '',
    name: localName,
    xml: new XMLSerializer().serializeToString(element),
  };
}

/** Which properties a PROPFIND asks for. */
export type Asked =
  | { readonly what: 'all'; readonly also: readonly Property[] }
  | { readonly what: 'names' }
  | { readonly what: 'some'; readonly properties: readonly Property[] };

export function parsePropfind(body: string): Asked {
  if (body.trim() === '') return { what: 'all', also: [] };
  const root = rootOf(body, 'propfind');
  if (childNamed(root, 'propname')) return { what: 'names' };
  const prop = childNamed(root, 'prop');
  if (prop) return { what: 'some', properties: childrenOf(prop).map(propertyOf) };
  if (!childNamed(root, 'allprop')) throw unreadable();
  const also = childNamed(root, 'include');
  return { what: 'all', also: also ? childrenOf(also).map(propertyOf) : [] };
}

/** What a PROPPATCH sets and removes, in its order. */
export function parseProppatch(body: string): { set: boolean; property: Property }[] {
  const steps = childrenOf(rootOf(body, 'propertyupdate'))
    .filter((one) => one.namespaceURI === DAV && /^(?:set|remove)$/u.test(one.localName ?? ''))
    .flatMap((one) => {
      const prop = childNamed(one, 'prop');
      return prop
        ? childrenOf(prop).map((element) => ({
            set: one.localName === 'set',
            property: propertyOf(element),
          }))
        : [];
    });
  if (steps.length === 0) throw unreadable();
  return steps;
}

/** The lock that a LOCK asks for; null where it renews one. */
export function parseLock(body: string): { exclusive: boolean; owner: string } | null {
  if (body.trim() === '') return null;
  const root = rootOf(body, 'lockinfo');
  const scope = childNamed(root, 'lockscope');
  const type = childNamed(root, 'locktype');
  if (!scope || !type || !childNamed(type, 'write')) throw unreadable();
  const owner = childNamed(root, 'owner');
  return {
    exclusive: childNamed(scope, 'shared') === undefined,
    owner: shortened(owner ? new XMLSerializer().serializeToString(owner) : ''),
  };
}

/** What a program says of itself is kept with its lock as far as it is short. */
const shortened = (owner: string) => (owner.length <= 4096 ? owner : '');

/** An element of `DAV:` around XML, or empty. */
export const element = (name: string, xml = '') =>
  xml === '' ? `<D:${name}/>` : `<D:${name}>${xml}</D:${name}>`;
export const textElement = (name: string, text: string) =>
  `<D:${name}>${MARKUP.test(text) ? escapeHtml(text).replaceAll('&quot;', '"') : text}</D:${name}>`;
const MARKUP = /[&<>]/u;

/** A property that has no value here, by its name alone. */
export const nameElement = ({ namespace, name }: Property) => {
  if (namespace === DAV) return element(name);
  return namespace === ''
    ? `<${name} xmlns=""/>`
    : `<X:${name} xmlns:X="${escapeHtml(namespace)}"/>`;
};

export const document = (name: string, xml: string) =>
  `<?xml version="1.0" encoding="utf-8"?>\n<D:${name} xmlns:D="DAV:">${xml}</D:${name}>`;

const STATUS_TEXT: Record<number, string> = {
  200: 'OK',
  403: 'Forbidden',
  404: 'Not Found',
  409: 'Conflict',
  423: 'Locked',
  424: 'Failed Dependency',
  507: 'Insufficient Storage',
};
export const statusElement = (status: number) =>
  element('status', `HTTP/1.1 ${status} ${STATUS_TEXT[status] ?? ''}`);

/** What is said of one resource: properties by the status of each. */
export function response(
  href: string,
  propstats: readonly { readonly status: number; readonly xml: string }[],
): string {
  const stats = propstats
    .filter(({ xml }) => xml !== '')
    .map(({ status, xml }) => element('propstat', element('prop', xml) + statusElement(status)));
  // One without any property still is there.
  const all = stats.length > 0 ? stats.join('') : statusElement(200);
  return element('response', textElement('href', href) + all);
}
