import {
  clearLight,
  findSheet,
  isSheet,
  straighten,
  type Corners,
  type Picture,
} from '@sammlung/core';
import { expose } from 'comlink';
import { PDFDocument } from 'pdf-lib';
import type { PictureSettings } from './picture.ts';

/** What is done with pictures away from the page. One after the other: a picture of 12 megapixels takes 48 MB while it is open. */

/** Pictures are kept and worked on at this size, and pages are made at the other one, in pixels of the longer side. */
const WORKED = 2600;
const PAGE = 2200;
const JPEG = { type: 'image/jpeg', quality: 0.85 };
/** The longer side of a page, in points: that of A4. */
const A4 = 842;

function canvasOf(width: number, height: number) {
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d', { willReadFrequently: true });
  if (!context) throw new Error('This browser has no canvas in workers.');
  return { canvas, context };
}

/** The pixels of a picture, upright, no larger than it is worked on. Null when it is no picture. */
async function decode(file: Blob): Promise<Picture | null> {
  let bitmap: ImageBitmap;
  try {
    bitmap = await createImageBitmap(file);
  } catch (error) {
    // What the browser cannot read is none, or of a kind that it does not know.
    if (error instanceof DOMException) return null;
    throw error;
  }
  const by = Math.min(1, WORKED / Math.max(bitmap.width, bitmap.height));
  const [width, height] = [bitmap.width, bitmap.height].map((n) => Math.max(1, Math.round(n * by)));
  const { context } = canvasOf(width!, height!);
  context.imageSmoothingQuality = 'high';
  context.drawImage(bitmap, 0, 0, width!, height!);
  bitmap.close();
  const { data } = context.getImageData(0, 0, width!, height!);
  return { width: width!, height: height!, data: data as Uint8ClampedArray<ArrayBuffer> };
}

function encode({ width, height, data }: Picture): Promise<Blob> {
  const { canvas, context } = canvasOf(width, height);
  context.putImageData(new ImageData(data, width, height), 0, 0);
  return canvas.convertToBlob(JPEG);
}

const work = {
  /** A picture as it is worked on, with the corners of what is on it (null: none seen). Null when it is no picture. */
  async read(file: Blob): Promise<{ photograph: Blob; corners: Corners | null } | null> {
    const picture = await decode(file);
    return picture && { photograph: await encode(picture), corners: findSheet(picture) };
  },

  /** The page that is made of a picture: what is between its corners, in even light where that is wanted. */
  async makePage(photograph: Blob, { corners, light }: PictureSettings): Promise<Blob> {
    const picture = await decode(photograph);
    if (!picture || !isSheet(corners)) throw new Error('This is no picture.');
    const flat = straighten(picture, corners, PAGE);
    return encode(light ? clearLight(flat) : flat);
  },

  /** One document of all pages, each as large as its picture is for the longer side of A4. */
  async makeDocument(pages: readonly Blob[], title: string): Promise<ArrayBuffer> {
    const document = await PDFDocument.create();
    document.setTitle(title, { showInWindowTitleBar: true });
    document.setCreator('Sammlung');
    document.setProducer('Sammlung');
    for (const page of pages) {
      const image = await document.embedJpg(await page.arrayBuffer());
      const by = A4 / Math.max(image.width, image.height);
      const [width, height] = [image.width * by, image.height * by];
      document.addPage([width, height]).drawImage(image, { x: 0, y: 0, width, height });
    }
    // Pictures are all there is to it: packing the rest would only keep old programs from reading it.
    const bytes = await document.save({ useObjectStreams: false });
    return bytes.buffer as ArrayBuffer;
  },
};

export type CaptureWork = typeof work;
expose(work);
