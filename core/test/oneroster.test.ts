import { describe, expect, it } from 'vitest';
import { lineName, readRoster, ROSTER_FILES, writeRoster } from '../src/index.ts';
import { ROSTER, SCHOOL } from './roster.ts';

/** The files of OneRoster 1.2 for that roster, column by column as the standard has them. */
const WRITTEN = {
  'orgs.csv': [
    'sourcedId,status,dateLastModified,name,type,identifier,parentSourcedId',
    's-1,,,First,school,,',
  ],
  'academicSessions.csv': [
    'sourcedId,status,dateLastModified,title,type,startDate,endDate,parentSourcedId,schoolYear',
    'y-1,,,2026/27,schoolYear,2026-08-31,2027-07-09,,2027',
  ],
  'courses.csv': [
    'sourcedId,status,dateLastModified,schoolYearSourcedId,title,courseCode,grades,orgSourcedId,subjects,subjectCodes',
    'k-1,,,y-1,Bees,,,s-1,,',
  ],
  'classes.csv': [
    'sourcedId,status,dateLastModified,title,grades,courseSourcedId,classCode,classType,location,schoolSourcedId,termSourcedIds,subjects,subjectCodes,periods',
    'c-1,,,BE1,,k-1,BE1,scheduled,,s-1,y-1,,,',
    'c-2,,,BE2,,k-1,BE2,scheduled,,s-1,y-1,,,',
  ],
  'users.csv': [
    'sourcedId,status,dateLastModified,enabledUser,username,userIds,givenName,familyName,middleName,identifier,email,sms,phone,agentSourcedIds,grades,password,userMasterIdentifier,resourceSourcedIds,preferredGivenName,preferredMiddleName,preferredFamilyName,primaryOrgSourcedId,pronouns',
    'p-1,,,true,,,Öykü Maria,Işık,,,oyku@bees.example,,,,,,,,,,,s-1,',
    'p-2,,,true,bo77,,Bo,Bo,,,,,,,,,,,,,,s-1,',
    'p-3,,,true,,,Ada,Teach,,,ada@bees.example,,,,,,,,,,,s-1,',
  ],
  'roles.csv': [
    'sourcedId,status,dateLastModified,userSourcedId,roleType,role,beginDate,endDate,orgSourcedId,userProfileSourcedId',
    'role-p-1,,,p-1,primary,student,,,s-1,',
    'role-p-2,,,p-2,primary,student,,,s-1,',
    'role-p-3,,,p-3,primary,teacher,,,s-1,',
  ],
  'enrollments.csv': [
    'sourcedId,status,dateLastModified,classSourcedId,schoolSourcedId,userSourcedId,role,primary,beginDate,endDate',
    'enrollment-1,,,c-1,s-1,p-1,student,false,2026-09-01,2027-07-01',
    'enrollment-2,,,c-1,s-1,p-2,student,false,,',
    'enrollment-3,,,c-1,s-1,p-3,teacher,true,,',
  ],
};
const MANIFEST = `propertyName,value
manifest.version,1.0
oneroster.version,1.2
file.academicSessions,bulk
file.classes,bulk
file.courses,bulk
file.enrollments,bulk
file.orgs,bulk
file.roles,bulk
file.users,bulk
file.categories,absent
file.classResources,absent
file.courseResources,absent
file.demographics,absent
file.lineItems,absent
file.lineItemLearningObjectiveIds,absent
file.lineItemScoreScales,absent
file.resources,absent
file.results,absent
file.resultLearningObjectiveIds,absent
file.resultScoreScales,absent
file.scoreScales,absent
file.userProfiles,absent
file.userResources,absent
source.systemName,Sammlung
source.systemCode,`;

describe('OneRoster files that are written', () => {
  it('are those of the standard, column by column', () => {
    const { 'manifest.csv': manifest, ...files } = writeRoster(SCHOOL, ROSTER);
    expect(manifest?.split('\r\n')).toEqual(MANIFEST.split('\n'));
    const lines = Object.entries(files).map(([name, text]) => [name, text.split('\r\n')]);
    expect(Object.fromEntries(lines)).toEqual(WRITTEN);
  });

  it('are read as the roster that was written, with names of one and of many words', () => {
    const texts = Object.entries(writeRoster(SCHOOL, ROSTER)).map(([name, text]) => [
      name.replace('.csv', ''),
      text,
    ]);
    const { roster, faults } = readRoster(Object.fromEntries(texts));
    expect(faults).toEqual([]);
    const people = ROSTER.people.map((p) => (p.name === 'Bo' ? { ...p, name: 'Bo Bo' } : p));
    expect(roster).toEqual({ ...ROSTER, people });
  });

  it('take no formula into a spreadsheet', () => {
    const courses = [{ id: 'k', title: '=HYPERLINK("x")' }];
    const written = writeRoster(SCHOOL, { ...ROSTER, courses })['courses.csv']!;
    expect(written.split('\r\n')[1]).toBe(`k,,,y-1,"'=HYPERLINK(""x"")",,,s-1,,`);
  });
});

describe('OneRoster files that are read', () => {
  const HEAD = 'sourcedId,givenName,familyName,role,email,username,enabledUser';
  const usersIn = (...lines: string[]) => readRoster({ users: [HEAD, ...lines].join('\n') });
  const told = ({ faults }: ReturnType<typeof readRoster>) =>
    faults.map((f) => `${f.file} ${f.line} ${f.fault} ${f.what}`);

  it('are five of those there are; what is missing counts as empty', () => {
    expect(ROSTER_FILES).toEqual(['courses', 'classes', 'users', 'roles', 'enrollments']);
    const empty = { courses: [], classes: [], people: [], enrollments: [] };
    expect(readRoster({})).toEqual({ roster: empty, faults: [], lines: new Map() });
  });

  it('with faults tell each line, and the rest is read', () => {
    const read = readRoster({
      courses:
        'sourcedId,status,title\nk,active,Soil\n,active,None\nk,active,Twice\nold,ToBeDeleted,Gone\nl,,',
      classes:
        'sourcedId,title,courseSourcedId\nc,SO1,k\nd,SO2,nowhere\nc,SO3,k\n,SO4,k\ne,,k\nf,SO6,',
      users:
        'sourcedId,givenName,familyName,role,enabledUser\nu,Mina,Kovarik,student,true\nv,,Only,student,true\nw,Off,Line,student,false\nx,No,,student,true',
      enrollments: `sourcedId,classSourcedId,userSourcedId,role,beginDate,endDate
1,c,u,student,2026-09-01,2026-08-01
2,c,v,student,,
3,c,u,student,soon,
4,c,u,student,,
5,d,u,student,,
6,c,u,,,
7,c,u,student,,later
8,c,u,student,2026-09-01,2026-09-01
9,c,u,aide,2026-09-01,2026-09-02
10,,u,student,,
11,c,,student,,`,
    });
    const { roster } = read;
    expect(roster.courses).toEqual([{ id: 'k', title: 'Soil' }]);
    expect(roster.classes).toEqual([{ id: 'c', code: 'SO1', courseId: 'k' }]);
    expect(roster.people.map((p) => p.id)).toEqual(['u']);
    expect(roster.enrollments).toEqual([
      { classId: 'c', personId: 'u', role: 'student', from: null, until: null },
      { classId: 'c', personId: 'u', role: 'teacher', from: '2026-09-01', until: '2026-09-02' },
    ]);
    expect(told(read)).toEqual([
      'courses 3 missing sourcedId',
      'courses 4 twice k',
      'courses 6 missing title',
      'classes 4 twice c',
      'classes 5 missing sourcedId',
      'classes 6 missing title',
      'classes 7 missing courseSourcedId',
      'classes 3 unknown nowhere',
      'users 3 missing givenName',
      'users 5 missing familyName',
      'enrollments 7 missing role',
      'enrollments 11 missing classSourcedId',
      'enrollments 12 missing userSourcedId',
      'enrollments 6 unknown d',
      'enrollments 3 unknown v',
      'enrollments 2 leaves-before-joins 2026-09-01 2026-08-01',
      'enrollments 4 date-odd soon ',
      'enrollments 8 date-odd  later',
      'enrollments 9 leaves-before-joins 2026-09-01 2026-09-01',
    ]);
  });

  it('without an id are missing it, and no twins', () => {
    expect(told(usersIn(',A,B,student,,,true', ',C,D,student,,,true'))).toEqual([
      'users 2 missing sourcedId',
      'users 3 missing sourcedId',
    ]);
    const { roster } = readRoster({
      users: 'sourcedId,givenName,familyName\np,A\uFEFFB,C',
    });
    expect(roster.people).toMatchObject([{ name: 'A B C', email: null, signInName: null }]);
  });

  it('say where each thing stands, the first one where it stands twice', () => {
    const { lines } = readRoster({
      courses: 'sourcedId,title\nk,Soil\n\n,None\nl,Bees\nk,Twice',
      users: `${HEAD}\nk,Ann,First,student,,,`,
    });
    const places = [
      ['courses', 'k'],
      ['courses', 'l'],
      ['users', 'k'],
      ['users', 'l'],
    ] as const;
    expect(places.map(([file, id]) => lines.get(lineName(file, id)))).toEqual([2, 4, 2, undefined]);
  });

  it('keep what is theirs alone: an address or a name that somebody before has is left out and told', () => {
    const read = usersIn(
      '1,Ann,First,student,one@bees.example,ann,',
      ',No,Number,student,,,',
      '2,Ben,Second,student,ONE@bees.example,Ann,',
      '3,Cem,Third,student,not an address,cem,',
      '4,Dia,Fourth,student,,Dia@bees.example,',
      '5,Eli,Fifth,student,eli@bees.example,other@bees.example,',
      '6,Fay,Sixth,student,,cem,',
      '7,Gil,Seventh,student,,,',
      '8,Hal,Eighth,student,,,',
    );
    expect(read.roster.people.map((p) => [p.id, p.email, p.signInName])).toEqual([
      ['1', 'one@bees.example', 'ann'],
      ['2', null, null],
      ['3', null, 'cem'],
      // A name that is an address is one.
      ['4', 'dia@bees.example', null],
      ['5', 'eli@bees.example', null],
      ['6', null, null],
      ['7', null, null],
      ['8', null, null],
    ]);
    expect(told(read)).toEqual([
      'users 3 missing sourcedId',
      'users 4 twice one@bees.example',
      'users 4 twice ann',
      'users 5 mail-odd not an address',
      'users 8 twice cem',
    ]);
  });

  it('know who teaches by the file of roles, else by the line; others are left out', () => {
    const users = [
      HEAD,
      'a,A,A,student,,,',
      'b,B,B,Teacher,,,true',
      'c,C,C,aide,,,',
      'd,D,D,proctor,,,',
      'e,E,E,parent,,,',
      'f,F,F,student,,,false',
      'g,G,G,teacher,,,',
      'h,H,H,,,,',
    ].join('\n');
    const roles = 'userSourcedId,role\na,teacher\ng,guardian\nb,STUDENT';
    const kinds = (files: Parameters<typeof readRoster>[0]) =>
      Object.fromEntries(readRoster(files).roster.people.map((p) => [p.id, p.kind]));
    expect(kinds({ users, roles })).toEqual({
      a: 'teacher',
      b: 'student',
      c: 'teacher',
      d: 'teacher',
    });
    expect(kinds({ users: 'sourcedId,givenName,familyName\nz,Z,Z' })).toEqual({ z: 'student' });
  });

  it('are taken with the names people prefer, and cut to the room there is', () => {
    const { roster } = readRoster({
      courses: `sourcedId,title\nk,${'t'.repeat(61)}`,
      classes: `sourcedId,title,courseSourcedId,classCode\nc,Title of it,k,CODE\nd,Long title of it,k,\ne,Twelve then  space,k,abcdefghijk l`,
      users: `sourcedId,givenName,familyName,preferredGivenName,preferredFamilyName\nu,Wilhelmina,Kovarik,Mina,\nv,Jo,Long,,Short\nw,${'g'.repeat(80)},${'f'.repeat(80)},,`,
    });
    expect(roster.courses[0]!.title).toBe('t'.repeat(60));
    expect(roster.classes.map((c) => c.code)).toEqual(['CODE', 'Long title o', 'abcdefghijk']);
    expect(roster.people.map((p) => p.name)).toEqual([
      'Mina Kovarik',
      'Jo Short',
      `${'g'.repeat(80)} ${'f'.repeat(39)}`,
    ]);
  });

  it('may begin with a mark, have spaces around, letters in parts, and signs nobody sees', () => {
    const { roster } = readRoster({
      courses: '\uFEFF sourcedId , title \n k , Bo\u0308den\u202E\u0000kunde  \n , \n\uFEFFl,Bees',
    });
    expect(roster.courses).toEqual([
      { id: 'k', title: 'Böden kunde' },
      { id: 'l', title: 'Bees' },
    ]);
  });
});
