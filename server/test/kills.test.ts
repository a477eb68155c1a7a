import { randomBytes, randomInt } from 'node:crypto';
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { hash } from '@node-rs/argon2';
import type { HandedOut, PlacedUpload, ImportedList } from '@sammlung/contract';
import { sql } from 'drizzle-orm';
import { expect, it } from 'vitest';
import { startPostgres, type Postgres } from '../../scripts/lib/postgres.mjs';
import { startServerProcess, type ServerProcess } from '../../scripts/lib/scratch-server.mjs';
import { migrateDatabase, openDatabase, rows } from '../src/db/database.ts';
import * as s from '../src/db/schema/index.ts';
import { examine } from '../src/domain/doctor.ts';
import { DiskStorage } from '../src/platform/storage.ts';

/**
 * Kills the server and its database at random moments of uploads, moves, removals, handings out and class lists, and
 * holds what is there afterwards against what was acknowledged. `KILLS` says how many, `SECONDS` for how long at most:
 *   KILLS=600 SECONDS=3600 npx vitest run --project server server/test/kills.test.ts
 */
const KILLS = Number(process.env.KILLS ?? 60);
const SECONDS = Number(process.env.SECONDS ?? 120);
/** Longer than any restart, however busy the machine is. */
const STILL = 45_000;
const WORKERS = 4;
/** Starting the server again takes some seconds: most kills are those that it survives. */
const KINDS = [
  ...Array<'connection'>(15).fill('connection'),
  ...(['server', 'server', 'server', 'database', 'database'] as const),
];
const PASSWORD = 'correct horse';
const EMAIL = 'owner@example.org';

type Db = ReturnType<typeof openDatabase>['db'];

/** What is waited for, or a TimeoutError: after a kill nothing may stand still for good. */
function bounded<T>(what: string, work: Promise<T>): Promise<T> {
  const late = wait(STILL, null, { ref: false }).then(() => {
    throw new DOMException(`${what} takes more than ${STILL / 1000} s.`, 'TimeoutError');
  });
  return Promise.race([work, late]);
}

/** The server, its database, and a teacher who is signed in; all of it comes up again after a kill. */
class Site {
  readonly data = mkdtempSync(join(tmpdir(), 'sammlung-kills-'));
  #postgres!: Postgres;
  #server!: ServerProcess;
  #opened!: ReturnType<typeof openDatabase>;
  #cookie = '';
  classId = '';

  get db(): Db {
    return this.#opened.db;
  }

  async start() {
    chmodSync(this.data, 0o755);
    await this.#startDatabase();
    await migrateDatabase(this.#postgres.url('postgres'));
    await this.#plant();
    await this.#startServer();
    await this.#signIn();
  }

  async #startDatabase() {
    for (let tries = 0; ; tries += 1) {
      try {
        this.#postgres = await bounded('Starting the database', startPostgres(this.data));
        break;
      } catch (error) {
        // What a killed server has left behind holds its memory for a moment longer.
        if (tries === 20) throw error;
        await wait(100);
      }
    }
    this.#opened = openDatabase(this.#postgres.url('postgres'));
  }

  async #startServer() {
    const postgres = { data: this.data, url: this.#postgres.url };
    const starting = startServerProcess(postgres, 'postgres', { SAMMLUNG_SAMPLE: 'no' });
    this.#server = await bounded('Starting the server', starting);
  }

  async #plant() {
    const { db } = this;
    const [school] = await db
      .insert(s.schools)
      .values({ name: 'School', timeZone: 'UTC' })
      .returning();
    const schoolId = school!.id;
    const [person] = await db
      .insert(s.people)
      .values({ schoolId, kind: 'teacher', name: 'owner', email: EMAIL })
      .returning();
    const { id: userId } = person!;
    await db.insert(s.credentials).values({
      userId,
      accountId: userId,
      providerId: 'credential',
      password: await hash(PASSWORD, { memoryCost: 8, timeCost: 1 }),
    });
    const [year] = await db
      .insert(s.years)
      .values({ schoolId, label: 'year', firstDay: '2026-08-01', lastDay: '2027-07-01' })
      .returning();
    const colour = 'leaf' as const;
    const [course] = await db
      .insert(s.courses)
      .values({ schoolId, yearId: year!.id, title: 'Course', colour })
      .returning();
    await db.insert(s.courseTeachers).values({ schoolId, courseId: course!.id, personId: userId });
    const [made] = await db
      .insert(s.classes)
      .values({ schoolId, yearId: year!.id, courseId: course!.id, code: 'A', colour })
      .returning();
    this.classId = made!.id;
  }

  async #signIn() {
    const reply = await this.fetch('POST', '/api/session', { email: EMAIL, password: PASSWORD });
    this.#cookie = reply.headers
      .getSetCookie()
      .map((c) => c.split(';')[0]!)
      .join('; ');
  }

  fetch(method: string, path: string, body?: unknown, headers: Record<string, string> = {}) {
    const raw = headers['content-type'] !== undefined;
    return fetch(`${this.#server.address}${path}`, {
      method,
      signal: AbortSignal.timeout(STILL),
      headers: {
        cookie: this.#cookie,
        ...(body !== undefined && !raw && { 'content-type': 'application/json' }),
        ...headers,
      },
      ...(body !== undefined && { body: raw ? (body as BodyInit) : JSON.stringify(body) }),
    });
  }

  /** Whether requests are answered, and the database behind them. */
  async answers(): Promise<boolean> {
    const reply = await this.fetch('GET', '/api/library/top').catch(() => null);
    return reply?.status === 200;
  }

  /** Resolves once requests are answered again. */
  async up() {
    const since = Date.now();
    while (!(await this.answers())) {
      if (Date.now() - since > 30_000) throw new Error('It does not come up again.');
      await wait(50);
    }
  }

  async kill(what: (typeof KINDS)[number]) {
    if (what === 'connection') {
      // One connection that dies so ends all of them: the database goes through its recovery, the server stays.
      const [one] = await rows<{ pid: number }>(
        this.db,
        sql`select pid from pg_stat_activity where backend_type = 'client backend' and pid <> pg_backend_pid()
          order by random() limit 1`,
      );
      if (!one) return;
      process.kill(one.pid, 'SIGKILL');
      // Until the database has noticed, the other connections still answer.
      const there = sql`select 1 from pg_stat_activity where pid = ${one.pid}`;
      const noticed = (found: unknown[]) => found.length === 0;
      while (!(await rows(this.db, there).then(noticed, () => true))) await wait(5);
      return;
    }
    if (what === 'database') {
      process.kill(this.#postgres.pid, 'SIGKILL');
      await this.#postgres.ended;
    }
    await this.#server.kill();
    if (what === 'database') {
      await bounded('Closing connections', this.#opened.close());
      await this.#startDatabase();
    }
    await this.#startServer();
  }

  /** Also of what has not started: the error that kept it from that is the one to be told. */
  async stop() {
    await this.#server?.stop();
    await this.#opened?.close();
    await this.#postgres?.stop();
    rmSync(this.data, { recursive: true, force: true });
  }
}

/** Something whose state is known: after a request that was not answered it may be the old one or the new one. */
interface Thing {
  possible: string[];
  readonly actual: () => Promise<string>;
}

/** One person at work, on things of their own. */
class Worker {
  readonly #folders: { id: string; title: Thing; grant: Thing }[] = [];
  readonly #files: { placement: string; bytes: Buffer; place: Thing }[] = [];
  readonly #listed: Thing[] = [];
  /** Uploads that have been sent whole, and are not acknowledged as placed. */
  #sent: { upload: string; folder: string; bytes: Buffer } | null = null;
  acknowledged = 0;

  constructor(
    private readonly site: Site,
    private readonly n: number,
  ) {}

  /** Works until told to stop; whatever fails leaves its thing open. Throws where nothing is answered at all. */
  async run(stopped: () => boolean) {
    while (!stopped()) {
      const done = await this.#step().catch((error: unknown) => {
        if (error instanceof DOMException && error.name === 'TimeoutError') throw error;
        return false;
      });
      if (!done && !stopped()) await this.#recover(stopped);
    }
  }

  /** Waits until there is somebody to answer, then finds out what has become of what was left open. */
  async #recover(stopped: () => boolean) {
    while (!stopped() && !(await this.site.answers())) await wait(50);
  }

  async #step(): Promise<boolean> {
    if (this.#folders.length < 3) return this.#makeFolder();
    if (this.#sent) return this.#place(this.#sent);
    const acts = [
      () => this.#send(),
      () => this.#move(),
      () => this.#move(),
      () => this.#bin(),
      () => this.#rename(),
      () => this.#handOut(),
      () => this.#list(),
    ];
    return acts[randomInt(acts.length)]!();
  }

  async #ask<T>(method: string, path: string, body?: unknown): Promise<T> {
    const reply = await this.site.fetch(method, path, body);
    const text = await reply.text();
    if (!reply.ok) throw new Error(`${reply.status} ${text}`);
    this.acknowledged += 1;
    return (text === '' ? null : JSON.parse(text)) as T;
  }

  /** Changes a thing from the state it is in: open while the request is under way, known once it is answered. */
  async #change(thing: Thing, to: string, act: () => Promise<unknown>): Promise<boolean> {
    await settle(thing);
    thing.possible = [thing.possible[0]!, to];
    await act();
    thing.possible = [to];
    return true;
  }

  async #makeFolder(): Promise<boolean> {
    const title = `Folder ${this.n} ${randomBytes(4).toString('hex')}`;
    const { id } = await this.#ask<{ id: string }>('POST', '/api/folders', {
      parentId: null,
      title,
    });
    const read = async (column: string) => {
      const [found] = await rows<{ value: string | null }>(
        this.site.db,
        sql`select ${sql.raw(column)} as value from folders f where id = ${id}::uuid`,
      );
      return found ? (found.value ?? 'none') : 'gone';
    };
    this.#folders.push({
      id,
      title: { possible: [title], actual: () => read('title') },
      grant: {
        possible: ['none'],
        actual: () =>
          read(
            `(select id::text from grants g where g.folder_id = f.id and g.taken_back_at is null)`,
          ),
      },
    });
    return true;
  }

  #anyFolder() {
    return this.#folders[randomInt(this.#folders.length)]!;
  }

  async #send(): Promise<boolean> {
    const bytes = randomBytes(randomInt(1, 200_000));
    const folder = this.#anyFolder().id;
    const base64 = (text: string) => Buffer.from(text).toString('base64');
    const tus = { 'tus-resumable': '1.0.0' };
    const name = `${bytes.subarray(0, 8).toString('hex')}-${bytes.length}.bin`;
    const begun = await this.site.fetch('POST', '/api/uploads', undefined, {
      ...tus,
      'upload-length': String(bytes.length),
      'upload-metadata': `filename ${base64(name)},folderId ${base64(folder)}`,
    });
    const upload = begun.headers.get('location')?.split('/').at(-1);
    if (begun.status !== 201 || !upload) return false;
    const patched = await this.site.fetch('PATCH', `/api/uploads/${upload}`, bytes, {
      ...tus,
      'content-type': 'application/offset+octet-stream',
      'upload-offset': '0',
    });
    if (patched.status !== 204) return false;
    this.#sent = { upload, folder, bytes };
    return this.#place(this.#sent);
  }

  async #place({ upload, folder, bytes }: { upload: string; folder: string; bytes: Buffer }) {
    const placed = await this.#ask<PlacedUpload>('POST', `/api/folders/${folder}/files`, {
      uploadId: upload,
    });
    this.#sent = null;
    const placement = placed.placementId!;
    this.#files.push({
      placement,
      bytes,
      place: {
        possible: [folder],
        actual: async () => {
          const [found] = await rows<{ place: string }>(
            this.site.db,
            sql`select case when binned_at is null then folder_id::text else 'bin' end as place
              from placements where id = ${placement}::uuid`,
          );
          return found?.place ?? 'gone';
        },
      },
    });
    return true;
  }

  async #move(): Promise<boolean> {
    const file = this.#files[randomInt(Math.max(1, this.#files.length))];
    if (!file) return this.#send();
    await settle(file.place);
    const things = [{ kind: 'placement', id: file.placement }];
    const to = this.#anyFolder().id;
    if (file.place.possible[0] === 'bin')
      return this.#change(file.place, to, () =>
        this.#ask('POST', '/api/bin/restore', { things, to }),
      );
    return this.#change(file.place, to, () =>
      this.#ask('POST', '/api/moves', { things, to, before: null }),
    );
  }

  async #bin(): Promise<boolean> {
    const file = this.#files[randomInt(Math.max(1, this.#files.length))];
    if (!file) return this.#send();
    await settle(file.place);
    if (file.place.possible[0] === 'bin') return true;
    const things = [{ kind: 'placement', id: file.placement }];
    return this.#change(file.place, 'bin', () => this.#ask('POST', '/api/bin', { things }));
  }

  async #rename(): Promise<boolean> {
    const { id, title } = this.#anyFolder();
    const to = `Folder ${this.n} ${randomBytes(4).toString('hex')}`;
    return this.#change(title, to, () => this.#ask('PATCH', `/api/folders/${id}`, { title: to }));
  }

  async #handOut(): Promise<boolean> {
    const { id, grant } = this.#anyFolder();
    await settle(grant);
    const [was] = grant.possible;
    if (was !== 'none')
      return this.#change(grant, 'none', () =>
        this.#ask('POST', '/api/grants/take-back', { grants: [was] }),
      );
    // Which id it gets is told with the acknowledgement: until then any is possible.
    grant.possible = ['none', ANY];
    const { made } = await this.#ask<HandedOut>('POST', '/api/grants', {
      things: [{ kind: 'folder', id }],
      audiences: [{ kind: 'class', id: this.site.classId }],
    });
    grant.possible = [made[0]!];
    return true;
  }

  async #list(): Promise<boolean> {
    const name = `Pupil ${this.n} ${randomBytes(6).toString('hex')}`;
    const thing: Thing = {
      possible: ['0', '1'],
      actual: async () => {
        const [found] = await rows<{ members: number }>(
          this.site.db,
          sql`select count(*)::int as members from people p join memberships m on m.person_id = p.id where p.name = ${name}`,
        );
        return String(found!.members);
      },
    };
    this.#listed.push(thing);
    const taken = await this.#ask<ImportedList>('POST', `/api/classes/${this.site.classId}/list`, {
      rows: [
        {
          name,
          email: null,
          signInName: null,
          externalId: null,
          from: null,
          until: null,
          personId: null,
        },
      ],
      leaving: [],
    });
    expect(taken.joined).toBe(1);
    thing.possible = ['1'];
    return true;
  }

  /** Everything is as acknowledged, to the byte. */
  async verify() {
    if (this.#sent) await this.#place(this.#sent);
    for (const { title, grant } of this.#folders)
      for (const thing of [title, grant]) await settle(thing);
    for (const thing of this.#listed) await settle(thing);
    for (const { place } of this.#files) await settle(place);
    for (const { placement, bytes, place } of this.#files) {
      if (place.possible[0] === 'bin') continue;
      const reply = await this.site.fetch('GET', `/api/placements/${placement}/content`);
      expect(Buffer.from(await reply.arrayBuffer()).equals(bytes)).toBe(true);
    }
    return this.#files.length;
  }
}

const ANY = 'any';

/** Finds out in which of its possible states a thing is; any other one is a loss. */
async function settle(thing: Thing) {
  if (thing.possible.length === 1 && !thing.possible.includes(ANY)) {
    return;
  }
  const actual = await bounded('Reading a state', thing.actual());
  if (!thing.possible.includes(ANY)) expect(thing.possible).toContain(actual);
  thing.possible = [actual];
}

it(
  `loses nothing acknowledged, and keeps files and records together, over ${KILLS} kills`,
  async () => {
    const site = new Site();
    const ends = Date.now() + SECONDS * 1000;
    let stopped = false;
    const faults: unknown[] = [];
    try {
      await site.start();
      const workers = Array.from({ length: WORKERS }, (_, n) => new Worker(site, n));
      const work = workers.map((worker) =>
        worker.run(() => stopped).catch((error: unknown) => faults.push(error)),
      );
      let kills = 0;
      while (kills < KILLS && Date.now() < ends && faults.length === 0) {
        await wait(randomInt(50, 600));
        await site.kill(KINDS[randomInt(KINDS.length)]!);
        kills += 1;
        await site.up();
      }
      stopped = true;
      await Promise.all(work);
      expect(faults).toEqual([]);
      let files = 0;
      for (const worker of workers) files += await worker.verify();
      const { db } = site;
      const storage = new DiskStorage(site.data);
      const found = await examine({ db, storage }, Date.now(), { deep: true });
      expect(found).toMatchObject({ removed: 0, damaged: [] });
      const acknowledged = workers.reduce((sum, worker) => sum + worker.acknowledged, 0);
      console.log(`${kills} kills, ${acknowledged} changes acknowledged, ${files} files whole`);
      expect(acknowledged).toBeGreaterThan(kills);
    } finally {
      stopped = true;
      await site.stop();
    }
  },
  SECONDS * 1000 + 120_000,
);
