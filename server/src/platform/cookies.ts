import type { IncomingHttpHeaders } from 'node:http';

/** The value of a cookie as it was sent; null where a request has none of that name. */
export function readCookie({ cookie }: IncomingHttpHeaders, name: string): string | null {
  const pair = cookie?.split(/;\s*/u).find((c) => c.startsWith(`${name}=`));
  return pair?.slice(name.length + 1) ?? null;
}
