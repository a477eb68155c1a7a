import type { Moment } from './library.ts';

/** What stands on the page of a class: `things` are titles of folders, and names of files, as the library has them. */
export interface SampleEntryOnPage {
  readonly title: string;
  readonly text?: string;
  readonly things?: readonly string[];
  /** Title of its heading. */
  readonly under?: string;
  readonly keepOnTop?: boolean;
  readonly held?: boolean;
  readonly at: Moment;
}

/** What is on the website of a class: titles of headings, and of entries with their words. */
export interface SampleWebsite {
  readonly class: string;
  readonly headings: readonly string[];
  readonly texts: readonly string[];
  readonly tells: 'nothing' | 'number' | 'titles';
  readonly coverText: string;
  readonly at: Moment;
}

export interface SampleClassPage {
  /** The codes of the classes on whose pages the entries are. */
  readonly classes: readonly string[];
  readonly numbered: boolean;
  readonly headings: readonly { readonly title: string; readonly mark?: string }[];
  readonly entries: readonly SampleEntryOnPage[];
  readonly website?: SampleWebsite;
}

export const SAMPLE_CLASS_PAGES: readonly SampleClassPage[] = [
  {
    classes: ['SO1A', 'SO1B'],
    numbered: true,
    headings: [
      { title: 'Texture & pH', mark: '🧪' },
      { title: 'Soil profile', mark: '🪱' },
      { title: 'Field days' },
    ],
    entries: [
      {
        title: 'Course outline and rules',
        things: ['Soil Science I, course outline.pdf'],
        keepOnTop: true,
        at: { day: -84 },
      },
      {
        title: 'Words we use',
        text: 'In all our languages. Add the word you say at home.',
        things: ['Soil words, Böden und 土壌.docx'],
        keepOnTop: true,
        at: { day: -70 },
      },
      { title: 'Course reader', things: ['Course reader'], keepOnTop: true, at: { day: -60 } },
      {
        title: 'Lesson 14: reading a pH strip',
        text: 'Read pages 1 and 2 before Thursday. Bring two handfuls of soil from home, one from under a tree.',
        things: ['Lesson 14, reading a pH strip.pdf', 'Soil log, blank table.xlsx'],
        under: 'Texture & pH',
        at: { day: -2, minute: 900 },
      },
      {
        title: 'Quiz 4, for practice',
        text: 'The key opens here on Tuesday at 8:00.',
        things: ['Quiz 4, blank.pdf'],
        under: 'Texture & pH',
        at: { day: -3, minute: 860 },
      },
      {
        title: 'Rain and temperature',
        text: 'Fill in your own week, in millimetres.',
        things: ['Rain and soil temperature, autumn.csv'],
        under: 'Texture & pH',
        at: { day: -13, minute: 780 },
      },
      {
        title: 'At the pit',
        text: 'Everything from the three weeks outside: sheets, pictures, and what we saw.',
        things: ['1 Soil profile'],
        under: 'Soil profile',
        at: { day: -74, minute: 900 },
      },
      {
        title: 'Thursdays, whatever the weather',
        text: 'Boots, gloves, a ruler of 30 cm. We leave at 8:10 from the tool shed.',
        under: 'Field days',
        at: { day: -80, minute: 500 },
      },
      {
        title: 'To take along',
        text: 'Print the cards you need, or keep them on your phone.',
        things: ['Field guides'],
        under: 'Field days',
        at: { day: -40, minute: 610 },
      },
      {
        title: 'Next: compost',
        text: 'Bring a lunch box of peelings on Monday.',
        things: ['3 Compost'],
        under: 'Field days',
        held: true,
        at: { day: -1, minute: 960 },
      },
    ],
    website: {
      class: 'SO1A',
      headings: ['Field days'],
      texts: ['Thursdays, whatever the weather', 'To take along'],
      tells: 'titles',
      coverText:
        'For parents, and for all who come along on Thursdays. What we do in class is for the class alone.',
      at: { day: -39, minute: 500 },
    },
  },
];
