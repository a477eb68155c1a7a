import { STAFF, STUDENTS, type SamplePerson } from './people.ts';

export const SCHOOL = { name: 'Fennmoor College', timeZone: 'Europe/London' };

export interface SampleClass {
  readonly code: string;
  readonly colour: 'leaf' | 'plum' | 'lake' | 'bark' | 'rose' | 'slate' | 'moss' | 'clay';
  readonly students: readonly SamplePerson[];
  /** Its lessons in a week, as weekday (from 1 for Monday) and period. */
  readonly lessons?: readonly (readonly [weekday: number, period: number])[];
}
export interface SampleCourse {
  readonly title: string;
  readonly colour: SampleClass['colour'];
  readonly teachers: readonly SamplePerson[];
  readonly classes: readonly SampleClass[];
}
export interface SampleYear {
  readonly label: string;
  readonly firstDay: string;
  readonly lastDay: string;
  readonly closed: boolean;
  readonly courses: readonly SampleCourse[];
}

const between = (from: number, to: number) => STUDENTS.slice(from, to);

/** The finished and the running year. `start` is the calendar year in which the running one begins. */
export function sampleYears(start: number): SampleYear[] {
  const label = (year: number) => `${year}/${String((year + 1) % 100).padStart(2, '0')}`;
  return [
    {
      label: label(start - 1),
      firstDay: `${start - 1}-08-31`,
      lastDay: `${start}-07-10`,
      closed: true,
      courses: [
        {
          title: 'Soil Science I',
          colour: 'leaf',
          teachers: [STAFF.ilse],
          classes: [{ code: 'SO1A', colour: 'leaf', students: between(46, 59) }],
        },
      ],
    },
    {
      label: label(start),
      firstDay: `${start}-08-31`,
      lastDay: `${start + 1}-07-09`,
      closed: false,
      courses: [
        {
          title: 'Soil Science I',
          colour: 'leaf',
          teachers: [STAFF.ilse],
          classes: [
            {
              code: 'SO1A',
              colour: 'leaf',
              students: between(0, 24),
              lessons: [
                [2, 2],
                [4, 1],
              ],
            },
            {
              code: 'SO1B',
              colour: 'slate',
              students: between(24, 46),
              lessons: [
                [2, 3],
                [4, 4],
              ],
            },
          ],
        },
        {
          title: 'Plant Propagation II',
          colour: 'plum',
          teachers: [STAFF.ilse],
          classes: [
            {
              code: 'PR2A',
              colour: 'plum',
              students: [...between(0, 6), ...between(46, 59)],
              lessons: [
                [1, 3],
                [3, 2],
              ],
            },
          ],
        },
        {
          title: 'Orchard Care',
          colour: 'rose',
          teachers: [STAFF.tomasz],
          classes: [{ code: 'OR3', colour: 'rose', students: between(59, 76) }],
        },
        {
          title: 'Floristry Basics',
          colour: 'bark',
          teachers: [STAFF.noor],
          classes: [{ code: 'FL1', colour: 'bark', students: between(76, 90) }],
        },
      ],
    },
  ];
}

/** Terms and days off of the year that begins in the calendar year `start`. */
export function sampleDays(start: number) {
  const next = start + 1;
  return [
    { kind: 'term', title: 'Autumn term', firstDay: `${start}-08-31`, lastDay: `${start}-12-18` },
    { kind: 'off', title: 'Harvest week', firstDay: `${start}-10-19`, lastDay: `${start}-10-23` },
    { kind: 'off', title: 'Winter break', firstDay: `${start}-12-19`, lastDay: `${next}-01-03` },
    { kind: 'term', title: 'Spring term', firstDay: `${next}-01-04`, lastDay: `${next}-07-09` },
    { kind: 'off', title: 'Pruning days', firstDay: `${next}-03-01`, lastDay: `${next}-03-02` },
  ] as const;
}
