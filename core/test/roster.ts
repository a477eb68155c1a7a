import type { Roster, RosterSchool } from '../src/index.ts';

/** A small roster, and the school that has it. */
export const ROSTER: Roster = {
  courses: [{ id: 'k-1', title: 'Bees' }],
  classes: [
    { id: 'c-1', code: 'BE1', courseId: 'k-1' },
    { id: 'c-2', code: 'BE2', courseId: 'k-1' },
  ],
  people: [
    {
      id: 'p-1',
      name: 'Öykü Maria Işık',
      email: 'oyku@bees.example',
      signInName: null,
      kind: 'student',
    },
    { id: 'p-2', name: 'Bo', email: null, signInName: 'bo77', kind: 'student' },
    { id: 'p-3', name: 'Ada Teach', email: 'ada@bees.example', signInName: null, kind: 'teacher' },
  ],
  enrollments: [
    { classId: 'c-1', personId: 'p-1', role: 'student', from: '2026-09-01', until: '2027-07-01' },
    { classId: 'c-1', personId: 'p-2', role: 'student', from: null, until: null },
    { classId: 'c-1', personId: 'p-3', role: 'teacher', from: null, until: null },
  ],
};
export const SCHOOL: RosterSchool = {
  id: 's-1',
  name: 'First',
  year: { id: 'y-1', label: '2026/27', first: '2026-08-31', last: '2027-07-09' },
};
