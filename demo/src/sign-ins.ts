import { STAFF, STUDENTS } from './people.ts';

export const SAMPLE_PASSWORD = 'fennmoor';

/** The sign-ins offered on the sign-in page. */
export const SAMPLE_SIGN_INS = [
  { email: STAFF.ilse.email, about: 'teaches Soil Science I and Plant Propagation II' },
  { email: STAFF.tomasz.email, about: 'teaches Orchard Care' },
  { email: STAFF.office.email, about: 'keeps the class lists in the office' },
  { email: STUDENTS[0]!.email, about: 'student in SO1A and PR2A' },
  { email: STUDENTS[24]!.email, about: 'student in SO1B' },
  { email: STUDENTS[60]!.email, about: 'student in OR3' },
];
