import { makePdf } from './files/pdf.ts';
import { makePicture } from './files/picture.ts';
import type { Moment } from './library.ts';

/** A file that waits in the tray of Ilse van der Moor. */
export interface SampleTrayFile {
  readonly name: string;
  readonly mediaType: string;
  readonly arrived: Moment;
  /** Null: the content of this file of the library. */
  readonly make: (() => Promise<Uint8Array>) | null;
  readonly sameAs?: string;
}

const PDF = 'application/pdf';
const SOIL = { course: 'Soil Science I', colour: '#2f6f4f' };
const today = (minute: number): Moment => ({ day: 0, minute });

/** Where the lessons of classes go now: titles of folders by the codes of classes. */
export const SAMPLE_CURRENT_FOLDERS: Readonly<Record<string, string>> = {
  SO1A: '2 Texture & pH',
  SO1B: '2 Texture & pH',
  PR2A: 'Root cuttings',
};

/** What a day of lessons leaves: notes for each class, a quiz with its key, a picture of the board, and one thing twice. */
export const SAMPLE_TRAY: readonly SampleTrayFile[] = [
  {
    name: 'SO1A lesson 15, liming.pdf',
    mediaType: PDF,
    arrived: today(402),
    make: () =>
      makePdf({
        ...{ title: 'Lesson 15, liming', ...SOIL, code: 'SO1A' },
        blocks: [
          {
            text: 'How much lime does a bed need to come from pH 5.5 to pH 6.5? It depends on its texture.',
          },
          { drawing: 'phScale', caption: 'Figure 1. Where we are, and where we want to be.' },
          { heading: 'Lime, in grams for a square metre' },
          {
            table: [
              ['Texture', 'from 5.0', 'from 5.5', 'from 6.0'],
              ['sand', '180', '120', '60'],
              ['loam', '260', '180', '90'],
              ['clay', '400', '270', '140'],
            ],
          },
          { lines: 8 },
        ],
      }),
  },
  {
    name: 'B lesson 15.pdf',
    mediaType: PDF,
    arrived: today(403),
    make: () =>
      makePdf({
        ...{ title: 'Reading a pH strip, once more', ...SOIL, code: 'SO1B' },
        blocks: [
          { text: 'Three strips of one sample differ. Which one do you believe, and why?' },
          {
            list: [
              'Clear water, no soil on the strip',
              'One minute by the clock',
              'Read in daylight',
            ],
          },
          { lines: 14 },
        ],
      }),
  },
  {
    name: 'scan0042.pdf',
    mediaType: PDF,
    arrived: today(404),
    make: () =>
      makePdf({
        ...{ title: 'Quiz 5, worked answers', ...SOIL, code: 'SO1' },
        blocks: [
          {
            list: [
              'Lime raises the pH; sulphur lowers it.',
              'Clay needs more lime than sand: it holds more acid.',
              'Not with fresh manure: the nitrogen would be lost.',
            ],
          },
        ],
      }),
  },
  {
    name: 'quiz 5 blank.pdf',
    mediaType: PDF,
    arrived: today(404),
    make: () =>
      makePdf({
        ...{ title: 'Quiz 5, blank', ...SOIL, code: 'SO1' },
        blocks: [
          { text: 'Name: ______________________________     Class: ________' },
          {
            list: [
              'Name one thing that raises the pH of a bed, and one that lowers it.',
              'Sand or clay: which needs more lime, and why?',
              'Why not lime and manure on the same day?',
            ],
          },
          { lines: 12 },
        ],
      }),
  },
  {
    name: 'IMG_2231.jpg',
    mediaType: 'image/jpeg',
    arrived: today(405),
    make: () => makePicture('board'),
  },
  {
    name: 'root cuttings final.pdf',
    mediaType: PDF,
    arrived: today(406),
    make: null,
    sameAs: 'Root cuttings, step by step.pdf',
  },
];
