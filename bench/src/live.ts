import { createHmac, randomBytes } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { Agent, get, type IncomingMessage } from 'node:http';
import { join } from 'node:path';
import { sql } from 'drizzle-orm';
import { launchBrowser } from './browser.ts';
import type { ScratchPostgres, ServerProcess } from '../../scripts/lib/scratch-server.mjs';
import { rows } from '../../server/src/db/database.ts';
import { atMost, median, report } from './report.ts';
import { benchFolder, sampleCookie, TEACHER, upload, type BenchFolder } from './sample.ts';

const PAGES = 500;
const ROUNDS = 5;

/**
 * fan_out and fan_out_new: from the moment a teacher begins to upload a file until 500 open pages, each of another
 * student of one class, have it: pages that show the folder, and pages on which new things come in. One of the 500 is
 * a real browser; it counts once it shows the file.
 */
export async function benchLive(postgres: ScratchPostgres, { address }: ServerProcess) {
  const teacher = await sampleCookie(address, TEACHER);
  const folder = await benchFolder(postgres, 'Bench, a full class');
  const cookies = await fullClass(folder, readFileSync(join(postgres.data, 'secret'), 'utf8'));
  await folder.close();
  for (let n = 1; n <= 30; n += 1) await addFile(address, teacher, folder.id, `Sheet ${n}`);
  for (const [name, page, live] of [
    ['fan_out', `/folder/${folder.id}`, `/api/folders/${folder.id}/live`],
    ['fan_out_new', '/new', '/api/new/live'],
  ] as const) {
    const watched = await openPages(address, cookies, page, live);
    const times: number[] = [];
    // The first round warms up.
    for (let round = 0; round <= ROUNDS; round += 1) {
      const title = `${name} ${round}`;
      const shown = watched.until(title);
      const started = performance.now();
      await addFile(address, teacher, folder.id, title);
      const waits = (await shown).map((at) => at - started).sort((a, b) => a - b);
      if (round > 0) times.push(waits[Math.ceil(PAGES * 0.95) - 1]!);
      // What pages load besides is not to stand in the way of the next round.
      await new Promise((resolve) => setTimeout(resolve, 12_000));
    }
    await watched.close();
    report(name, median(times) / 1000, 's', null, atMost(1));
  }
}

/** Hands the folder out to a class of its own with a session for each of its 500 students; resolves to their cookies. */
async function fullClass({ db, id, schoolId, ownerId }: BenchFolder, secret: string) {
  const tokens = Array.from({ length: PAGES }, () => randomBytes(24).toString('base64url'));
  await rows(
    db,
    sql`with course as (
        insert into courses (school_id, year_id, title, colour)
        select school_id, id, 'Bench', 'slate' from years where school_id = ${schoolId}::uuid and closed_at is null limit 1
        returning id, year_id),
      class as (
        insert into classes (school_id, year_id, course_id, code, colour)
        select ${schoolId}::uuid, year_id, id, 'BENCH', 'slate' from course returning id),
      students as (
        insert into people (school_id, kind, name, sign_in_name)
        select ${schoolId}::uuid, 'student', 'Student ' || n, 'bench' || n from generate_series(1, ${PAGES}) n returning id),
      members as (
        insert into memberships (school_id, class_id, person_id) select ${schoolId}::uuid, class.id, students.id from class, students),
      handed as (
        insert into grants (school_id, folder_id, audience_kind, class_id, created_by)
        select ${schoolId}::uuid, ${id}::uuid, 'class', id, ${ownerId}::uuid from class)
      insert into sessions (user_id, token, expires_at)
        select students.id, tokens.token, now() + interval '1 day'
        from (select id, row_number() over () as n from students) students
          join unnest(${sql.param(tokens)}::text[]) with ordinality tokens (token, n) using (n)
        returning id::text`,
  );
  return tokens.map((token) => {
    const signature = createHmac('sha256', secret).update(token).digest('base64');
    return `sammlung.session_token=${encodeURIComponent(`${token}.${signature}`)}`;
  });
}

/** Opens a page for each cookie; `until` resolves to when each of them had heard of, or showed, a title. */
async function openPages(address: string, cookies: readonly string[], page: string, live: string) {
  const [first, ...others] = cookies;
  const browser = await launchBrowser();
  const context = await browser.newContext();
  const [name, value] = first!.split('=') as [string, string];
  await context.addCookies([{ name, value, url: address }]);
  const real = await context.newPage();
  await real.goto(`${address}${page}`);
  await real.locator('#main [data-row]').first().waitFor();
  const agent = new Agent({ maxSockets: PAGES });
  const lines = await Promise.all(
    others.map((cookie) => openLine(`${address}${live}`, cookie, agent)),
  );
  return {
    until: (title: string) =>
      Promise.all([
        real
          .getByText(title)
          .first()
          .waitFor()
          .then(() => performance.now()),
        ...lines.map((line) => line.until(title)),
      ]),
    async close() {
      for (const line of lines) line.close();
      agent.destroy();
      await browser.close();
    },
  };
}

async function openLine(url: string, cookie: string, agent: Agent) {
  const reply = await new Promise<IncomingMessage>((resolve, reject) =>
    get(url, { headers: { cookie }, agent }, resolve).on('error', reject),
  );
  if (reply.statusCode !== 200) throw new Error(`no line: ${reply.statusCode}`);
  let wanted = '';
  let found = (_: number) => {};
  let failed = (_: Error) => {};
  reply.setEncoding('utf8');
  reply.on('data', (text: string) => {
    if (wanted && text.includes(wanted)) found(performance.now());
  });
  reply.on('close', () => failed(new Error('a line was lost')));
  return {
    until: (title: string) =>
      new Promise<number>((resolve, reject) => {
        wanted = title;
        found = resolve;
        failed = reject;
      }),
    close: () => reply.destroy(),
  };
}

/** Uploads a small file until it lies in the folder. */
async function addFile(address: string, cookie: string, folderId: string, title: string) {
  const body = Buffer.concat([Buffer.from(title), randomBytes(20_000)]);
  const what = { folderId, name: `${title}.bin`, length: body.length };
  await upload({ address, cookie }, what, (to, headers) =>
    fetch(to, { method: 'PATCH', headers, body }),
  );
}
