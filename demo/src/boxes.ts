import { makeText } from './files/office.ts';
import { makePdf } from './files/pdf.ts';
import { makePicture } from './files/picture.ts';
import { random } from './files/random.ts';
import type { Moment } from './library.ts';
import { STUDENTS, type SamplePerson } from './people.ts';

/** Something a student has handed in. */
export interface SampleHandedIn {
  readonly student: SamplePerson;
  readonly name: string;
  readonly mediaType: string;
  readonly at: Moment;
  /** When the teacher has looked at it. */
  readonly seen?: Moment;
  readonly make: () => Promise<Uint8Array>;
  readonly remarks?: readonly SampleRemark[];
}

/** What the teacher, or the student, has written about it; an answer to the one before. */
export interface SampleRemark {
  readonly by: 'teacher' | 'student';
  readonly body: string;
  readonly at: Moment;
  readonly point?: { readonly page: number; readonly x: number; readonly y: number };
  readonly answers?: boolean;
}

/** What Ilse Vandermoor often writes about work. */
export const SAMPLE_PHRASES = ['The unit is missing.', 'Show how you got there.', 'Well measured.'];

/** A hand-in box of a class, with what lies in the places of its students. */
export interface SampleBox {
  readonly class: string;
  readonly title: string;
  readonly text: string;
  readonly made: Moment;
  readonly ends?: Moment;
  readonly handedIn: readonly SampleHandedIn[];
}

const PDF = 'application/pdf';
const TEXT = 'application/vnd.openxmlformats-officedocument.wordprocessingml.document';
const WEATHER = ['dry and bright', 'rain all night', 'fog until ten', 'first frost', 'windy'];
const FOUND = [
  'two earthworms',
  'white mould on the mulch',
  'chickweed',
  'a beetle',
  'nothing new',
];

/** A page of the log of a plot, with what was measured in five weeks. */
function soilLog(plot: number) {
  const next = random(`soil log ${plot}`);
  const of = (words: readonly string[]) => words[Math.floor(next() * words.length)]!;
  const weeks = Array.from({ length: 5 }, (_, n) => [
    `week ${n + 9}`,
    of(WEATHER),
    `${(11 - n * 1.4 + next() * 2).toFixed(1)} °C`,
    of(FOUND),
  ]);
  return makePdf({
    ...{ title: `Soil log, plot ${plot}`, course: 'Soil Science I', code: 'SO1A' },
    colour: '#2f6f4f',
    blocks: [
      { text: `Plot ${plot} lies at the ${next() < 0.5 ? 'upper' : 'lower'} end of the field.` },
      { table: [['', 'Weather', 'At 10 cm', 'Found'], ...weeks] },
      { drawing: 'phScale', caption: 'Figure 1. My strip, and the colours beside it.' },
      { heading: 'What I noticed' },
      {
        text: 'The lower half stays wet for two days longer. Where the mulch is thicker it was warmer in the morning.',
      },
    ],
  });
}

const drainage = (plot: number) =>
  makeText({
    title: `Drainage test, plot ${plot}`,
    paragraphs: [
      'I dug the hole 30 cm deep and filled it twice. The second filling took longer to drain.',
      `After ${20 + (plot % 5) * 7} minutes the water was gone. That is slow for a garden soil.`,
      'Before planting I would loosen the bed with a fork and put in compost.',
    ],
    table: [
      ['Minutes', 'Water, cm'],
      ['0', '30'],
      ['10', String(22 - (plot % 5))],
      ['20', String(12 - (plot % 5))],
    ],
  });

const inClass = STUDENTS.slice(0, 24);
const log = (student: SamplePerson, n: number): SampleHandedIn => ({
  ...{ student, name: 'Soil log.pdf', mediaType: PDF, make: () => soilLog(n + 1) },
  at: { day: -1 - (n % 6), minute: 620 + n * 7 },
  ...(n % 6 > 1 && { seen: { day: -1, minute: 960 + n } }),
  ...(n === 1 && {
    seen: { day: -1, minute: 960 },
    remarks: [
      {
        ...{ by: 'teacher', body: 'Good that you measured twice. Which day was the rain?' },
        ...{ at: { day: -1, minute: 962 }, point: { page: 1, x: 0.31, y: 0.26 } },
      },
      {
        by: 'student',
        body: 'On Tuesday, I will write it in.',
        at: { day: -1, minute: 975 },
        answers: true,
      },
      {
        ...{ by: 'teacher', body: 'The unit is missing here.' },
        ...{ at: { day: -1, minute: 963 }, point: { page: 1, x: 0.62, y: 0.5 } },
      },
    ],
  }),
});

/** The boxes of the classes of Ilse Vandermoor: a log for the whole year, and a report that is half in. */
export const SAMPLE_BOXES: readonly SampleBox[] = [
  {
    class: 'SO1A',
    title: 'Soil log, my plot',
    text: 'One page for each week: the weather, the temperature of the soil at 10 cm, and what you found. A picture helps.',
    made: { day: -70 },
    handedIn: [
      ...inClass.filter((_, n) => n % 4 !== 3).map((student, n) => log(student, n)),
      {
        ...{ student: inClass[0]!, name: 'My plot in November.jpg', mediaType: 'image/jpeg' },
        at: { day: -1, minute: 640 },
        make: () => makePicture('soilPit'),
      },
    ],
  },
  {
    class: 'SO1A',
    title: 'Drainage test, report',
    text: 'One page: how you measured, what came out, and what you would do before planting.',
    made: { day: -6 },
    ends: { day: 2, minute: 18 * 60 },
    handedIn: inClass
      .filter((_, n) => n % 2 === 1)
      .map((student, n) => ({
        ...{ student, name: `Drainage, ${student.name.split(' ')[0]!}.docx`, mediaType: TEXT },
        at: { day: -1 - (n % 3), minute: 700 + n * 9 },
        ...(n % 3 === 2 && { seen: { day: -1, minute: 970 + n } }),
        make: () => drainage(n + 1),
      })),
  },
  {
    class: 'PR2A',
    title: 'Root cuttings, diary',
    text: 'Five entries, from the day you cut to the day you pot on.',
    made: { day: -30 },
    ends: { day: -3, minute: 18 * 60 },
    handedIn: inClass.slice(0, 5).map((student, n) => ({
      ...{ student, name: 'Diary of my cuttings.docx', mediaType: TEXT },
      // The last one came late.
      at: { day: n === 4 ? -2 : -4, minute: 900 + n * 11 },
      ...(n < 3 && { seen: { day: -2, minute: 480 } }),
      make: () =>
        makeText({
          title: 'Root cuttings, diary',
          paragraphs: [
            'Cut to 5 cm, the upper end straight and the lower one slanting.',
            'In sharp sand, covered, in the cold frame. Watered once.',
            `After ${18 + n} days the first shoots were to be seen.`,
          ],
          table: [
            ['Day', 'Seen'],
            ['1', 'cut'],
            ['14', 'swollen'],
            [String(18 + n), 'shoots'],
          ],
        }),
    })),
  },
];
