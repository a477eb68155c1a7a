import { z } from 'zod';
import { Colour, Day, Id, Instant } from './common.ts';
import { Consequences } from './consequence.ts';
import { ImportQuery, ImportedRoster } from './oneroster.ts';
import { BYTES, media, type RouteMap } from './route.ts';
import { Language } from './session.ts';

const Title = z.string().trim().min(1).max(60);
const Code = z
  .string()
  .trim()
  .min(1)
  .max(12)
  .regex(/^[^\s\p{Cc}\p{Cf}](?:[^\p{Cc}\p{Cf}]*[^\s\p{Cc}\p{Cf}])?$/u);

export const CourseParams = z.object({ course: Id });
export const ClassParams = z.object({ class: Id });
export const MembershipParams = z.object({ membership: Id });

export const Teacher = z.object({ id: Id, name: z.string() });
export type Teacher = z.infer<typeof Teacher>;

export const CourseView = z.object({
  id: Id,
  title: z.string(),
  colour: Colour,
  yearId: Id,
  teachers: z.array(Teacher),
  classes: z.array(
    z.object({
      id: Id,
      code: z.string(),
      colour: Colour,
      students: z.number().int(),
      /** How many of them can sign in. */
      ready: z.number().int(),
      /** Folders handed out to the class or its course. */
      folders: z.number().int(),
    }),
  ),
});
export type CourseView = z.infer<typeof CourseView>;

/** The courses a person runs: those they teach, or all of the school for the office. */
export const Courses = z.object({
  years: z.array(z.object({ id: Id, label: z.string() })),
  courses: z.array(CourseView),
  /** Who could teach. */
  teachers: z.array(Teacher),
});
export type Courses = z.infer<typeof Courses>;

export const NewCourse = z.object({
  title: Title,
  colour: Colour,
  yearId: Id,
  /** Codes of its first classes. */
  classes: z.array(Code).max(20).default([]),
});
export const CourseChange = z.object({
  title: Title.optional(),
  colour: Colour.optional(),
  teachers: z.array(Id).min(1).max(30).optional(),
});
export type CourseChange = z.infer<typeof CourseChange>;
export const NewClass = z.object({ courseId: Id, code: Code, colour: Colour });
export const ClassChange = z.object({
  code: Code.optional(),
  colour: Colour.optional(),
  /** In which what is made for the class is worded; null leaves it to whoever makes it. */
  language: Language.nullable().optional(),
});
export const Made = z.object({ id: Id });
export type Made = z.infer<typeof Made>;

export const Member = z.object({
  membershipId: Id,
  personId: Id,
  name: z.string(),
  email: z.string().nullable(),
  signInName: z.string().nullable(),
  from: Instant.nullable(),
  until: Instant.nullable(),
  state: z.enum(['now', 'later', 'left']),
  /** Whether they can sign in; `invited` while a mail waits to be answered. */
  access: z.enum(['ready', 'invited', 'none', 'ended']),
  otherClasses: z.array(z.string()),
  /** Whether the viewer may make a first password for the account, while it is not in use. */
  managed: z.boolean(),
});
export type Member = z.infer<typeof Member>;

/** Somebody who has been asked to join a class and has not answered. */
export const AskedToJoin = z.object({ id: Id, name: z.string(), askedAt: Instant });
export type AskedToJoin = z.infer<typeof AskedToJoin>;

export const ClassList = z.object({
  id: Id,
  code: z.string(),
  colour: Colour,
  language: Language.nullable(),
  course: z.object({ id: Id, title: z.string() }),
  members: z.array(Member),
  asked: z.array(AskedToJoin),
  /** The other classes of the course, to move people to. */
  siblings: z.array(z.object({ id: Id, code: z.string(), colour: Colour })),
});
export type ClassList = z.infer<typeof ClassList>;

/** How a list is read: its columns of names may stand last name first. */
export const ListQuery = z.object({ order: z.enum(['first', 'last']).default('first') });

const ListedPerson = z.object({
  name: z.string().trim().min(1).max(120),
  email: z.email().max(254).toLowerCase().nullable(),
  signInName: z.string().max(60).nullable(),
  externalId: z.string().max(200).nullable(),
  from: Day.nullable(),
  until: Day.nullable(),
});

export const ListedRow = z.object({
  line: z.number().int(),
  name: z.string(),
  email: z.string().nullable(),
  signInName: z.string().nullable(),
  externalId: z.string().nullable(),
  from: Day.nullable(),
  until: Day.nullable(),
  /** `asks`: has an account that is not the teacher's to take in; they or the office are asked. */
  state: z.enum(['new', 'joins', 'asks', 'stays', 'changed', 'doubtful', 'fault']),
  /** Whether taking it for the account means asking. */
  asks: z.boolean(),
  /** The account it is taken for. */
  person: z
    .object({
      id: Id,
      name: z.string(),
      email: z.string().nullable(),
      classes: z.array(z.string()),
    })
    .nullable(),
  doubts: z.array(z.string()),
  faults: z.array(z.string()),
});
export type ListedRow = z.infer<typeof ListedRow>;

/** What taking a list would do: nothing has been done yet. */
export const ListPreview = z.object({
  encoding: z.string(),
  rows: z.array(ListedRow),
  missing: z.array(z.object({ membershipId: Id, name: z.string() })),
  /** What the rows that are sure would let people see. */
  consequences: Consequences,
});
export type ListPreview = z.infer<typeof ListPreview>;

export const ImportList = z.object({
  /** `personId` null makes an account. */
  rows: z.array(ListedPerson.extend({ personId: Id.nullable() })).max(5000),
  /** Memberships that end now. */
  leaving: z.array(Id).max(5000).default([]),
});
export type ImportList = z.infer<typeof ImportList>;

/** Undo of a list: who joined by it leaves, who left comes back, and who was called otherwise is so again. */
export const ListUndo = z.object({
  joined: z.array(Id).max(5000),
  /** Requests to join that it made. */
  asked: z.array(Id).max(5000).default([]),
  before: z
    .array(
      z.object({
        membershipId: Id,
        name: z.string().max(200),
        from: Instant.nullable(),
        until: Instant.nullable(),
      }),
    )
    .max(10_000),
});
export const ImportedList = z.object({
  joined: z.number().int(),
  made: z.number().int(),
  changed: z.number().int(),
  asked: z.number().int(),
  left: z.number().int(),
  undo: ListUndo,
});
export type ImportedList = z.infer<typeof ImportedList>;

export const MembershipChange = z.object({ from: Day.nullable(), until: Day.nullable() });
export const ClassMove = z.object({ classId: Id });
/** Undo as of a list: it may name memberships of all classes of the course. */
export const MovedToClass = z.object({ undo: ListUndo });
export type MovedToClass = z.infer<typeof MovedToClass>;

/** People of a class who get a mail to set their password, or a printed slip. */
export const Members = z.object({ people: z.array(Id).min(1).max(5000) });
export const Invited = z.object({
  sent: z.number().int(),
  /** Who has no mail address and needs a slip. */
  without: z.number().int(),
  /** Whose account is in use, or somebody else's to manage: nothing was sent to them. */
  others: z.array(z.string()),
});
export type Invited = z.infer<typeof Invited>;
export const Slips = z.object({
  slips: z.array(z.object({ name: z.string(), signInName: z.string(), firstPassword: z.string() })),
  /** Whose account is in use, or somebody else's to manage: the office can help. */
  others: z.array(z.string()),
});
export type Slips = z.infer<typeof Slips>;

/** What might become of memberships of a class: other days, another class of the course, or else their end now. */
export const MembersChange = z.object({
  memberships: z.array(Id).min(1).max(5000),
  days: MembershipChange.optional(),
  to: Id.optional(),
});
export type MembersChange = z.infer<typeof MembersChange>;

export const JoinRequestParams = z.object({ request: Id });
/** Requests to join a class that wait for a student's answer, or for the office's. */
export const JoinRequests = z.object({
  requests: z.array(
    z.object({
      id: Id,
      /** Who is to join. */
      name: z.string(),
      askedBy: z.string(),
      code: z.string(),
      colour: Colour,
      course: z.string(),
      askedAt: Instant,
    }),
  ),
});
export type JoinRequests = z.infer<typeof JoinRequests>;
export const JoinAnswer = z.object({ answer: z.enum(['yes', 'no']) });
export type JoinAnswer = z.infer<typeof JoinAnswer>;

/** Largest list that is read, in bytes. */
export const LIST_BYTES = 8 * 1024 * 1024;

/** What stands against reading a list. */
const LIST_ERRORS = ['list-binary', 'list-empty', 'list-too-long', 'too-slow'] as const;

/** Courses, classes and their lists, for those who run them. */
export const ROSTER_ROUTES = {
  'GET /api/courses': {
    summary: 'The courses and classes of the years that are open.',
    reply: Courses,
  },
  'POST /api/courses': {
    summary: 'Makes a course.',
    body: NewCourse,
    reply: Made,
    status: 201,
    errors: ['audience-unknown', 'code-taken'],
  },
  'PATCH /api/courses/:course': {
    summary: 'Changes a course.',
    params: CourseParams,
    body: CourseChange,
    errors: ['audience-unknown'],
  },
  'POST /api/classes': {
    summary: 'Makes a class.',
    body: NewClass,
    reply: Made,
    status: 201,
    errors: ['code-taken'],
  },
  'PATCH /api/classes/:class': {
    summary: 'Changes a class.',
    params: ClassParams,
    body: ClassChange,
    errors: ['code-taken'],
  },
  'GET /api/courses/:course/removal': {
    summary: 'What removing a course would mean.',
    params: CourseParams,
    reply: Consequences,
  },
  'GET /api/classes/:class/removal': {
    summary: 'What removing a class would mean.',
    params: ClassParams,
    reply: Consequences,
  },
  'DELETE /api/courses/:course': {
    summary: 'Removes a course with its classes.',
    params: CourseParams,
  },
  'DELETE /api/classes/:class': {
    summary: 'Removes a class.',
    params: ClassParams,
  },
  'POST /api/courses/:course/restore': {
    summary: 'Undoes removing a course.',
    params: CourseParams,
    errors: ['code-taken'],
  },
  'POST /api/classes/:class/restore': {
    summary: 'Undoes removing a class.',
    params: ClassParams,
    errors: ['code-taken'],
  },
  'GET /api/classes/:class': {
    summary: 'The members of a class.',
    params: ClassParams,
    reply: ClassList,
  },
  'POST /api/classes/:class/list/preview': {
    summary: 'Reads a class list and says what importing it would do.',
    params: ClassParams,
    query: ListQuery,
    body: BYTES,
    reply: ListPreview,
    largest: LIST_BYTES,
    errors: LIST_ERRORS,
  },
  'POST /api/classes/:class/list': {
    summary: 'Imports a class list that was checked.',
    params: ClassParams,
    body: ImportList,
    reply: ImportedList,
    largest: LIST_BYTES,
    errors: ['audience-unknown', 'ends-before-start', 'account-taken'],
  },
  'POST /api/classes/:class/list/undo': {
    summary: 'Undoes importing a class list.',
    params: ClassParams,
    body: ListUndo,
    largest: LIST_BYTES,
    errors: ['account-taken'],
  },
  'POST /api/classes/:class/members/preview': {
    summary: 'What a change of members would mean.',
    params: ClassParams,
    body: MembersChange,
    reply: Consequences,
    largest: LIST_BYTES,
    errors: ['audience-unknown'],
  },
  'PATCH /api/memberships/:membership': {
    summary: 'Changes from when until when somebody is in a class.',
    params: MembershipParams,
    body: MembershipChange,
    errors: ['ends-before-start'],
  },
  'POST /api/memberships/:membership/move': {
    summary: 'Moves somebody to another class from a day on.',
    params: MembershipParams,
    body: ClassMove,
    reply: MovedToClass,
    errors: ['audience-unknown'],
  },
  'POST /api/classes/:class/invitations': {
    summary: 'Invites members by email to choose a password.',
    params: ClassParams,
    body: Members,
    reply: Invited,
    errors: ['account-taken'],
  },
  'POST /api/classes/:class/slips': {
    summary: 'First passwords for members, to be printed.',
    params: ClassParams,
    body: Members,
    reply: Slips,
    errors: ['account-taken'],
  },
  'GET /api/join-requests': {
    summary: 'Requests to take people into a class that wait for an answer.',
    reply: JoinRequests,
  },
  'POST /api/join-requests/:request/answer': {
    summary: 'Answers a request to be taken into a class.',
    params: JoinRequestParams,
    body: JoinAnswer,
    errors: ['answered-already'],
  },
  'DELETE /api/join-requests/:request': {
    summary: 'Withdraws a request.',
    params: JoinRequestParams,
    errors: ['answered-already'],
  },
  'GET /api/oneroster': {
    summary: 'People, courses and classes as OneRoster CSV.',
    reply: media('application/zip'),
  },
  'POST /api/oneroster': {
    summary: 'Imports OneRoster CSV, or says what importing it would do.',
    query: ImportQuery,
    body: BYTES,
    reply: ImportedRoster,
    largest: 4 * LIST_BYTES,
    errors: [...LIST_ERRORS, 'account-taken', 'code-taken'],
  },
} as const satisfies RouteMap;
