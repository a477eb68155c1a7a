import type { Thing } from '@sammlung/contract';
import { ID_PATTERN } from '@sammlung/contract';

/** How a page that has been cleaned refers to a thing of the library. */
const REFERENCE = new RegExp(`<p data-(folder|placement)="(${ID_PATTERN})"></p>`, 'gu');

const toThing = (kind: string, id: string): Thing => ({
  kind: kind === 'folder' ? 'folder' : 'placement',
  id,
});

/** The things to which a page refers, each as often as it does. */
export const referencesIn = (html: string): Thing[] =>
  [...html.matchAll(REFERENCE)].map(([, kind, id]) => toThing(kind!, id!));

/** The same page with something in place of each of its references. */
export const replaceReferences = (html: string, by: (thing: Thing, text: string) => string) =>
  html.replaceAll(REFERENCE, (text, kind: string, id: string) => by(toThing(kind, id), text));
