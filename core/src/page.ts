/** What a page may hold. */

/** How many characters a page may have, with its markup. */
export const PAGE_LIMIT = 2_000_000;
/** How many bytes a picture on a page may have. */
export const PICTURE_LIMIT = 20_000_000;
/** Kinds of pictures that browsers show by themselves. */
export const PICTURE_TYPES = ['image/png', 'image/jpeg', 'image/gif', 'image/webp', 'image/avif'];
/** To how many things of the library a page may refer. */
export const REFERENCE_LIMIT = 200;
