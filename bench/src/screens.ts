import type { Browser, Page } from '@playwright/test';
import { sql } from 'drizzle-orm';
import { DEVICES } from '../../e2e/devices.ts';
import { launchBrowser } from './browser.ts';
import { api, row, signIn } from '../../e2e/steps.ts';
import type { ScratchPostgres, ServerProcess } from '../../scripts/lib/scratch-server.mjs';
import { atMost, median, report } from './report.ts';
import { benchFolder, type BenchFolder } from './sample.ts';

const ITEMS = 10_000;
const ROUNDS = 5;

/**
 * long_list: scrolling a folder of 10,000 items, long_list_phone: the same as a student on a phone.
 */
export async function benchScreens(postgres: ScratchPostgres, { address }: ServerProcess) {
  const long = await benchFolder(postgres, 'Bench, a long list');
  await fill(long);
  await long.close();
  const browser = await launchBrowser();
  const context = await browser.newContext({
    baseURL: address,
    viewport: { width: 1280, height: 800 },
  });
  const page = await context.newPage();
  await signIn(page, 'teacher');
  const frames: number[] = [];
  for (let round = 0; round < ROUNDS; round += 1) {
    await page.goto(`/folder/${long.id}`);
    await row(page, 'Sheet 1,').waitFor();
    const drawn = await page.locator('#main [data-at]').count();
    if (drawn > 100) throw new Error(`${drawn} rows are drawn`);
    frames.push(await scrolling(page, 400));
  }
  report('long_list', median(frames), 'ms', null, atMost(50));
  // The end of it is there, too: rows are fetched on the way.
  await row(page, 'Sheet').first().getByRole('link').first().focus();
  for (let n = 0; n < 400 && !(await row(page, 'Sheet 9999,').isVisible()); n += 1)
    await page.keyboard.press('End');
  await row(page, 'Sheet 9999,').waitFor();
  await onPhone(browser, page, long.id, address);
  await browser.close();
}

/** 10,000 files with one content of the sample school. */
async function fill({ db, id, schoolId, ownerId }: BenchFolder) {
  await db.transaction(async (tx) => {
    await tx.execute(sql`
      with made as (insert into items (school_id, owner_id, kind, title, extension, lesson_date)
          select ${schoolId}::uuid, ${ownerId}::uuid, 'file', 'Sheet ' || n || ', with a name of usual length', 'pdf',
            date '2026-01-01' + n % 300 from generate_series(1, ${ITEMS}::int) n returning id),
        content as (select hash, size, media_type from versions where school_id = ${schoolId}::uuid limit 1)
      insert into versions (school_id, item_id, number, hash, size, media_type, original_name, created_by)
        select ${schoolId}::uuid, made.id, 1, hash, size, media_type, 'sheet.pdf', ${ownerId}::uuid from made, content`);
    await tx.execute(sql`update items i set current_version_id = v.id from versions v
      where v.item_id = i.id and i.current_version_id is null and i.owner_id = ${ownerId}::uuid and i.kind = 'file'`);
    await tx.execute(sql`insert into placements (school_id, folder_id, item_id, position, added_by)
      select i.school_id, ${id}::uuid, i.id, row_number() over (order by i.title), i.owner_id from items i
      where i.owner_id = ${ownerId}::uuid and i.title like 'Sheet %, with a name of usual length'`);
  });
  await db.execute(sql`analyze`);
}

/** The same for a student, on a phone whose processor is a quarter as fast: from the top, and when all of it is there. */
async function onPhone(browser: Browser, teacher: Page, folder: string, address: string) {
  const context = await browser.newContext({ baseURL: address, ...DEVICES.phone });
  const page = await context.newPage();
  await signIn(page, 'studentA');
  const { classes } = await api(page, 'GET /api/classes');
  await api(teacher, 'POST /api/grants', {
    body: {
      things: [{ kind: 'folder', id: folder }],
      audiences: [{ kind: 'class', id: classes[0]!.id }],
    },
  });
  const session = await context.newCDPSession(page);
  await session.send('Emulation.setCPUThrottlingRate', { rate: 4 });
  const top: number[] = [];
  for (let round = 0; round < ROUNDS; round += 1) {
    await page.goto(`/folder/${folder}`);
    await row(page, 'Sheet 1,').waitFor();
    top.push(await scrolling(page, 250));
  }
  report('long_list_phone', median(top), 'ms', null, atMost(50));
  const last = page.locator('#main [data-row]', { hasText: 'Sheet 9999,' });
  const until = Date.now() + 300_000;
  while (Date.now() < until && !(await last.isVisible())) {
    await page.evaluate(() => window.scrollTo(0, document.body.scrollHeight));
    await page.waitForTimeout(50);
  }
  await last.waitFor();
  const end: number[] = [];
  for (let round = 0; round < ROUNDS; round += 1)
    end.push(await scrolling(page, round % 2 ? 250 : -250));
  report('long_list_phone_whole', median(end), 'ms', null, atMost(50));
  await context.close();
}

/**
 * The 95th percentile of the time from one picture of the screen to the next while the page is being scrolled, by so many
 * pixels at a time. Throws when it does not move.
 */
async function scrolling(page: Page, by: number): Promise<number> {
  const before = await page.evaluate(() => window.scrollY);
  await page.mouse.move(200, 500);
  await page.evaluate(`window.seen = [];
    requestAnimationFrame(function look(t) { seen.push(t); requestAnimationFrame(look); })`);
  for (let n = 0; n < 120; n += 1) {
    await page.mouse.wheel(0, by);
    await page.waitForTimeout(16);
  }
  const times = await page.evaluate<number[]>('seen');
  const between = times.slice(1).map((t, n) => t - times[n]!);
  between.sort((a, b) => a - b);
  const moved = Math.abs((await page.evaluate(() => window.scrollY)) - before);
  if (moved < 10_000) throw new Error(`only ${moved} px were scrolled`);
  return between[Math.floor(between.length * 0.95)]!;
}
