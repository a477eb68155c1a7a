import type { ThingKind } from './model.ts';

/** Words in names of handouts, English and German, in lower case and without marks on letters. */

const words = (list: string) => new Set(list.split(' '));

/** By what a name tells of which kind a thing is; the first that is found counts. */
export const KIND_WORDS: readonly (readonly [ThingKind, ReadonlySet<string>])[] = [
  [
    'key',
    words(
      'key keys answer answers answerkey solution solutions solved worked markscheme losung losungen loesung loesungen lsg lsgn musterlosung musterloesung musterlosungen losungsblatt erwartungshorizont ewh',
    ),
  ],
  [
    'quiz',
    words(
      'quiz quizzes test tests exam exams midterm klausur klausuren klassenarbeit schulaufgabe stegreifaufgabe ex extemporale probe lzk lernzielkontrolle prufung pruefung vokabeltest kurztest',
    ),
  ],
  [
    'sheet',
    words(
      'sheet worksheet worksheets ws handout exercise exercises task tasks problems homework hw assignment lab arbeitsblatt arbeitsblatter ab ubung ubungen uebung uebungen ubungsblatt aufgabe aufgaben aufgabenblatt hausaufgabe hausaufgaben ha labor',
    ),
  ],
  [
    'notes',
    words(
      'notes note lesson lessons lecture board whiteboard blackboard classnotes slides notizen tafelbild tafel tb tafelanschrieb mitschrift stunde std skript hefteintrag unterricht folien',
    ),
  ],
];

/** All of these. */
export const ANY_KIND: ReadonlySet<string> = new Set(KIND_WORDS.flatMap(([, all]) => [...all]));

/** What follows one of these is no answer key: key words, key stage. */
export const NO_KEY_AFTER = words('words word terms term facts stage points vocabulary concepts');

/** What says nothing of what is in a file: names that machines give, and marks of copies and states. */
export const MACHINE_WORDS = words(
  'scan scans scanned img image dsc dscn dscf pxl photo photos foto fotos picture bild screenshot bildschirmfoto whatsapp document doc dokument file untitled unbenannt page seite camscanner adobe heic jpeg',
);
export const STATE_WORDS = words(
  'copy kopie copia final finale finalfinal neu new draft entwurf korrigiert corrected rev version fassung print druck',
);

/** Before a number that is none of a lesson. */
export const UNIT_WORDS = words(
  'unit einheit kapitel chapter ch chap module modul topic thema block teil part',
);
/** Before a letter that is none of a class. */
export const GROUP_WORDS = words('group gruppe version fassung set teil part plan vitamin form');
export const PERIOD_WORDS = words('period per p pd');
/** After an ordinal number: `3. Stunde`, `3rd period`. */
export const ORDINAL_PERIODS = words('period stunde std hour');
/** Before the code of a class. */
export const CLASS_WORDS = words('class klasse kl kurs course form');
/** Between two letters of classes. */
export const AND_WORDS = words('and und u');

/** Without marks on letters and in lower case, so that words can be compared: `Lösung` is `losung`. */
export function plainWord(word: string): string {
  if (/^[a-z]*$/iu.test(word)) return word.toLowerCase();
  return word.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase().replaceAll('ß', 'ss');
}
