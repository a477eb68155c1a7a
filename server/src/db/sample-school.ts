import {
  SAMPLE_BOXES,
  SAMPLE_CLASS_PAGES,
  SAMPLE_CURRENT_FOLDERS,
  SAMPLE_LIBRARY,
  SAMPLE_PASSWORD,
  SAMPLE_PHRASES,
  SAMPLE_SIGN_INS,
  SAMPLE_TRAY,
  sampleDays,
  sampleYears,
  SCHOOL,
  STAFF,
  STUDENTS,
  type Moment,
  type SampleClassPage,
  type SampleEntry,
  type SampleFolder,
} from '@sammlung/demo';
import { fileName } from '@sammlung/core';
import { hash } from '@node-rs/argon2';
import { eq, sql } from 'drizzle-orm';
import { applyAppearance } from '../domain/grants.ts';
import { addRemark } from '../domain/remarks.ts';
import { setPhrases } from '../domain/teacher-settings.ts';
import { newToken } from '../platform/tokens.ts';
import type { Storage } from '../platform/storage.ts';
import type { Queries } from './database.ts';
import * as s from './schema/index.ts';

const DAY_MS = 24 * 60 * 60 * 1000;

/** Makes the sample school within a transaction; its dates lie around `now`. */
export function makeSampleSchool(tx: Queries, storage: Storage, now: number): Promise<void> {
  return new Seed(tx, storage, now).run();
}

class Seed {
  #schoolId = '';
  readonly #people = new Map<string, string>();
  readonly #classes = new Map<string, string>();
  readonly #years = new Map<'closed' | 'running', string>();
  readonly #items = new Map<string, string>();
  readonly #folders = new Map<string, string>();
  /** Where each file was put first. */
  readonly #places = new Map<string, string>();
  readonly #again: {
    folderId: string;
    ownerId: string;
    entry: SampleEntry & { kind: 'again' };
    position: number;
  }[] = [];

  constructor(
    private readonly tx: Queries,
    private readonly storage: Storage,
    private readonly now: number,
  ) {}

  async run() {
    await this.#school();
    await this.#calendar();
    for (const [position, folder] of SAMPLE_LIBRARY.entries()) {
      const ownerId = this.#person(folder.owner ?? STAFF.ilse);
      await this.#folder(folder, ownerId, null, position);
    }
    for (const { folderId, ownerId, entry, position } of this.#again)
      await this.#place(folderId, this.#items.get(entry.name)!, ownerId, position, entry.added);
    for (const page of SAMPLE_CLASS_PAGES) await this.#classPage(page);
    await this.#tray();
    await this.#readers();
    await this.#boxes();
  }

  /** What waits in a tray, and where the lessons of classes go. */
  async #tray() {
    const schoolId = this.#schoolId;
    const personId = this.#person(STAFF.ilse);
    for (const [code, title] of Object.entries(SAMPLE_CURRENT_FOLDERS)) {
      const classId = this.#classes.get(`running ${code}`)!;
      const currentFolderId = this.#folders.get(title)!;
      await this.tx
        .insert(s.classPages)
        .values({ classId, schoolId, currentFolderId })
        .onConflictDoUpdate({ target: s.classPages.classId, set: { currentFolderId } });
    }
    for (const { name, mediaType, arrived, make, sameAs } of SAMPLE_TRAY) {
      const content = make ? await this.#content(await make()) : await this.#contentOf(sameAs!);
      await this.tx.insert(s.trayFiles).values({
        ...{ schoolId, personId, name, mediaType, ...content },
        // What came today came before now.
        arrivedAt: new Date(Math.min(this.#at(arrived).getTime(), this.now)),
        uploadId: `sample ${name}`,
      });
    }
  }

  /** Hand-in boxes, whose places the database makes, and what has been handed in. */
  async #boxes() {
    const schoolId = this.#schoolId;
    const teacherId = this.#person(STAFF.ilse);
    await setPhrases(this.tx, { id: teacherId, schoolId }, SAMPLE_PHRASES);
    for (const box of SAMPLE_BOXES) {
      const [made] = await this.tx
        .insert(s.boxes)
        .values({
          ...{ schoolId, classId: this.#classes.get(`running ${box.class}`)! },
          ...{ title: box.title, text: box.text, createdBy: teacherId },
          createdAt: this.#at(box.made),
          endsAt: box.ends ? this.#at(box.ends) : null,
        })
        .returning({ id: s.boxes.id });
      const places = await this.tx.select().from(s.places).where(eq(s.places.boxId, made!.id));
      const placeOf = new Map(places.map(({ personId, folderId }) => [personId, folderId]));
      for (const { student, name, mediaType, at, seen, make, remarks = [] } of box.handedIn) {
        const personId = this.#person(student);
        const versions = [{ make, at }];
        const entry = { kind: 'file' as const, name, mediaType, added: at, versions };
        const placementId = await this.#file(entry, placeOf.get(personId)!, personId, 1);
        let before: string | null = null;
        for (const { by, body, at: said, point = null, answers } of remarks)
          before = await addRemark(
            this.tx,
            {
              ...{ schoolId, placementId, body, point, replyTo: answers ? before : null },
              createdBy: by === 'teacher' ? teacherId : personId,
            },
            this.#at(said).getTime(),
          );
        if (!seen) continue;
        await this.tx.execute(sql`
          insert into openings (school_id, placement_id, version_id, person_id, kind, at)
          select school_id, id, version_id, ${teacherId}::uuid, 'opened', ${this.#at(seen).toISOString()}::timestamptz
          from placements where id = ${placementId}::uuid`);
      }
    }
  }

  /** The content of a file of the library. */
  async #contentOf(name: string) {
    const itemId = this.#items.get(name)!;
    const [found] = await this.tx
      .select({ hash: s.versions.hash, size: s.versions.size })
      .from(s.versions)
      .where(eq(s.versions.itemId, itemId));
    return found!;
  }

  async #classPage({ classes, numbered, headings, entries, website }: SampleClassPage) {
    const schoolId = this.#schoolId;
    const ownerId = this.#person(STAFF.ilse);
    const pages = classes.map((code) => this.#classes.get(`running ${code}`)!);
    const underOf = new Map<string, string>();
    const websiteOf = website && this.#classes.get(`running ${website.class}`)!;
    const onWebsite = (classId: string) => classId === websiteOf;
    if (websiteOf)
      await this.tx.insert(s.doors).values({
        ...{ schoolId, classId: websiteOf, kind: 'public', token: newToken() },
        ...{ coverText: website.coverText, createdBy: ownerId, createdAt: this.#at(website.at) },
      });
    for (const classId of pages) {
      const websiteTells = onWebsite(classId) ? website!.tells : 'nothing';
      await this.tx.insert(s.classPages).values({ schoolId, classId, numbered, websiteTells });
      for (const [position, heading] of headings.entries()) {
        const [made] = await this.tx
          .insert(s.headings)
          .values({
            ...{ schoolId, classId, position, ...heading },
            onWebsite: onWebsite(classId) && website!.headings.includes(heading.title),
          })
          .returning({ id: s.headings.id });
        underOf.set(`${classId} ${heading.title}`, made!.id);
      }
    }
    for (const [position, entry] of entries.entries()) {
      const { title, text, things = [], under, keepOnTop, held, at } = entry;
      const createdAt = this.#at(at);
      const [made] = await this.tx
        .insert(s.entries)
        .values({ schoolId, ownerId, title, text, createdAt })
        .returning({ id: s.entries.id });
      const entryId = made!.id;
      for (const [n, name] of things.entries()) {
        const folderId = this.#folders.get(name) ?? null;
        const placementId = folderId ? null : this.#places.get(name)!;
        await this.tx
          .insert(s.entryThings)
          .values({ schoolId, entryId, folderId, placementId, position: n });
      }
      for (const classId of pages) {
        const headingId = underOf.get(`${classId} ${under}`) ?? null;
        const [appearance] = await this.tx
          .insert(s.appearances)
          .values({
            ...{ schoolId, entryId, classId, headingId, position, keepOnTop, held },
            openText: onWebsite(classId) && website!.texts.includes(title),
            ...{ createdBy: ownerId, createdAt },
          })
          .returning({ id: s.appearances.id });
        await applyAppearance(this.tx, appearance!.id, {
          personId: ownerId,
          t: createdAt.getTime(),
        });
      }
    }
  }

  /**
   * A term of openings: each student is more or less keen, and opens most things some days after they came, some again, some to download
   * them; the sample sign-ins have opened what is older than a week. Visitors came through the public doors.
   */
  async #readers() {
    const known = SAMPLE_SIGN_INS.map((signIn) => signIn.email);
    const weekAgo = this.#at({ day: -6, minute: 0 }).toISOString();
    const now = new Date(this.now).toISOString();
    await this.tx
      .update(s.schools)
      .set({ reachSince: this.#at({ day: -120 }) })
      .where(eq(s.schools.id, this.#schoolId));
    await this.tx.execute(sql`
      insert into openings (school_id, placement_id, version_id, person_id, kind, at)
      select distinct p.school_id, p.id, i.current_version_id, m.person_id, 'opened'::opening_kind, p.added_at + interval '1 day'
      from placements p join items i on i.id = p.item_id join folders f on f.id = p.folder_id
        join grants g on g.folder_id = any (f.path) join memberships m on m.class_id = g.class_id
        join people on people.id = m.person_id
      where p.added_at < ${weekAgo}::timestamptz and not p.held and people.email = any (${sql.param(known)}::text[])
        and not exists (select from versions v where v.id = i.current_version_id and v.number > 1)
      order by 6`);
    await this.tx.execute(sql`
      with readers as (
        select distinct p.school_id, p.id, p.item_id, p.added_at, m.person_id,
          30 + abs(hashtext(people.name)) % 70 as keen, abs(hashtext(people.name || i.title)) as dice
        from placements p join items i on i.id = p.item_id join folders f on f.id = p.folder_id
          join grants g on g.folder_id = any (f.path) and not g.of_place join memberships m on m.class_id = g.class_id
          join people on people.id = m.person_id
        where not p.held and coalesce(people.email, '') <> all (${sql.param(known)}::text[])),
      opened as (
        select readers.*, nth, date_trunc('day', added_at) + interval '1 day' * (nth * (dice % 11) + (dice % 3) * (dice % 4))
          + interval '7 hours' + interval '1 minute' * (dice % 840) as at
        from readers, generate_series(0, 1) nth
        where dice % 100 < keen and (nth = 0 or dice % 5 = 0))
      insert into openings (school_id, placement_id, version_id, person_id, kind, at)
      select o.school_id, o.id, v.id, o.person_id,
        (case when o.dice % 7 < 2 then 'downloaded' else 'opened' end)::opening_kind, greatest(o.at, o.added_at)
      from opened o left join lateral (
        select id from versions where item_id = o.item_id and created_at <= greatest(o.at, o.added_at)
        order by number desc limit 1) v on true
      where greatest(o.at, o.added_at) < ${now}::timestamptz
      order by 6`);
    await this.tx.execute(sql`
      insert into openings (school_id, placement_id, version_id, door_id, kind, at)
      select p.school_id, p.id, i.current_version_id, d.id,
        (case when nth % 6 = 0 then 'downloaded' else 'opened' end)::opening_kind,
        p.added_at + (${now}::timestamptz - p.added_at) * ((abs(hashtext(i.title || nth)) % 1000) / 1000.0)
      from doors d join folders f on d.folder_id = any (f.path) join placements p on p.folder_id = f.id join items i on i.id = p.item_id
        cross join lateral generate_series(1, 3 + abs(hashtext(i.title)) % 16) nth
      where d.kind = 'public' and not p.held and p.added_at < ${now}::timestamptz`);
  }

  /** The instant of a moment around today. */
  #at({ day, minute = 8 * 60 }: Moment): Date {
    const midnight = Math.floor(this.now / DAY_MS) * DAY_MS;
    return new Date(midnight + day * DAY_MS + minute * 60_000);
  }

  #day(day: number): string {
    return this.#at({ day }).toISOString().slice(0, 10);
  }

  #person({ key }: { key: string }): string {
    return this.#people.get(key)!;
  }

  async #school() {
    const [school] = await this.tx
      .insert(s.schools)
      .values({ ...SCHOOL, sample: true, signInDomains: ['fennmoor.example'] })
      .returning();
    this.#schoolId = school!.id;
    const everybody = [...Object.values(STAFF), ...STUDENTS];
    const made = await this.tx
      .insert(s.people)
      .values(
        everybody.map(({ kind, name, email }) => ({ schoolId: this.#schoolId, kind, name, email })),
      )
      .returning({ id: s.people.id });
    everybody.forEach((p, n) => this.#people.set(p.key, made[n]!.id));
    // One password for all: hashing it ninety times would only make the first start slow.
    const password = await hash(SAMPLE_PASSWORD);
    await this.tx
      .insert(s.credentials)
      .values(
        made.map(({ id }) => ({ userId: id, accountId: id, providerId: 'credential', password })),
      );
  }

  async #calendar() {
    const today = new Date(this.now);
    const start = today.getUTCFullYear() - (today.getUTCMonth() < 7 ? 1 : 0);
    const schoolId = this.#schoolId;
    await this.tx
      .insert(s.schoolDays)
      .values(sampleDays(start).map((day) => ({ schoolId, ...day })));
    for (const { label, firstDay, lastDay, closed, courses } of sampleYears(start)) {
      const [year] = await this.tx
        .insert(s.years)
        .values({
          schoolId,
          label,
          firstDay,
          lastDay,
          closedAt: closed ? new Date(`${lastDay}T16:00:00Z`) : null,
        })
        .returning();
      this.#years.set(closed ? 'closed' : 'running', year!.id);
      for (const { title, colour, teachers, classes } of courses) {
        const [course] = await this.tx
          .insert(s.courses)
          .values({ schoolId, yearId: year!.id, title, colour })
          .returning();
        await this.tx
          .insert(s.courseTeachers)
          .values(
            teachers.map((t) => ({ schoolId, courseId: course!.id, personId: this.#person(t) })),
          );
        for (const c of classes) {
          const [made] = await this.tx
            .insert(s.classes)
            .values({
              schoolId,
              yearId: year!.id,
              courseId: course!.id,
              code: c.code,
              colour: c.colour,
            })
            .returning();
          const classId = made!.id;
          this.#classes.set(`${closed ? 'closed' : 'running'} ${c.code}`, classId);
          if (c.lessons)
            await this.tx
              .insert(s.lessons)
              .values(
                c.lessons.map(([weekday, period]) => ({ schoolId, classId, weekday, period })),
              );
          await this.tx.insert(s.memberships).values(
            c.students.map((student) => ({
              schoolId,
              classId,
              personId: this.#person(student),
              fromAt: new Date(`${firstDay}T00:00:00Z`),
              untilAt: closed ? new Date(`${lastDay}T00:00:00Z`) : null,
            })),
          );
        }
      }
    }
  }

  async #folder(folder: SampleFolder, ownerId: string, parentId: string | null, position: number) {
    const schoolId = this.#schoolId;
    const [made] = await this.tx
      .insert(s.folders)
      .values({
        schoolId,
        ownerId,
        parentId,
        title: folder.title,
        mark: folder.mark ?? null,
        colour: folder.colour ?? null,
        order: folder.order ?? 'hand',
        display: folder.display ?? 'list',
        yearId: folder.year ? this.#years.get(folder.year)! : null,
        held: folder.held ?? false,
        fromAt: folder.from ? this.#at(folder.from) : null,
        position,
        createdBy: ownerId,
        createdAt: this.#at({ day: -90 }),
      })
      .returning({ id: s.folders.id });
    const folderId = made!.id;
    this.#folders.set(folder.title, folderId);
    const handed = {
      schoolId,
      folderId,
      createdBy: ownerId,
      createdAt: this.#at(folder.handedOut ?? { day: -60 }),
    };
    for (const code of folder.classes ?? []) {
      const classId = this.#classes.get(`${folder.year ?? 'running'} ${code}`)!;
      await this.tx.insert(s.grants).values({ ...handed, audienceKind: 'class', classId });
    }
    if (folder.staff)
      await this.tx
        .insert(s.grants)
        .values({ ...handed, audienceKind: 'staff', level: folder.staff });
    if (folder.publicDoor)
      await this.tx.insert(s.doors).values({
        ...handed,
        kind: 'public',
        token: newToken(),
        coverText: folder.publicDoor,
      });
    for (const [n, entry] of (folder.entries ?? []).entries())
      await this.#entry(entry, folderId, ownerId, n + 1);
    for (const [n, below] of (folder.folders ?? []).entries())
      await this.#folder(below, ownerId, folderId, n + 1);
  }

  async #entry(entry: SampleEntry, folderId: string, ownerId: string, position: number) {
    const schoolId = this.#schoolId;
    if (entry.kind === 'again') {
      this.#again.push({ folderId, ownerId, entry, position });
      return;
    }
    const createdAt = this.#at(entry.added);
    if (entry.kind === 'link') {
      const { title, url } = entry;
      const [item] = await this.tx
        .insert(s.items)
        .values({ schoolId, ownerId, kind: 'link', title, url, createdAt })
        .returning({ id: s.items.id });
      await this.#place(folderId, item!.id, ownerId, position, entry.added);
      return;
    }
    if (entry.kind === 'page') {
      await this.#page(entry, folderId, ownerId, position);
      return;
    }
    this.#places.set(entry.name, await this.#file(entry, folderId, ownerId, position));
  }

  /** A file with its versions; resolves to where it is. */
  async #file(
    entry: SampleEntry & { kind: 'file' },
    folderId: string,
    ownerId: string,
    position: number,
  ): Promise<string> {
    const schoolId = this.#schoolId;
    const createdAt = this.#at(entry.added);
    const name = fileName(entry.name)!;
    const [item] = await this.tx
      .insert(s.items)
      .values({
        schoolId,
        ownerId,
        kind: 'file',
        title: name.title,
        extension: name.extension,
        lessonDate: entry.lesson === undefined ? null : this.#day(entry.lesson),
        createdAt,
      })
      .returning({ id: s.items.id });
    const itemId = item!.id;
    for (const [n, { make, at }] of entry.versions.entries()) {
      const content = await this.#content(await make());
      const [version] = await this.tx
        .insert(s.versions)
        .values({
          schoolId,
          itemId,
          number: n + 1,
          ...content,
          mediaType: entry.mediaType,
          originalName: entry.name,
          createdBy: ownerId,
          createdAt: this.#at(at),
        })
        .returning({ id: s.versions.id });
      await this.tx
        .update(s.items)
        .set({ currentVersionId: version!.id })
        .where(eq(s.items.id, itemId));
    }
    this.#items.set(entry.name, itemId);
    return this.#place(folderId, itemId, ownerId, position, entry.added, entry);
  }

  async #page(
    { title, added, pictures, versions }: SampleEntry & { kind: 'page' },
    folderId: string,
    ownerId: string,
    position: number,
  ) {
    const schoolId = this.#schoolId;
    const [item] = await this.tx
      .insert(s.items)
      .values({ schoolId, ownerId, kind: 'page', title, createdAt: this.#at(added) })
      .returning({ id: s.items.id });
    const itemId = item!.id;
    const hashes = new Map<string, string>();
    for (const [name, make] of Object.entries(pictures)) {
      const content = await this.#content(await make());
      await this.tx
        .insert(s.pagePictures)
        .values({ schoolId, itemId, ...content, mediaType: 'image/jpeg' });
      hashes.set(name, content.hash);
    }
    for (const [n, { html, at }] of versions.entries()) {
      const text = html((day) => this.#heading(day)).replace(
        /"pictures\/(\w+)"/gu,
        (_, name: string) => `"pictures/${hashes.get(name)!}"`,
      );
      const content = await this.#content(Buffer.from(text));
      const pieces = text.split('<').map((piece) => piece.slice(piece.indexOf('>') + 1).trim());
      const body = pieces.filter(Boolean).join(' ');
      await this.tx
        .insert(s.texts)
        .values({ schoolId, hash: content.hash, body, opening: body.slice(0, 400) })
        .onConflictDoNothing();
      const [version] = await this.tx
        .insert(s.versions)
        .values({
          ...{ schoolId, itemId, number: n + 1, ...content, mediaType: 'text/html' },
          ...{ originalName: `${title}.html`, createdBy: ownerId, createdAt: this.#at(at) },
        })
        .returning({ id: s.versions.id });
      const versionId = version!.id;
      if (hashes.size > 0)
        await this.tx
          .insert(s.versionPictures)
          .values([...hashes.values()].map((hash) => ({ schoolId, itemId, versionId, hash })));
      await this.tx
        .update(s.items)
        .set({ currentVersionId: versionId })
        .where(eq(s.items.id, itemId));
    }
    await this.#place(folderId, itemId, ownerId, position, added);
  }

  /** Keeps a content, with its record. */
  async #content(bytes: Uint8Array) {
    const content = await this.storage.put(this.#schoolId, bytes);
    await this.tx
      .insert(s.blobs)
      .values({ schoolId: this.#schoolId, ...content })
      .onConflictDoNothing();
    return content;
  }

  /** Begins on a page what belongs to a day from today, or to the Friday before where that is at a weekend. */
  #heading(day: number): string {
    const weekday = new Date(this.#day(day)).getUTCDay();
    const late = weekday === 6 ? 1 : weekday === 0 ? 2 : 0;
    const date = this.#day(day - late);
    const words = new Intl.DateTimeFormat('en-GB', {
      ...{ weekday: 'long', day: 'numeric', month: 'long', timeZone: 'UTC' },
    } as const).format(new Date(date));
    return `<h2 data-day="${date}">${words}</h2>`;
  }

  async #place(
    folderId: string,
    itemId: string,
    ownerId: string,
    position: number,
    added: Moment,
    release: { held?: boolean; from?: Moment } = {},
  ): Promise<string> {
    const [made] = await this.tx
      .insert(s.placements)
      .values({
        schoolId: this.#schoolId,
        folderId,
        itemId,
        position,
        addedBy: ownerId,
        addedAt: this.#at(added),
        held: release.held ?? false,
        fromAt: release.from ? this.#at(release.from) : null,
      })
      .returning({ id: s.placements.id });
    return made!.id;
  }
}
