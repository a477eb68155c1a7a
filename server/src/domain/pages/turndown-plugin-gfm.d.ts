declare module '@joplin/turndown-plugin-gfm' {
  import type { Plugin } from 'turndown';
  /** Tables, lists of checks, and text struck through. */
  export const gfm: Plugin;
}
