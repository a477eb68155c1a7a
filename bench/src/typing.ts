import type { Page } from '@playwright/test';
import sharp from 'sharp';
import { api, signIn } from '../../e2e/steps.ts';
import type { ScratchPostgres, ServerProcess } from '../../scripts/lib/scratch-server.mjs';
import { launchBrowser } from './browser.ts';
import { atMost, median, report } from './report.ts';

const CHARACTERS = 200_000;
const PICTURES = 200;
const KEYS = 200;
const ROUNDS = 5;

/** page_typing: from a key to the picture of the screen in which it shows, on a long page with many pictures; the slowest twentieth. */
export async function benchTyping(_: ScratchPostgres, { address }: ServerProcess) {
  const browser = await launchBrowser();
  const context = await browser.newContext({
    baseURL: address,
    viewport: { width: 1280, height: 800 },
  });
  const page = await context.newPage();
  await signIn(page, 'teacher');
  const { id: folderId } = await api(page, 'POST /api/folders', {
    body: { parentId: null, title: 'Bench, a long page' },
  });
  const { id } = await api(page, 'POST /api/pages', { body: { folderId, title: 'Long' } });
  const html = await longPage(page, id);
  await api(page, 'POST /api/placements/:placement/shown', {
    params: { placement: id },
    body: { html, base: 0, after: null },
  });
  await page.goto(`/write/${id}`);
  const text = page.getByRole('textbox', { name: 'Text of the page' });
  await text.waitFor();
  const length = await text.evaluate((element) => element.textContent!.length);
  if (length < CHARACTERS) throw new Error(`${length} characters`);
  if ((await text.locator('img').count()) !== PICTURES) throw new Error('Not all pictures');
  const slowest: number[] = [];
  for (let round = 0; round < ROUNDS; round += 1) {
    // In the middle, at another place each time.
    await text
      .locator('p')
      .nth(300 + round * 100)
      .click();
    slowest.push(await typing(page));
  }
  report('page_typing', median(slowest), 'ms', null, atMost(50));
  await browser.close();
}

/** The 95th percentile of milliseconds from a key to its paint. */
async function typing(page: Page): Promise<number> {
  await page.evaluate(() => {
    const times: number[] = [];
    Object.assign(window, { times });
    window.addEventListener(
      'keydown',
      ({ timeStamp }) =>
        requestAnimationFrame(() => {
          // Behind the frame that shows it.
          const { port1, port2 } = new MessageChannel();
          port1.onmessage = () => times.push(performance.now() - timeStamp);
          port2.postMessage(null);
        }),
      { capture: true },
    );
  });
  for (let n = 0; n < KEYS; n += 1) await page.keyboard.press('abcdefgh '[n % 9]!, { delay: 5 });
  await page.waitForTimeout(200);
  const times = await page.evaluate(() => (window as unknown as { times: number[] }).times);
  if (times.length < KEYS) throw new Error(`${times.length} keys`);
  return times.sort((a, b) => a - b)[Math.floor(times.length * 0.95)]!;
}

/** Paragraphs of usual length with a picture after every fifth. */
async function longPage(page: Page, id: string): Promise<string> {
  const words = 'Clay holds the lime longer than sand, and water drifts upwards within a minute. ';
  const paragraph = `<p>${words.repeat(3)}</p>`;
  const parts: string[] = [];
  for (let n = 0; n < PICTURES; n += 1) {
    const reply = await page.request.post(`/api/placements/${id}/pictures`, {
      headers: { 'content-type': 'application/octet-stream' },
      data: await picture(n),
    });
    if (!reply.ok()) throw new Error(await reply.text());
    const { hash } = (await reply.json()) as { hash: string };
    parts.push(
      ...Array<string>(5).fill(paragraph),
      `<img src="pictures/${hash}" alt="Picture ${n}" width="320" height="240">`,
    );
  }
  return parts.join('');
}

/** A picture of one colour, another one for each number. */
const picture = (n: number) =>
  sharp({
    create: { width: 320, height: 240, channels: 3, background: { r: n, g: 255 - n, b: 90 } },
  })
    .png()
    .toBuffer();
