import type { PlacedFile, TrayClass, TrayFolder } from '../../src/index.ts';

/** Libraries of two teachers in the middle of a term, and what they would put into the tray. */

/** A Thursday. */
export const TODAY = '2026-11-26';
export const NOW = Date.parse('2026-11-26T13:00:00Z');
export const ZONE = 'Europe/Berlin';

export interface Desk {
  readonly classes: readonly TrayClass[];
  readonly folders: readonly TrayFolder[];
  readonly placed: readonly PlacedFile[];
  readonly titlePattern: string;
}

type Placed = readonly [
  original: string,
  title: string,
  folder: string,
  classes: string,
  ago: number,
];

function desk(
  classes: readonly Omit<TrayClass, 'id'>[],
  tree: Readonly<Record<string, string>>,
  placed: readonly Placed[],
  titlePattern: string,
): Desk {
  const codes = (list: string) => (list === '' ? [] : list.split(' '));
  return {
    titlePattern,
    classes: classes.map((one) => ({ ...one, id: one.code })),
    folders: Object.entries(tree).map(([path, reached]) => ({
      id: path,
      title: path.split('/').at(-1)!,
      parentId: path.includes('/') ? path.slice(0, path.lastIndexOf('/')) : null,
      classIds: codes(reached),
    })),
    placed: placed
      .map(([originalName, title, folderId, reached, ago], n) => ({
        itemId: `item ${n}`,
        placementId: `placement ${n}`,
        ...{ folderId, title, originalName },
        extension: originalName.split('.').at(-1)!,
        hash: `hash of ${originalName}`,
        own: true,
        at: NOW - ago * 86_400_000,
        classIds: codes(reached),
      }))
      .sort((a, b) => b.at - a.at),
  };
}

const lessons = (...of: (readonly [weekday: number, period: number])[]) =>
  of.map(([weekday, period]) => ({ weekday, period }));

/** Five classes of three courses: two classes share folders, one course has folders for each of its classes. */
export const GARDEN = desk(
  [
    {
      code: 'SO1A',
      courseId: 'soil',
      course: 'Soil Science I',
      currentFolderId: 'Soil/2 Texture & pH',
      lessons: lessons([1, 2], [4, 1]),
    },
    {
      code: 'SO1B',
      courseId: 'soil',
      course: 'Soil Science I',
      currentFolderId: 'Soil/2 Texture & pH',
      lessons: lessons([2, 3], [4, 4]),
    },
    {
      code: 'PR2A',
      courseId: 'plants',
      course: 'Plant Propagation II',
      currentFolderId: 'PR2A/Root cuttings',
      lessons: lessons([3, 1]),
    },
    {
      code: 'PR2B',
      courseId: 'plants',
      course: 'Plant Propagation II',
      currentFolderId: 'PR2B/Root cuttings',
      lessons: lessons([5, 5]),
    },
    {
      code: 'OR3',
      courseId: 'orchard',
      course: 'Orchard Care',
      currentFolderId: 'OR3/Winter pruning',
      lessons: lessons([4, 6]),
    },
  ],
  {
    Soil: 'SO1A SO1B',
    'Soil/1 Soil profile': 'SO1A SO1B',
    'Soil/1 Soil profile/Answer keys': 'SO1A SO1B',
    'Soil/2 Texture & pH': 'SO1A SO1B',
    'Soil/2 Texture & pH/Answer keys': 'SO1A SO1B',
    'Soil/2 Texture & pH/Worksheets': 'SO1A SO1B',
    'Soil/Syllabus': 'SO1A SO1B',
    PR2A: 'PR2A',
    'PR2A/Root cuttings': 'PR2A',
    'PR2A/Grafting': 'PR2A',
    PR2B: 'PR2B',
    'PR2B/Root cuttings': 'PR2B',
    'PR2B/Grafting': 'PR2B',
    OR3: 'OR3',
    'OR3/Winter pruning': 'OR3',
    'OR3/Safety': 'OR3',
    Private: '',
  },
  [
    ['notes 12.pdf', 'Lesson 12, ribbons', 'Soil/1 Soil profile', 'SO1A', 16],
    ['notes 13.pdf', 'Lesson 13, three samples', 'Soil/2 Texture & pH', 'SO1A', 9],
    ['notes 14.pdf', 'Lesson 14, reading a pH strip', 'Soil/2 Texture & pH', 'SO1A', 2],
    ['B notes 12.pdf', 'Lesson 12, ribbons again', 'Soil/2 Texture & pH', 'SO1B', 8],
    ['B notes 13.pdf', 'Lesson 13, samples', 'Soil/2 Texture & pH', 'SO1B', 1],
    ['quiz 3 blank.pdf', 'Quiz 3, blank', 'Soil/1 Soil profile', 'SO1A SO1B', 30],
    [
      'quiz 3 key.pdf',
      'Quiz 3, worked answers',
      'Soil/1 Soil profile/Answer keys',
      'SO1A SO1B',
      29,
    ],
    ['quiz 4 blank.pdf', 'Quiz 4, blank', 'Soil/2 Texture & pH', 'SO1A SO1B', 3],
    ['ws 6 texture.pdf', 'Worksheet 6, texture', 'Soil/2 Texture & pH/Worksheets', 'SO1A SO1B', 10],
    ['ws 7 pH.pdf', 'Worksheet 7, pH', 'Soil/2 Texture & pH/Worksheets', 'SO1A SO1B', 4],
    ['Syllabus Soil Science.pdf', 'Syllabus, Soil Science I', 'Soil/Syllabus', 'SO1A SO1B', 80],
    ['PR2A lesson 21.pdf', 'PR2A Lesson 21', 'PR2A/Grafting', 'PR2A', 13],
    ['PR2A lesson 22.pdf', 'PR2A Lesson 22', 'PR2A/Root cuttings', 'PR2A', 6],
    ['PR2B lesson 20.pdf', 'PR2B Lesson 20', 'PR2B/Grafting', 'PR2B', 11],
    ['cuttings log week 3.pdf', 'Cuttings log, week 3', 'PR2A/Root cuttings', 'PR2A', 5],
    ['board 2026-11-19.jpg', 'Board 2026-11-19', 'OR3/Winter pruning', 'OR3', 7],
    ['tool safety.pdf', 'Tool safety', 'OR3/Safety', 'OR3', 60],
    ['pruning plan 1.pdf', 'Pruning plan 1', 'OR3/Winter pruning', 'OR3', 14],
  ],
  'Lesson {n}, {about}',
);

/** Three classes of a German school, each with folders of its own. */
export const SCHULE = desk(
  [
    {
      code: '8a',
      courseId: 'm8',
      course: 'Mathematik 8',
      currentFolderId: '8a/2 Terme',
      lessons: [],
    },
    {
      code: '8b',
      courseId: 'm8',
      course: 'Mathematik 8',
      currentFolderId: '8b/2 Terme',
      lessons: [],
    },
    {
      code: 'Ph10',
      courseId: 'p10',
      course: 'Physik 10',
      currentFolderId: 'Ph10/Optik',
      lessons: [],
    },
  ],
  {
    '8a': '8a',
    '8a/1 Prozente': '8a',
    '8a/2 Terme': '8a',
    '8a/2 Terme/Lösungen': '8a',
    '8b': '8b',
    '8b/1 Prozente': '8b',
    '8b/2 Terme': '8b',
    '8b/2 Terme/Lösungen': '8b',
    Ph10: 'Ph10',
    'Ph10/Optik': 'Ph10',
    'Ph10/Optik/Übungen': 'Ph10',
  },
  [
    ['8a Tafelbild 17.pdf', 'Stunde 17, Klammern', '8a/2 Terme', '8a', 3],
    ['8b Tafelbild 16.pdf', 'Stunde 16, Klammern', '8b/2 Terme', '8b', 2],
    ['AB 5 Terme.pdf', 'Arbeitsblatt 5, Terme', '8a/2 Terme', '8a', 6],
    ['AB 5 Terme.pdf', 'Arbeitsblatt 5, Terme', '8b/2 Terme', '8b', 6],
    ['AB 5 Lösung.pdf', 'Arbeitsblatt 5, Lösung', '8a/2 Terme/Lösungen', '8a', 5],
    ['AB 5 Lösung.pdf', 'Arbeitsblatt 5, Lösung', '8b/2 Terme/Lösungen', '8b', 5],
    ['Physik Stunde 9.pdf', 'Stunde 9, Brechung', 'Ph10/Optik', 'Ph10', 4],
    ['Übung 3.pdf', 'Übung 3', 'Ph10/Optik/Übungen', 'Ph10', 5],
    ['Klassenarbeit 1.pdf', 'Klassenarbeit 1', '8a/1 Prozente', '8a', 30],
  ],
  'Stunde {n}, {about}',
);

/** A teacher who begins: one class, nothing in the library. */
export const BEGINNER = desk(
  [{ code: 'BIO9', courseId: 'bio', course: 'Biology', currentFolderId: 'Biology 9', lessons: [] }],
  { 'Biology 9': 'BIO9' },
  [],
  '{class} Lesson {n}',
);
