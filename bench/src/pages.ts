import { statSync } from 'node:fs';
import { chromium, type Page } from '@playwright/test';
import config from '../../e2e/playwright.config.ts';
import type { ScratchPostgres, ServerProcess } from '../../scripts/lib/scratch-server.mjs';
import { openDatabase } from '../../server/src/db/database.ts';
import { doors } from '../../server/src/db/schema/index.ts';
import { report } from './report.ts';
import { sampleCookie } from './sample.ts';

/** student_js and visitor_js: what the first page of each loads of JavaScript, packed with gzip. */
export async function benchPages(postgres: ScratchPostgres, { address, web }: ServerProcess) {
  const { db, close } = openDatabase(postgres.url('postgres'));
  const [door] = await db.select({ token: doors.token }).from(doors);
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
  await browser.close();
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
  return [...files].reduce((sum, file) => sum + statSync(`${web}${file}.gz`).size, 0) / 1000;
}
