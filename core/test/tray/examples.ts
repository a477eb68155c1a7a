import { BEGINNER, GARDEN, SCHULE, type Desk } from './school.ts';

/** A file as teachers name them, and what it should become without a question. No classes: the tray has to ask. */
export interface Example {
  readonly desk: Desk;
  readonly name: string;
  readonly text?: string;
  readonly classes: string;
  readonly folder?: string;
  readonly title: string;
}

const TEXTURE = 'Soil/2 Texture & pH';
const KEYS = 'Soil/2 Texture & pH/Answer keys';
const SHEETS = 'Soil/2 Texture & pH/Worksheets';

type Row = readonly [name: string, classes: string, folder: string, title: string, text?: string];
const of = (desk: Desk, rows: readonly Row[]): Example[] =>
  rows.map(([name, classes, folder, title, text]) => ({
    desk,
    name,
    classes,
    folder,
    title,
    text: text ?? '',
  }));

const SOIL_HEAD = 'Soil Science I\nSO1A\n';

export const EXAMPLES: readonly Example[] = [
  // Codes in the name, in all the ways they are written.
  ...of(GARDEN, [
    ['SO1A notes 15.pdf', 'SO1A', TEXTURE, 'Lesson 15'],
    ['so1a_notes_15.pdf', 'SO1A', TEXTURE, 'Lesson 15'],
    ['SO-1A Notes 15.pdf', 'SO1A', TEXTURE, 'Lesson 15'],
    ['SO1 A notes 15.pdf', 'SO1A', TEXTURE, 'Lesson 15'],
    ['notes15-SO1A.pdf', 'SO1A', TEXTURE, 'Lesson 15'],
    ['SO1ANotes15.pdf', 'SO1A', TEXTURE, 'Lesson 15'],
    ['Lesson 15 liming (SO1A).pdf', 'SO1A', TEXTURE, 'Lesson 15, liming'],
    ['lesson15_liming_SO1A_final.pdf', 'SO1A', TEXTURE, 'Lesson 15, liming'],
    ['SO1B - Lesson 14 - reading a pH strip.pdf', 'SO1B', TEXTURE, 'Lesson 14, reading a pH strip'],
    ['2026-11-26 SO1B lesson 14.pdf', 'SO1B', TEXTURE, 'Lesson 14'],
    ['SO1AB quiz 5 blank.pdf', 'SO1A SO1B', TEXTURE, 'Quiz 5 blank'],
    ['SO1A+B quiz 5, blank.pdf', 'SO1A SO1B', TEXTURE, 'Quiz 5, blank'],
    ['SO1A & SO1B field trip.docx', 'SO1A SO1B', TEXTURE, 'Field trip'],
    ['Quiz 5 SO1A, SO1B.pdf', 'SO1A SO1B', TEXTURE, 'Quiz 5'],
    ['OR3 ladder rules.pdf', 'OR3', 'OR3/Winter pruning', 'Ladder rules'],
    ['or3_pruning_plan_2.pdf', 'OR3', 'OR3/Winter pruning', 'Pruning plan 2'],
    ['PR2A lesson 23.pdf', 'PR2A', 'PR2A/Root cuttings', 'PR2A Lesson 23'],
    ['PR2B lesson 21.pdf', 'PR2B', 'PR2B/Root cuttings', 'PR2B Lesson 21'],
    [
      'PR2B lesson 21 heel cuttings.pdf',
      'PR2B',
      'PR2B/Root cuttings',
      'PR2B Lesson 21, heel cuttings',
    ],
    ['pr2a handout bench hygiene v2.pdf', 'PR2A', 'PR2A/Root cuttings', 'Handout bench hygiene'],
  ]),
  // The number that follows, and the letter.
  ...of(GARDEN, [
    [
      'notes 15.pdf',
      'SO1A',
      TEXTURE,
      'Lesson 15, Liming',
      `Liming\nHow much lime does a bed need?`,
    ],
    ['Notes 15 liming.pdf', 'SO1A', TEXTURE, 'Lesson 15, liming'],
    ['notes_15.pdf', 'SO1A', TEXTURE, 'Lesson 15'],
    ['notes 15 (1).pdf', 'SO1A', TEXTURE, 'Lesson 15'],
    ['Copy of notes 15.pdf', 'SO1A', TEXTURE, 'Lesson 15'],
    ['notes 15 - Kopie.pdf', 'SO1A', TEXTURE, 'Lesson 15'],
    ['B notes 14.pdf', 'SO1B', TEXTURE, 'Lesson 14'],
    ['notes 14 B.pdf', 'SO1B', TEXTURE, 'Lesson 14'],
    ['notes 14b.pdf', 'SO1B', TEXTURE, 'Lesson 14'],
    ['B_notes_14_pH_strip.pdf', 'SO1B', TEXTURE, 'Lesson 14, pH strip'],
    ['lesson 15.pdf', 'SO1A', TEXTURE, 'Lesson 15', `${SOIL_HEAD}Lesson 15`],
    ['Soil lesson 15.pdf', 'SO1A', TEXTURE, 'Lesson 15'],
    ['soil notes 14.pdf', 'SO1B', TEXTURE, 'Lesson 14'],
    ['cuttings log week 4.pdf', 'PR2A', 'PR2A/Root cuttings', 'Cuttings log week 4'],
    ['pruning plan 2.pdf', 'OR3', 'OR3/Winter pruning', 'Pruning plan 2'],
    ['Pruning plan 2 (espaliers).pdf', 'OR3', 'OR3/Winter pruning', 'Pruning plan 2 (espaliers)'],
    ['board 2026-11-26.jpg', 'OR3', 'OR3/Winter pruning', 'Board'],
    ['tool safety.pdf', 'OR3', 'OR3/Safety', 'Tool safety'],
  ]),
  // Things for both classes of a course.
  ...of(GARDEN, [
    ['quiz 5 blank.pdf', 'SO1A SO1B', TEXTURE, 'Quiz 5 blank'],
    ['Quiz_5_blank.pdf', 'SO1A SO1B', TEXTURE, 'Quiz 5 blank'],
    ['quiz 4 key.pdf', 'SO1A SO1B', KEYS, 'Quiz 4 key'],
    ['Quiz 4, worked answers.pdf', 'SO1A SO1B', KEYS, 'Quiz 4, worked answers'],
    ['quiz4_solutions.pdf', 'SO1A SO1B', KEYS, 'Quiz 4 solutions'],
    ['answers quiz 4.pdf', 'SO1A SO1B', KEYS, 'Answers quiz 4'],
    ['ws 8 lime.pdf', 'SO1A SO1B', SHEETS, 'Ws 8 lime'],
    [
      'worksheet 8.pdf',
      'SO1A SO1B',
      SHEETS,
      'Worksheet 8',
      `${SOIL_HEAD.replace('SO1A', 'SO1')}Worksheet 8: lime`,
    ],
    ['Syllabus Soil Science.pdf', 'SO1A SO1B', 'Soil/Syllabus', 'Syllabus Soil Science'],
    ['SO1 quiz 5.pdf', 'SO1A SO1B', TEXTURE, 'Quiz 5'],
    ['Quiz 4 worked answers SO1.pdf', 'SO1A SO1B', KEYS, 'Quiz 4 worked answers'],
    ['ws8 key.pdf', 'SO1A SO1B', KEYS, 'Ws 8 key', 'Soil Science I\nWorksheet 8, answers'],
  ]),
  // Names that machines give: the text tells.
  ...of(GARDEN, [
    [
      'scan0042.pdf',
      'SO1A SO1B',
      KEYS,
      'Quiz 4, worked answers',
      'Soil Science I   SO1\nQuiz 4, worked answers',
    ],
    ['Scan_20261126_1432.pdf', 'SO1A', TEXTURE, 'Lesson 15, liming', 'SO1A\nLesson 15, liming'],
    ['IMG_2231.pdf', 'PR2B', 'PR2B/Root cuttings', 'PR2B Lesson 21', 'Class: PR2B\nLesson 21'],
    [
      'document.pdf',
      'OR3',
      'OR3/Winter pruning',
      'Ladders and saws',
      'Orchard Care OR3\nLadders and saws',
    ],
    ['Untitled.docx', 'SO1B', TEXTURE, 'Sampling plan', 'Sampling plan\nfor SO1B, Thursday'],
    [
      '20261126_101500.pdf',
      'OR3',
      'OR3/Winter pruning',
      'Pruning plan 2',
      'Orchard Care\nPruning plan 2',
    ],
    ['doc1.pdf', 'PR2A', 'PR2A/Root cuttings', 'Rooting powder', 'Rooting powder\nPR2A'],
    ['Scan.pdf', 'SO1A', TEXTURE, 'Lesson 15, liming', 'Lesson 15, liming\nSoil Science I'],
  ]),
  // Periods and today’s lessons.
  ...of(GARDEN, [
    ['P1 notes.pdf', 'SO1A', TEXTURE, 'Notes'],
    ['period 4 notes.pdf', 'SO1B', TEXTURE, 'Notes'],
    ['4th period soil.pdf', 'SO1B', TEXTURE, 'Soil'],
    ['notes period 6.pdf', 'OR3', 'OR3/Winter pruning', 'Notes'],
  ]),
  // What has to be asked.
  ...of(GARDEN, [
    ['IMG_2231.jpg', '', '', 'IMG_2231'],
    ['scan.pdf', '', '', 'Scan'],
    ['permission slips.docx', '', '', 'Permission slips'],
    ['new idea.txt', '', '', 'Idea'],
    ['42.pdf', '', '', 'Lesson 42'],
    ['timetable spring.xlsx', '', '', 'Timetable spring'],
    ['Propagation overview.pdf', '', '', 'Propagation overview'],
    ['B.pdf', '', '', 'B'],
  ]),
  // German names.
  ...of(SCHULE, [
    ['8a Tafelbild 18.pdf', '8a', '8a/2 Terme', 'Stunde 18'],
    ['8b_Tafelbild_17.pdf', '8b', '8b/2 Terme', 'Stunde 17'],
    ['Tafelbild 17 8b.pdf', '8b', '8b/2 Terme', 'Stunde 17'],
    ['Tafelbild 8 b 17.pdf', '8b', '8b/2 Terme', 'Stunde 17'],
    ['8b Stunde 17 Ausmultiplizieren.pdf', '8b', '8b/2 Terme', 'Stunde 17, Ausmultiplizieren'],
    ['Tafelbild 18.pdf', '8a', '8a/2 Terme', 'Stunde 18'],
    ['AB 6 Terme.pdf', '8a 8b', '8a/2 Terme 8b/2 Terme', 'AB 6 Terme'],
    [
      'AB_6_Binome.pdf',
      '8a 8b',
      '8a/2 Terme 8b/2 Terme',
      'AB 6 Binome',
      'Mathematik 8\nArbeitsblatt 6',
    ],
    ['AB 6 Lösung.pdf', '8a 8b', '8a/2 Terme/Lösungen 8b/2 Terme/Lösungen', 'AB 6 Lösung'],
    [
      'AB 6 Loesungen.pdf',
      '8a 8b',
      '8a/2 Terme/Lösungen 8b/2 Terme/Lösungen',
      'AB 6 Loesungen',
      'Mathematik 8',
    ],
    ['8ab Klassenarbeit 2.pdf', '8a 8b', '8a/2 Terme 8b/2 Terme', 'Klassenarbeit 2'],
    ['Klassenarbeit 2 8a und 8b.pdf', '8a 8b', '8a/2 Terme 8b/2 Terme', 'Klassenarbeit 2'],
    [
      'Klassenarbeit 2 8a Erwartungshorizont.pdf',
      '8a',
      '8a/2 Terme/Lösungen',
      'Klassenarbeit 2 Erwartungshorizont',
    ],
    ['Physik Stunde 10.pdf', 'Ph10', 'Ph10/Optik', 'Stunde 10'],
    ['Physik_Stunde_10_Linsen.pdf', 'Ph10', 'Ph10/Optik', 'Stunde 10, Linsen'],
    ['Ph10 Übung 4.pdf', 'Ph10', 'Ph10/Optik/Übungen', 'Übung 4'],
    ['Übung 4.pdf', 'Ph10', 'Ph10/Optik/Übungen', 'Übung 4'],
    ['Uebung 4 Linsen.pdf', 'Ph10', 'Ph10/Optik/Übungen', 'Uebung 4 Linsen', 'Physik 10'],
    ['Tafelbild 26.11. 8a.jpg', '8a', '8a/2 Terme', 'Tafelbild'],
    ['8a_2026-11-26_Tafelbild.jpg', '8a', '8a/2 Terme', 'Tafelbild'],
    [
      'Scan_0012.pdf',
      '8b',
      '8b/2 Terme',
      'Hausaufgaben zu Termen',
      'Klasse 8b\nHausaufgaben zu Termen',
    ],
    ['Bildschirmfoto.png', '', '', 'Bildschirmfoto'],
    ['Elternbrief.docx', '', '', 'Elternbrief'],
  ]),
  // A teacher with one class and nothing yet.
  ...of(BEGINNER, [
    ['cells.pdf', 'BIO9', 'Biology 9', 'Cells'],
    ['Lesson 1.pdf', 'BIO9', 'Biology 9', 'BIO9 Lesson 1'],
    ['IMG_0001.jpg', 'BIO9', 'Biology 9', 'IMG_0001'],
    ['quiz 1.pdf', 'BIO9', 'Biology 9', 'Quiz 1'],
    ['microscope, how to.pdf', 'BIO9', 'Biology 9', 'Microscope, how to'],
    ['leaf-structure-notes.pdf', 'BIO9', 'Biology 9', 'Leaf structure notes'],
    ['bio 9 lesson 2.pdf', 'BIO9', 'Biology 9', 'BIO9 Lesson 2'],
  ]),
];

/** Written after the proposals were, and looked at once: what a teacher meets who has not been asked. */
export const UNSEEN: readonly Example[] = [
  ...of(GARDEN, [
    ['Thursday SO1B.pdf', 'SO1B', TEXTURE, 'Thursday'],
    ['SO1A_pH-strips_homework.pdf', 'SO1A', SHEETS, 'PH-strips homework'],
    ['L15 SO1A.pdf', 'SO1A', TEXTURE, 'Lesson 15'],
    ['Soil Science I - SO1B - 14 - acids.pdf', 'SO1B', TEXTURE, 'Lesson 14, acids'],
    ['notes-15-final.pdf', 'SO1A', TEXTURE, 'Lesson 15'],
    ['Notes #15.pdf', 'SO1A', TEXTURE, 'Lesson 15'],
    ['quiz 5.pdf', 'SO1A SO1B', TEXTURE, 'Quiz 5'],
    ['Quiz 5 answer key.pdf', 'SO1A SO1B', KEYS, 'Quiz 5 answer key'],
    ['ws 8.pdf', 'SO1A SO1B', SHEETS, 'Ws 8'],
    ['PR2A and PR2B hygiene.pdf', 'PR2A PR2B', 'PR2A/Root cuttings PR2B/Root cuttings', 'Hygiene'],
    ['PR2 quiz 2.pdf', 'PR2A PR2B', 'PR2A/Root cuttings PR2B/Root cuttings', 'Quiz 2'],
    [
      'PR2AB root hormones.pptx',
      'PR2A PR2B',
      'PR2A/Root cuttings PR2B/Root cuttings',
      'Root hormones',
    ],
    ['cuttings log week 4 PR2B.pdf', 'PR2B', 'PR2B/Root cuttings', 'Cuttings log week 4'],
    ['espalier.jpg', '', '', 'Espalier'],
    ['orchard map.pdf', 'OR3', 'OR3/Winter pruning', 'Orchard map'],
    ['DSC01234.JPG', '', '', 'DSC01234'],
    ['WhatsApp Image 2026-11-26 at 09.15.33.jpeg', '', '', 'WhatsApp Image'],
    ['Scan 3.pdf', 'SO1B', TEXTURE, 'Lesson 14, buffers', 'SO1B   26 Nov\nLesson 14, buffers'],
    ['OR3_board_2026-11-26.jpg', 'OR3', 'OR3/Winter pruning', 'Board'],
    ['meeting minutes.docx', '', '', 'Meeting minutes'],
  ]),
  ...of(SCHULE, [
    ['Klasse 8a Tafelbild 18.pdf', '8a', '8a/2 Terme', 'Stunde 18'],
    ['8A_TB_18.pdf', '8a', '8a/2 Terme', 'Stunde 18'],
    [
      'AB 6 Terme Lösung.pdf',
      '8a 8b',
      '8a/2 Terme/Lösungen 8b/2 Terme/Lösungen',
      'AB 6 Terme Lösung',
    ],
    ['Hausaufgabe 8b 27.11..pdf', '8b', '8b/2 Terme', 'Hausaufgabe'],
    ['Ph10_Klausur_2.pdf', 'Ph10', 'Ph10/Optik', 'Klausur 2'],
    ['Ph 10 Übung 4 Lösung.pdf', 'Ph10', 'Ph10/Optik', 'Übung 4 Lösung'],
    ['Optik Merkblatt Physik.pdf', 'Ph10', 'Ph10/Optik', 'Optik Merkblatt Physik'],
    ['Mathe Übersicht.pdf', '', '', 'Mathe Übersicht'],
    ['Stunde 18 Klammern auflösen.pdf', '8a', '8a/2 Terme', 'Stunde 18, Klammern auflösen'],
    ['IMG_0815.jpeg', '', '', 'IMG_0815'],
  ]),
];
