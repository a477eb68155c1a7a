import fc from 'fast-check';
import type {
  Audience,
  Folder,
  HandingOut,
  Id,
  Instant,
  Level,
  LibraryData,
  Membership,
  Placement,
  Release,
  ReleaseRule,
  ShownDoor,
  Span,
  Viewer,
} from '../src/index.ts';

/** A small made-up school in which anything may be wrong side up: for property tests here and in the server. */
export interface RandomSchool {
  readonly schoolId: Id;
  readonly people: readonly {
    id: Id;
    kind: 'teacher' | 'student' | 'office';
    staff: boolean;
    memberships: readonly Membership[];
    teaches: readonly Id[];
  }[];
  /** Places of students in hand-in boxes of classes, by their folders. */
  readonly places: readonly { folderId: Id; personId: Id; classId: Id }[];
  readonly courses: readonly Id[];
  readonly classes: readonly { id: Id; courseId: Id }[];
  readonly itemOwners: ReadonlyMap<Id, Id>;
  readonly doors: readonly ShownDoor[];
  readonly data: LibraryData;
  readonly viewers: readonly Viewer[];
  readonly now: Instant;
}

const KINDS = [
  'school',
  'person',
  'course',
  'class',
  'folder',
  'item',
  'placement',
  'handing',
  'door',
  'appearance',
  'box',
];

/** The same UUID for the same kind and number, so that failures can be read. */
export function idOf(kind: string, n: number): Id {
  const place = String(KINDS.indexOf(kind) + 1).padStart(4, '0');
  return `00000000-0000-4000-8000-${place}${String(n).padStart(8, '0')}`;
}

function kindOf(id: Id) {
  if (id === OFFICE) return 'office' as const;
  return TEACHERS.includes(id) ? ('teacher' as const) : ('student' as const);
}

const START = Date.UTC(2026, 10, 2, 8);
const instant = fc.integer({ min: 0, max: 6 }).map((n) => START + n * 3_600_000);
const end = fc.option(instant, { nil: null, freq: 2 });
/** Ends lie after beginnings: the database takes no others. */
const span: fc.Arbitrary<Span> = fc
  .record({ from: end, until: end })
  .map(({ from, until }) =>
    from !== null && until !== null && until <= from ? { from, until: null } : { from, until },
  );
const openSpan: fc.Arbitrary<Span> = fc.oneof(
  { weight: 3, arbitrary: fc.constant({ from: null, until: null }) },
  { weight: 1, arbitrary: span },
);
const release: fc.Arbitrary<Release> = fc.oneof(
  { weight: 4, arbitrary: fc.constant({ held: false, from: null, until: null }) },
  {
    weight: 2,
    arbitrary: fc.record({ held: fc.boolean(), span }).map((r) => ({ held: r.held, ...r.span })),
  },
);

const CLASSES = [
  { id: idOf('class', 0), courseId: idOf('course', 0) },
  { id: idOf('class', 1), courseId: idOf('course', 0) },
  { id: idOf('class', 2), courseId: idOf('course', 1) },
];
const SCHOOL = idOf('school', 0);
const TEACHERS = [idOf('person', 0), idOf('person', 1)];
const STUDENTS = [idOf('person', 2), idOf('person', 3), idOf('person', 4)];
const OFFICE = idOf('person', 5);
const STAFF = [...TEACHERS, OFFICE];
const DOORS: ShownDoor[] = [
  { id: idOf('door', 0), kind: 'public', schoolId: SCHOOL },
  { id: idOf('door', 1), kind: 'public', schoolId: SCHOOL },
  { id: idOf('door', 2), kind: 'school', schoolId: SCHOOL },
];

const rule: fc.Arbitrary<ReleaseRule> = fc
  .tuple(
    release,
    fc.array(fc.tuple(fc.constantFrom(...CLASSES.map((c) => c.id)), release), { maxLength: 2 }),
  )
  .map(([general, perClass]) => ({ ...general, perClass: new Map(perClass) }));

const audience: fc.Arbitrary<Audience> = fc.oneof(
  {
    weight: 4,
    arbitrary: fc.constantFrom(...CLASSES).map((c) => ({ kind: 'class' as const, id: c.id })),
  },
  {
    weight: 2,
    arbitrary: fc
      .constantFrom(0, 1)
      .map((n) => ({ kind: 'course' as const, id: idOf('course', n) })),
  },
  {
    weight: 2,
    arbitrary: fc
      .constantFrom(...TEACHERS, ...STUDENTS, OFFICE)
      .map((id) => ({ kind: 'person' as const, id })),
  },
  { weight: 1, arbitrary: fc.constant({ kind: 'staff' as const, id: SCHOOL }) },
  { weight: 1, arbitrary: fc.constant({ kind: 'school' as const, id: SCHOOL }) },
  {
    weight: 2,
    arbitrary: fc.constantFrom(...DOORS).map((d) => ({ kind: 'door' as const, id: d.id })),
  },
);
const MAY_ADD = new Set(['person', 'staff']);

const folderSeed = fc.record({
  parent: fc.option(fc.nat(), { nil: null, freq: 4 }),
  owner: fc.constantFrom(...TEACHERS),
  release: rule,
  binned: fc.constantFrom(false, false, false, false, true),
  yearClosed: fc.constantFrom(false, false, false, false, true),
});

function plantFolders(
  seeds: readonly (typeof folderSeed extends fc.Arbitrary<infer T> ? T : never)[],
) {
  const folders: Folder[] = [];
  for (const [n, seed] of seeds.entries()) {
    const parent = seed.parent === null || n === 0 ? undefined : folders[seed.parent % n];
    const id = idOf('folder', n);
    folders.push({
      id,
      ownerId: parent?.ownerId ?? seed.owner,
      path: [...(parent?.path ?? []), id],
      release: seed.release,
      binned: seed.binned,
      yearClosed: seed.yearClosed,
    });
  }
  return folders;
}

const handingSeed = fc.record({
  onItem: fc.constantFrom(false, false, false, true),
  target: fc.nat(),
  audience,
  level: fc.constantFrom<Level>('view', 'view', 'view', 'add', 'manage'),
  span: openSpan,
  /** Made by an entry on the page of a class: the same may be handed out beside it too. */
  byEntry: fc.boolean(),
});
const membershipSeed = fc.record({
  student: fc.constantFrom(...STUDENTS),
  class: fc.constantFrom(...CLASSES),
  span: openSpan,
});

const placeSeed = fc.record({
  student: fc.constantFrom(...STUDENTS),
  class: fc.constantFrom(...CLASSES),
  /** When the student may add. */
  adds: openSpan,
  /** How many items are in it, and how many in a folder below. */
  items: fc.nat({ max: 2 }),
  below: fc.nat({ max: 1 }),
});

/** Adds places of students to a school: folders of nobody's, which the student and those who teach the class have. */
function plantPlaces(
  seeds: readonly (typeof placeSeed extends fc.Arbitrary<infer T> ? T : never)[],
) {
  const free: ReleaseRule = { held: false, from: null, until: null, perClass: new Map() };
  const folders: Folder[] = [];
  const placements: Placement[] = [];
  const handings: HandingOut[] = [];
  const places: { folderId: Id; personId: Id; classId: Id }[] = [];
  const owners = new Map<Id, Id>();
  for (const [n, seed] of seeds.entries()) {
    if (places.some((p) => p.personId === seed.student && p.classId === seed.class.id)) continue;
    const top = idOf('folder', 100 + 2 * n);
    const common = { ownerId: null, release: free, binned: false, yearClosed: false };
    folders.push({ ...common, id: top, path: [top] });
    const below = idOf('folder', 101 + 2 * n);
    if (seed.below > 0) folders.push({ ...common, id: below, path: [top, below] });
    for (let k = 0; k < seed.items + seed.below; k += 1) {
      const itemId = idOf('item', 100 + 10 * n + k);
      // What a teacher gives back is theirs.
      owners.set(itemId, k === 1 ? TEACHERS[0]! : seed.student);
      placements.push({
        ...{ id: idOf('placement', 100 + 10 * n + k), itemId, release: free, binned: false },
        folderId: k < seed.items ? top : below,
      });
    }
    const always = { from: null, until: null };
    const given = { target: { kind: 'folder' as const, id: top }, ofPlace: true };
    const student = { kind: 'person' as const, id: seed.student };
    const teachers = { kind: 'teachers' as const, id: seed.class.id };
    const id = (k: number) => idOf('handing', 100 + 3 * n + k);
    handings.push(
      { ...given, id: id(0), audience: student, level: 'view', ...always },
      { ...given, id: id(1), audience: student, level: 'add', ...seed.adds },
      { ...given, id: id(2), audience: teachers, level: 'manage', ...always },
    );
    places.push({ folderId: top, personId: seed.student, classId: seed.class.id });
  }
  return { folders, placements, handings, places, owners };
}

/** Few of something say little; few or none is a case as well. */
function mostlyMany<T>(of: fc.Arbitrary<T>, maxLength = 9, least = 0): fc.Arbitrary<T[]> {
  return fc.oneof(
    { weight: 4, arbitrary: fc.array(of, { minLength: 4, maxLength }) },
    { weight: 1, arbitrary: fc.array(of, { minLength: least, maxLength: 3 }) },
  );
}

/** Random schools of up to `size` folders, with placements, holds, handings out, classes, doors and viewers. */
export function randomSchool(size = 8): fc.Arbitrary<RandomSchool> {
  return fc
    .record({
      folders: mostlyMany(folderSeed, size, 1),
      placements: mostlyMany(
        fc.record({
          folder: fc.nat(),
          item: fc.nat({ max: 5 }),
          release: rule,
          binned: fc.constantFrom(false, false, false, true),
        }),
        size * 2,
      ),
      handings: mostlyMany(handingSeed),
      memberships: mostlyMany(membershipSeed),
      places: fc.array(placeSeed, { maxLength: 3 }),
      shown: fc.subarray(DOORS),
      now: fc.constantFrom(0, 1, 1, 2, 2, 3, 4, 5, 6).map((n) => START + n * 3_600_000),
    })
    .map((seed): RandomSchool => {
      const folders = plantFolders(seed.folders);
      const placements = new Map<string, Placement>();
      for (const p of seed.placements) {
        const folder = folders[p.folder % folders.length]!;
        const itemId = idOf('item', p.item);
        if (placements.has(`${folder.id}${itemId}`)) continue;
        placements.set(`${folder.id}${itemId}`, {
          id: idOf('placement', placements.size),
          folderId: folder.id,
          itemId,
          release: p.release,
          binned: p.binned,
        });
      }
      const handings = new Map<string, HandingOut>();
      for (const h of seed.handings) {
        const target = h.onItem
          ? { kind: 'item' as const, id: idOf('item', h.target % 6) }
          : { kind: 'folder' as const, id: folders[h.target % folders.length]!.id };
        const level = MAY_ADD.has(h.audience.kind) && !h.onItem ? h.level : 'view';
        const byEntry = h.byEntry && h.audience.kind === 'class';
        const name = `${target.id}${h.audience.kind}${h.audience.id}${byEntry}`;
        if (!handings.has(name))
          handings.set(name, {
            id: idOf('handing', handings.size),
            target,
            audience: h.audience,
            level,
            appearanceId: byEntry ? idOf('appearance', handings.size) : null,
            ...h.span,
          });
      }
      const inBoxes = plantPlaces(seed.places);
      const people = [...TEACHERS, ...STUDENTS, OFFICE].map((id) => ({
        id,
        kind: kindOf(id),
        staff: STAFF.includes(id),
        memberships: seed.memberships
          .filter((m) => m.student === id)
          .map((m) => ({ classId: m.class.id, courseId: m.class.courseId, ...m.span })),
        // The first teaches the first course, the second both.
        teaches: CLASSES.filter(
          (c) => id === TEACHERS[1] || (id === TEACHERS[0] && c.courseId === CLASSES[0]!.courseId),
        ).map((c) => c.id),
      }));
      const viewers: Viewer[] = [
        ...people.map((person) => ({ person: { ...person, schoolId: SCHOOL }, doors: [] })),
        { person: { ...people[2]!, schoolId: SCHOOL }, doors: seed.shown },
        { person: null, doors: seed.shown },
        { person: null, doors: [] },
      ];
      return {
        schoolId: SCHOOL,
        people,
        courses: [idOf('course', 0), idOf('course', 1)],
        classes: CLASSES,
        places: inBoxes.places,
        itemOwners: new Map([
          ...[0, 1, 2, 3, 4, 5].map((n) => [idOf('item', n), TEACHERS[n % 2]!] as const),
          ...inBoxes.owners,
        ]),
        doors: DOORS,
        data: {
          folders: [...folders, ...inBoxes.folders],
          placements: [...placements.values(), ...inBoxes.placements],
          handingsOut: [...handings.values(), ...inBoxes.handings],
          readers: {
            staff: new Set(STAFF),
            classesOf: new Map(
              CLASSES.map(({ courseId }) => [
                courseId,
                CLASSES.filter((c) => c.courseId === courseId).map((c) => c.id),
              ]),
            ),
          },
        },
        viewers,
        now: seed.now,
      };
    });
}
