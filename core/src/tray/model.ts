import type { Id, Instant } from '../model.ts';
import type { Lesson } from '../timetable.ts';
import type { Day } from '../zone.ts';

/** What a handout is, as far as its name tells: it decides where it goes and when it goes out. */
export const THING_KINDS = ['notes', 'sheet', 'quiz', 'key', 'other'] as const;
export type ThingKind = (typeof THING_KINDS)[number];

/** A file that waits to be put in place. */
export interface TrayFile {
  readonly id: Id;
  /** As it came, with its extension. */
  readonly name: string;
  /** SHA-256. */
  readonly hash: string;
  /** What is written in it, as far as it is known; empty where nothing is. */
  readonly text: string;
  readonly arrivedAt: Instant;
}

/** A class that the teacher teaches. */
export interface TrayClass {
  readonly id: Id;
  readonly code: string;
  readonly courseId: Id;
  readonly course: string;
  /** Where its lessons go now. */
  readonly currentFolderId: Id | null;
  /** Its lessons in a week, as far as a timetable is known. */
  readonly lessons: readonly Lesson[];
}

/** A folder into which the teacher may put things. */
export interface TrayFolder {
  readonly id: Id;
  readonly title: string;
  readonly parentId: Id | null;
  /** The classes that it reaches, now or later. */
  readonly classIds: readonly Id[];
}

/** A file of the library in one of its places. */
export interface PlacedFile {
  readonly itemId: Id;
  readonly placementId: Id;
  readonly folderId: Id;
  readonly title: string;
  readonly extension: string;
  /** The name with which its newest version came. */
  readonly originalName: string;
  /** SHA-256 of its newest version. */
  readonly hash: string;
  /** Whether the teacher may change it. */
  readonly own: boolean;
  /** When it was put there. */
  readonly at: Instant;
  /** The classes to which it goes out in this place, now or later. */
  readonly classIds: readonly Id[];
}

/** Why something is proposed. `detail` is what was found: a code, a title, a line of the text. */
export interface TrayReason {
  readonly why:
    | 'code'
    | 'course'
    | 'letter'
    | 'period'
    | 'lesson-today'
    | 'follows'
    | 'like'
    | 'both'
    | 'text'
    | 'only';
  readonly detail: string;
}

/** For which class a file is, and where it goes. */
export interface Destination {
  readonly classId: Id;
  /** Null where no folder is known. */
  readonly folderId: Id | null;
}

/** What is proposed for a file. */
export interface Proposal {
  readonly kind: ThingKind;
  readonly title: string;
  readonly lessonDate: Day;
  readonly to: readonly Destination[];
  /** Why, the most telling first. */
  readonly reasons: readonly TrayReason[];
  /** From 0 to 1. */
  readonly sureness: number;
}

/** From here on a proposal need not wait for an answer. */
export const SURE = 0.7;
