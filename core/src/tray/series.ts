import type { Id } from '../model.ts';
import type { Day } from '../zone.ts';
import type { ClassNames } from './class-names.ts';
import type { PlacedFile, ThingKind } from './model.ts';
import { readName, type NameReading } from './read-name.ts';
import { MACHINE_WORDS, plainWord, STATE_WORDS } from './words.ts';

/** So many files of a class are looked at for where its lessons are, the last ones first. */
const RECENT = 40;
/** So many files of like names are looked at. */
const LIKES = 12;

/** A file of the library with what its names tell. */
export interface ReadFile {
  readonly file: PlacedFile;
  readonly title: NameReading;
  /** Of the name with which it came. */
  readonly given: NameReading;
  readonly kind: ThingKind;
  readonly number: number | null;
}

/** The library as far as it tells where new files belong: files of like names, and the last of each class. */
export class Series {
  readonly #byKey = new Map<string, PlacedFile[]>();
  readonly #recent = new Map<Id, PlacedFile[]>();
  readonly #read = new Map<string, ReadFile>();
  readonly #dropped: RegExp;

  /** `placed`: newest first. */
  constructor(
    placed: readonly PlacedFile[],
    private readonly names: ClassNames,
    private readonly today: Day,
  ) {
    this.#dropped = droppedFrom(names);
    for (const file of placed) {
      const keys = new Set([
        this.keyOf(withoutExtension(file.originalName, file.extension)),
        this.keyOf(file.title),
      ]);
      for (const key of keys) {
        if (key === '') continue;
        const known = this.#byKey.get(key);
        if (!known) this.#byKey.set(key, [file]);
        else if (known.length < LIKES) known.push(file);
      }
      for (const classId of file.classIds) {
        const known = this.#recent.get(classId);
        if (!known) this.#recent.set(classId, [file]);
        else if (known.length < RECENT) known.push(file);
      }
    }
  }

  /** What files of one series have in common in their names; empty for names that tell nothing. */
  keyOf(name: string): string {
    const key = name
      .toLowerCase()
      .replace(this.#dropped, ' ')
      .replace(/[^\p{L}]+/gu, '');
    return MACHINE_WORDS.has(plainWord(key)) ? '' : key;
  }

  /** Files whose names are like this one, newest first; else those of which it has the beginning, up to its number. */
  like(name: string): ReadFile[] {
    const [beginning] = /^\D{6,}(?=\d)/u.exec(name) ?? [''];
    const found = [name, beginning]
      .map((one) => this.keyOf(one))
      .map((key) => (key === '' ? undefined : this.#byKey.get(key)));
    return (found[0] ?? found[1] ?? []).map((file) => this.read(file));
  }

  /** The last files of a class, newest first. */
  recent(classId: Id): ReadFile[] {
    return (this.#recent.get(classId) ?? []).map((file) => this.read(file));
  }

  /** The number of the last thing of a kind that a class has; null where none has one. */
  lastNumber(classId: Id, kind: ThingKind): ReadFile | null {
    return this.recent(classId).find((x) => x.kind === kind && x.number !== null) ?? null;
  }

  read(file: PlacedFile): ReadFile {
    const known = this.#read.get(file.placementId);
    if (known) return known;
    const title = readName(file.title, this.names, this.today);
    const given = readName(
      withoutExtension(file.originalName, file.extension),
      this.names,
      this.today,
    );
    const number = title.number ?? given.number;
    const kind = title.kind ?? given.kind ?? 'other';
    const read = { file, title, given, kind, number };
    this.#read.set(file.placementId, read);
    return read;
  }
}

export function withoutExtension(name: string, extension: string): string {
  const end = `.${extension}`;
  return extension && name.toLowerCase().endsWith(end.toLowerCase())
    ? name.slice(0, -end.length)
    : name;
}

const MONTHS =
  'jan(?:uary|uar)?|feb(?:ruary|ruar)?|mar(?:ch)?|märz?|apr(?:il)?|may|mai|june?|juni|july?|juli|aug(?:ust)?|sept?(?:ember)?|o[ck]t(?:ober)?|nov(?:ember)?|de[cz](?:ember)?';

/** The codes of so many classes are looked for in all names of the library. */
const CODES = 60;

/** What changes from one name of a series to the next: codes and letters of classes, months, marks of states. */
function droppedFrom({ classes }: ClassNames): RegExp {
  const codes = classes
    .slice(0, CODES)
    .map(({ code }) =>
      [...code.toLowerCase()]
        .filter((letter) => /[\p{L}\p{N}]/u.test(letter))
        .join(String.raw`[ _./-]?`),
    );
  const words = [...codes, '[a-e]', MONTHS, ...STATE_WORDS];
  return new RegExp(String.raw`(?<![\p{L}\p{N}])(?:${words.join('|')})(?![\p{L}])`, 'gu');
}
