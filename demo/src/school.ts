import { STAFF, STUDENTS, type SamplePerson } from './people.ts';

export const SCHOOL = { name: 'Fennmoor College', timeZone: 'Europe/London' };

export interface SampleClass {
  readonly code: string;
  readonly colour: 'leaf' | 'plum' | 'lake' | 'bark' | 'rose' | 'slate' | 'moss' | 'clay';
  readonly students: readonly SamplePerson[];
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
            { code: 'SO1A', colour: 'leaf', students: between(0, 24) },
            { code: 'SO1B', colour: 'slate', students: between(24, 46) },
          ],
        },
        {
          title: 'Plant Propagation II',
          colour: 'plum',
          teachers: [STAFF.ilse],
          classes: [
            { code: 'PR2A', colour: 'plum', students: [...between(0, 6), ...between(46, 59)] },
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
