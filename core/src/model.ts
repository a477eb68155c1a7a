/** Plain data the rules of this package work on. Times are UTC instants in milliseconds since 1970. */

export type Id = string;
export type Instant = number;

/** A stretch of time: `from` ≤ t < `until`, an absent end is open. */
export interface Span {
  readonly from: Instant | null;
  readonly until: Instant | null;
}

/** What a person gets with a handing out; `add` and `manage` have effect for staff only. */
export type Level = 'view' | 'add' | 'manage';

/** The release of a folder or placement. */
export interface Release extends Span {
  readonly held: boolean;
}

/** A release that may read differently for single classes. */
export interface ReleaseRule extends Release {
  readonly perClass: ReadonlyMap<Id, Release>;
}

/** `id` is the person, class (also for those who teach it), course, school (for staff and school) or door. */
export interface Audience {
  readonly kind: 'person' | 'class' | 'course' | 'staff' | 'school' | 'door' | 'teachers';
  readonly id: Id;
}

export interface Folder {
  readonly id: Id;
  /** Null for the place of a student in a hand-in box and what is below it: they are in nobody's library. */
  readonly ownerId: Id | null;
  /** Ids from the topmost folder down to this one, itself included. */
  readonly path: readonly Id[];
  readonly release: ReleaseRule;
  readonly binned: boolean;
  /** True when the folder belongs to a year that has been closed. */
  readonly yearClosed: boolean;
}

export interface Placement {
  readonly id: Id;
  readonly folderId: Id;
  readonly itemId: Id;
  readonly release: ReleaseRule;
  readonly binned: boolean;
}

/** A handing out that has not been taken back. */
export interface HandingOut extends Span {
  readonly id: Id;
  readonly target: { readonly kind: 'folder' | 'item'; readonly id: Id };
  readonly audience: Audience;
  readonly level: Level;
  /** The appearance of an entry that made it, and with which it goes; none for what was handed out by itself. */
  readonly appearanceId?: Id | null;
  /** Of the place of a student in a hand-in box: the student may add what the level says. */
  readonly ofPlace?: boolean;
}

/** That somebody is in a class of a year that is open: classes of closed years reach nobody. */
export interface Membership extends Span {
  readonly classId: Id;
  readonly courseId: Id;
}

/** A door whose token was shown, and whose word too where it has one. */
export interface ShownDoor {
  readonly id: Id;
  readonly kind: 'public' | 'school';
  readonly schoolId: Id;
}

/** Whoever asks: a person who has signed in, a visitor with doors, or both. */
export interface Viewer {
  readonly person: {
    readonly id: Id;
    readonly schoolId: Id;
    readonly staff: boolean;
    readonly memberships: readonly Membership[];
    /** The classes that they teach. */
    readonly teaches?: readonly Id[];
  } | null;
  readonly doors: readonly ShownDoor[];
}

/** How the audiences of handings out read releases: what an audience itself does not say. */
export interface Readers {
  /** Those among the persons who are staff: to them nothing depends on releases. */
  readonly staff: ReadonlySet<Id>;
  /** The classes of the courses: each reads the releases that are set for it. */
  readonly classesOf: ReadonlyMap<Id, readonly Id[]>;
}

/** Everything the access rule needs to know about a part of a school. */
export interface LibraryData {
  readonly folders: readonly Folder[];
  readonly placements: readonly Placement[];
  readonly handingsOut: readonly HandingOut[];
  /** For telling how audiences stand; without it nobody is staff, and courses read releases in general. */
  readonly readers?: Readers;
}
