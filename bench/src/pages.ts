import { statSync } from 'node:fs';
import { chromium, type Browser, type BrowserContext, type Page } from '@playwright/test';
import { and, eq, isNotNull } from 'drizzle-orm';
import config from '../../e2e/playwright.config.ts';
import type { ScratchPostgres, ServerProcess } from '../../scripts/lib/scratch-server.mjs';
import { openDatabase } from '../../server/src/db/database.ts';
import { doors } from '../../server/src/db/schema/index.ts';
import { median, report } from './report.ts';
import { sampleCookie } from './sample.ts';

/** student_js and visitor_js: what the first page of each loads of JavaScript, packed with gzip; first_paint and first_use. */
export async function benchPages(postgres: ScratchPostgres, { address, web }: ServerProcess) {
  const { db, close } = openDatabase(postgres.url('postgres'));
  const [door] = await db
    .select({ token: doors.token })
    .from(doors)
    .where(and(eq(doors.kind, 'public'), isNotNull(doors.folderId)))
    .orderBy(doors.createdAt);
  await close();
  const browser = await chromium.launch(config.use!.launchOptions);
  const student = await browser.newContext();
  const [name, ...value] = (await sampleCookie(address, 'mina.kovarik@fennmoor.example')).split(
    '=',
  );
  await student.addCookies([{ name: name!, value: value.join('='), url: address }]);
  const visitor = await browser.newContext();
  report(
    'student_js',
    await loaded(await student.newPage(), `${address}/`, web),
    'KB',
    null,
    'at most 130',
  );
  report(
    'visitor_js',
    await loaded(await visitor.newPage(), `${address}/open/${door!.token}`, web),
    'KB',
    null,
    'at most 90',
  );
  await benchFirstPaint(browser, student, address);
  await browser.close();
}

const ROUNDS = 7;

/**
 * With an empty cache and a processor slowed four times, from the beginning of the navigation: first_paint, until a
 * picture of the screen has what came in on a student's first page; and first_use, until its scripts are at work.
 */
async function benchFirstPaint(browser: Browser, student: BrowserContext, address: string) {
  const paint: number[] = [];
  const use: number[] = [];
  for (let round = 0; round <= ROUNDS; round += 1) {
    const context = await browser.newContext({ storageState: await student.storageState() });
    const page = await context.newPage();
    await page.addInitScript(watchFirst);
    const session = await context.newCDPSession(page);
    await session.send('Emulation.setCPUThrottlingRate', { rate: 4 });
    await page.goto(`${address}/`);
    await page.locator('html[data-shown][data-used]').waitFor();
    const { shown, used } = await page
      .locator('html')
      .evaluate((html) => ({ ...(html as HTMLElement).dataset }));
    // The first round warms the server up.
    if (round > 0) {
      paint.push(Number(shown) / 1000);
      use.push(Number(used) / 1000);
    }
    await context.close();
  }
  report('first_paint', median(paint), 's', null, 'under 1.5');
  report('first_use', median(use), 's', null, 'no bar');
}

/** Runs in the page before anything else: notes on it when it shows what came in, and when its scripts are at work. */
function watchFirst() {
  const painted = new Promise<number>((resolve) => {
    new PerformanceObserver((list) => {
      const first = list.getEntriesByName('first-contentful-paint')[0];
      if (first) resolve(first.startTime);
    }).observe({ type: 'paint', buffered: true });
  });
  const seen = new MutationObserver(() => {
    if (!document.querySelector('#main [data-row]')) return;
    seen.disconnect();
    // The next picture of the screen has it, and is there when that is done.
    requestAnimationFrame(() =>
      setTimeout(async () => {
        document.documentElement.dataset.shown = String(Math.max(performance.now(), await painted));
      }),
    );
  });
  seen.observe(document, { childList: true, subtree: true });
  const looking = setInterval(() => {
    const root = document.querySelector('#app');
    if (!root || !('__vue_app__' in root)) return;
    clearInterval(looking);
    document.documentElement.dataset.used = String(performance.now());
  }, 5);
}

/** Kilobytes (1,000 bytes) of packed JavaScript that a page asks for in its first seconds. */
async function loaded(page: Page, url: string, web: string): Promise<number> {
  const files = new Set<string>();
  page.on('response', (response) => {
    const { pathname } = new URL(response.url());
    if (/\.m?js$/u.test(pathname)) files.add(pathname);
  });
  await page.goto(url);
  await page.getByRole('heading', { level: 1 }).waitFor();
  // Not until the network is idle: a page that hears of changes never is.
  await page.waitForTimeout(2000);
  return [...files].reduce((sum, file) => sum + statSync(`${web}/public${file}.gz`).size, 0) / 1000;
}
