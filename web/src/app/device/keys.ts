/** The cache in which what a student keeps lies on the device. */
export const KEPT_CACHE = 'kept';

/** The cache in which parts of the application are that not everybody needs. */
export const PARTS_CACHE = 'parts';

/** Under which address it stands what the device holds, and of whom. */
export const STATE = '/on-this-device';

/** Marks a reply that comes from the device, with the moment at which the server gave it. */
export const AS_OF = 'x-as-of';

/** Under which address a reply lies in the cache; in which order a folder is asked for makes no difference. */
export function keyOf(address: string): string {
  const url = new URL(address, location.origin);
  url.searchParams.delete('order');
  url.search = url.searchParams.toString();
  return url.href;
}
