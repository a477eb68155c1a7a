import type { Corners } from '@sammlung/core';

/** How a page is made of a picture. */
export interface PictureSettings {
  /** Of what the page shows, in parts of the picture, from the upper left one of the page on. */
  readonly corners: Corners;
  /** Whether its light is made even. */
  readonly light: boolean;
}

/** One picture that was taken, as the device keeps it. */
export interface StoredPicture extends PictureSettings {
  readonly id: string;
  readonly personId: string;
  /** Where it stands among the others. */
  readonly place: number;
  readonly photograph: Blob;
}

/** The corners of a page that is turned a quarter to the right. */
export const turned = ([a, b, c, d]: Corners): Corners => [d, a, b, c];
