import Papa from 'papaparse';
import { splitName } from './names.ts';
import { isMail, readDay } from './read.ts';
import type { Day } from '../zone.ts';

/** Courses, classes and people as OneRoster 1.2 CSV (an open standard of 1EdTech) tells them, by their sourcedIds. */
export interface Roster {
  readonly courses: readonly { readonly id: string; readonly title: string }[];
  readonly classes: readonly {
    readonly id: string;
    readonly code: string;
    readonly courseId: string;
  }[];
  readonly people: readonly {
    readonly id: string;
    readonly name: string;
    readonly email: string | null;
    readonly signInName: string | null;
    readonly kind: 'teacher' | 'student';
  }[];
  readonly enrollments: readonly {
    readonly classId: string;
    readonly personId: string;
    readonly role: 'teacher' | 'student';
    readonly from: Day | null;
    readonly until: Day | null;
  }[];
}

/** What cannot be taken of a line. `what` is a column, the id that leads nowhere, or what is odd. */
export interface RosterFault {
  readonly file: string;
  readonly line: number;
  readonly fault:
    | 'missing'
    | 'unknown'
    | 'date-odd'
    | 'leaves-before-joins'
    | 'twice'
    | 'mail-odd'
    | 'other-kind';
  readonly what: string;
}

/** The files that are read; the others of the standard are not needed here. */
export const ROSTER_FILES = ['courses', 'classes', 'users', 'roles', 'enrollments'] as const;
type File = (typeof ROSTER_FILES)[number];

type Line = { readonly line: number; readonly values: Readonly<Record<string, string>> };

/**
 * Reads the CSV files by their names without ending. Files that are missing count as empty; lines marked
 * `tobedeleted` are left out. What cannot be taken is told line by line, the rest is read: a person whose address or
 * name is odd, or somebody else's before, is read without it. `lines` says where each stands, by `lineName`.
 */
export function readRoster(files: Readonly<Partial<Record<File, string>>>): {
  roster: Roster;
  faults: RosterFault[];
  lines: ReadonlyMap<string, number>;
} {
  const faults: RosterFault[] = [];
  const lines = new Map<string, number>();
  const linesOf = (file: File) => readLines(files[file] ?? '');
  /** The values of some columns, or null with a fault where one is missing or its id was there already. */
  const known = new Map<File, Set<string>>();
  const need = (file: File, { line, values }: Line, columns: readonly string[]): boolean => {
    const missing = columns.find((column) => !values[column]);
    if (missing) faults.push({ file, line, fault: 'missing', what: missing });
    const ids = known.get(file) ?? new Set();
    known.set(file, ids);
    const id = values.sourcedId ?? '';
    const twice = id !== '' && ids.has(id);
    if (twice) faults.push({ file, line, fault: 'twice', what: id });
    else lines.set(lineName(file, id), line);
    ids.add(id);
    return missing === undefined && !twice;
  };
  const leads = (file: File, { line, values }: Line, column: string, ids: ReadonlySet<string>) => {
    if (ids.has(values[column] ?? '')) return true;
    faults.push({ file, line, fault: 'unknown', what: values[column] ?? '' });
    return false;
  };

  const courses = linesOf('courses')
    .filter((x) => need('courses', x, ['sourcedId', 'title']))
    .map(({ values: v }) => ({ id: v.sourcedId!, title: v.title!.slice(0, 60) }));
  const courseIds = new Set(courses.map((c) => c.id));
  const classes = linesOf('classes')
    .filter((x) => need('classes', x, ['sourcedId', 'title', 'courseSourcedId']))
    .filter((x) => leads('classes', x, 'courseSourcedId', courseIds))
    .map(({ values: v }) => ({
      id: v.sourcedId!,
      code: (v.classCode || v.title!).slice(0, 12).trim(),
      courseId: v.courseSourcedId!,
    }));
  const classIds = new Set(classes.map((c) => c.id));

  const given = new Set<string>();
  /** An address or a name that nobody before has; null, with a fault, for another one. */
  const own = (line: number, what: string, odd: boolean): string | null => {
    if (what === '') return null;
    const fault = odd ? 'mail-odd' : given.has(what) ? 'twice' : null;
    given.add(what);
    if (fault === null) return what;
    faults.push({ file: 'users', line, fault, what });
    return null;
  };
  const roles = new Map(linesOf('roles').map(({ values: v }) => [v.userSourcedId, v.role]));
  const people = linesOf('users')
    .filter((x) => need('users', x, ['sourcedId', 'givenName', 'familyName']))
    .flatMap(({ line, values: v }) => {
      const role = (roles.get(v.sourcedId) ?? v.role ?? 'student').toLowerCase();
      if (v.enabledUser === 'false' || !['student', 'teacher', 'aide', 'proctor'].includes(role))
        return [];
      const first = v.preferredGivenName || v.givenName!;
      const last = v.preferredFamilyName || v.familyName!;
      const mail = (v.email ?? '').toLowerCase();
      const username = (v.username ?? '').toLowerCase();
      // Many systems have the address as the name; whoever types it here signs in by their address.
      const isAddress = username.includes('@');
      const email = mail || (isAddress ? username : '');
      return [
        {
          id: v.sourcedId!,
          name: `${first} ${last}`.slice(0, 120),
          email: own(line, email, !isMail(email)),
          signInName: isAddress ? null : own(line, username, false),
          kind: role === 'student' ? ('student' as const) : ('teacher' as const),
        },
      ];
    });
  const personIds = new Set(people.map((p) => p.id));

  const enrollments = linesOf('enrollments')
    .filter((x) => need('enrollments', x, ['classSourcedId', 'userSourcedId', 'role']))
    .filter((x) => leads('enrollments', x, 'classSourcedId', classIds))
    .filter((x) => leads('enrollments', x, 'userSourcedId', personIds))
    .flatMap(({ line, values: v }) => {
      const [from, until] = [v.beginDate ?? '', v.endDate ?? ''].map((d) =>
        d ? readDay(d) : null,
      );
      const odd = (v.beginDate && from === null) || (v.endDate && until === null);
      const backwards = from && until && until <= from;
      if (odd || backwards) {
        const fault = odd ? 'date-odd' : 'leaves-before-joins';
        faults.push({ file: 'enrollments', line, fault, what: `${v.beginDate} ${v.endDate}` });
        return [];
      }
      const role = v.role === 'student' ? ('student' as const) : ('teacher' as const);
      return [
        {
          classId: v.classSourcedId!,
          personId: v.userSourcedId!,
          role,
          from: from ?? null,
          until: until ?? null,
        },
      ];
    });
  return {
    roster: { courses, classes, people, enrollments },
    faults,
    lines,
  };
}

/** By what `readRoster` names the line of something in a file. */
export const lineName = (file: File, id: string) => `${file} ${id}`;

function readLines(text: string): Line[] {
  const { data } = Papa.parse<Record<string, string>>(text.replace(/^\uFEFF/u, ''), {
    header: true,
    skipEmptyLines: 'greedy',
    transformHeader: (heading) => heading.trim(),
    transform: (value) =>
      value
        .normalize('NFC')
        .replace(/[\p{Cc}\p{Cf}]+/gu, ' ')
        .trim(),
  });
  return data
    .map((values, n) => ({ line: n + 2, values }))
    .filter(({ values }) => values.status?.toLowerCase() !== 'tobedeleted');
}

/** What a roster that is written tells about the school. */
export interface RosterSchool {
  readonly id: string;
  readonly name: string;
  readonly year: {
    readonly id: string;
    readonly label: string;
    readonly first: Day;
    readonly last: Day;
  };
}

/** Writes the files of OneRoster 1.2 CSV, by their whole names. What `readRoster` makes of them is the same roster. */
export function writeRoster(school: RosterSchool, roster: Roster): Record<string, string> {
  const { year } = school;
  const bulk = ['academicSessions', 'classes', 'courses', 'enrollments', 'orgs', 'roles', 'users'];
  const absent = [
    'categories',
    'classResources',
    'courseResources',
    'demographics',
    'lineItems',
    'lineItemLearningObjectiveIds',
    'lineItemScoreScales',
    'resources',
    'results',
    'resultLearningObjectiveIds',
    'resultScoreScales',
    'scoreScales',
    'userProfiles',
    'userResources',
  ];
  const manifest: string[][] = [
    ['propertyName', 'value'],
    ['manifest.version', '1.0'],
    ['oneroster.version', '1.2'],
    ...bulk.map((file) => [`file.${file}`, 'bulk']),
    ...absent.map((file) => [`file.${file}`, 'absent']),
    ['source.systemName', 'Sammlung'],
    ['source.systemCode', ''],
  ];
  return {
    'manifest.csv': Papa.unparse(manifest),
    'orgs.csv': table(
      ['sourcedId', 'status', 'dateLastModified', 'name', 'type', 'identifier', 'parentSourcedId'],
      [{ sourcedId: school.id, name: school.name, type: 'school' }],
    ),
    'academicSessions.csv': table(
      [
        'sourcedId',
        'status',
        'dateLastModified',
        'title',
        'type',
        'startDate',
        'endDate',
        'parentSourcedId',
        'schoolYear',
      ],
      [
        {
          sourcedId: year.id,
          title: year.label,
          type: 'schoolYear',
          startDate: year.first,
          endDate: year.last,
          schoolYear: year.last.slice(0, 4),
        },
      ],
    ),
    'courses.csv': table(
      [
        'sourcedId',
        'status',
        'dateLastModified',
        'schoolYearSourcedId',
        'title',
        'courseCode',
        'grades',
        'orgSourcedId',
        'subjects',
        'subjectCodes',
      ],
      roster.courses.map((c) => ({
        sourcedId: c.id,
        schoolYearSourcedId: year.id,
        title: c.title,
        orgSourcedId: school.id,
      })),
    ),
    'classes.csv': table(
      [
        'sourcedId',
        'status',
        'dateLastModified',
        'title',
        'grades',
        'courseSourcedId',
        'classCode',
        'classType',
        'location',
        'schoolSourcedId',
        'termSourcedIds',
        'subjects',
        'subjectCodes',
        'periods',
      ],
      roster.classes.map((c) => ({
        sourcedId: c.id,
        title: c.code,
        courseSourcedId: c.courseId,
        classCode: c.code,
        classType: 'scheduled',
        schoolSourcedId: school.id,
        termSourcedIds: year.id,
      })),
    ),
    'users.csv': table(
      [
        'sourcedId',
        'status',
        'dateLastModified',
        'enabledUser',
        'username',
        'userIds',
        'givenName',
        'familyName',
        'middleName',
        'identifier',
        'email',
        'sms',
        'phone',
        'agentSourcedIds',
        'grades',
        'password',
        'userMasterIdentifier',
        'resourceSourcedIds',
        'preferredGivenName',
        'preferredMiddleName',
        'preferredFamilyName',
        'primaryOrgSourcedId',
        'pronouns',
      ],
      roster.people.map((p) => {
        const { given, family } = splitName(p.name);
        return {
          sourcedId: p.id,
          enabledUser: 'true',
          username: p.signInName ?? '',
          givenName: given || family,
          familyName: family,
          email: p.email ?? '',
          primaryOrgSourcedId: school.id,
        };
      }),
    ),
    'roles.csv': table(
      [
        'sourcedId',
        'status',
        'dateLastModified',
        'userSourcedId',
        'roleType',
        'role',
        'beginDate',
        'endDate',
        'orgSourcedId',
        'userProfileSourcedId',
      ],
      roster.people.map((p) => ({
        sourcedId: `role-${p.id}`,
        userSourcedId: p.id,
        roleType: 'primary',
        role: p.kind,
        orgSourcedId: school.id,
      })),
    ),
    'enrollments.csv': table(
      [
        'sourcedId',
        'status',
        'dateLastModified',
        'classSourcedId',
        'schoolSourcedId',
        'userSourcedId',
        'role',
        'primary',
        'beginDate',
        'endDate',
      ],
      roster.enrollments.map((e, n) => ({
        sourcedId: `enrollment-${n + 1}`,
        classSourcedId: e.classId,
        schoolSourcedId: school.id,
        userSourcedId: e.personId,
        role: e.role,
        primary: e.role === 'teacher' ? 'true' : 'false',
        beginDate: e.from ?? '',
        endDate: e.until ?? '',
      })),
    ),
  };
}

/** A cell that a spreadsheet would take for a formula gets a sign in front that it shows as text. */
function table(columns: string[], lines: readonly Record<string, string>[]): string {
  return Papa.unparse(
    { fields: columns, data: lines.map((line) => columns.map((column) => line[column] ?? '')) },
    { escapeFormulae: true },
  );
}
