import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  expect,
  type Browser,
  type BrowserContextOptions,
  type Locator,
  type Page,
} from '@playwright/test';
import type { Replies, Routes } from '@sammlung/contract';
import type { Result } from 'axe-core';
import { SAMPLE_PASSWORD } from '../demo/src/sign-ins.ts';
import { bodyOf, fill, type Given, type RouteKey } from '../web/src/app/api/addresses.ts';

export const PEOPLE = {
  teacher: 'Ilse Vandermoor',
  otherTeacher: 'Tomasz Adeyomi',
  office: 'Harriet Lindqvast',
  studentA: 'Mina Kovarik',
  studentB: 'Priya Raghavane',
  studentElsewhere: 'Mateus Levisohn',
} as const;

/** Opens the first page of one of the sample people, in a browser of their own. */
export async function openAs(
  browser: Browser,
  who: keyof typeof PEOPLE,
  options: BrowserContextOptions = {},
): Promise<Page> {
  const page = await (await browser.newContext(options)).newPage();
  await signIn(page, who);
  return page;
}

/** Makes a teacher who is in nobody’s way: with them a journey may do what would disturb others. */
export async function newTeacher(browser: Browser, name: string) {
  const email = `${name.toLowerCase().replaceAll(' ', '.')}@fennmoor.example`;
  const office = await openAs(browser, 'office');
  const { id } = await api(office, 'POST /api/people', { body: { kind: 'teacher', name, email } });
  const { slips } = await api(office, 'POST /api/people/slips', { body: { people: [id] } });
  const given = slips[0]!.firstPassword;
  const first = await api(office, 'POST /api/session', { body: { email, password: given } });
  if (first?.step !== 'password') throw new Error('A first password was wanted');
  const password = 'a hedge of hawthorn';
  await api(office, 'POST /api/session/password', { body: { token: first.token, password } });
  return {
    ...{ id, name, email, password },
    /** Lets them in no more, and ends what this took. */
    async leave() {
      await api(office, 'PUT /api/people/:person/deactivated', { params: { person: id } });
      await office.context().close();
    },
  };
}

/** Signs in without the page for it, which has journeys of its own, and opens the first page. */
export async function signIn(page: Page, who: keyof typeof PEOPLE) {
  const email = `${PEOPLE[who].toLowerCase().replace(' ', '.')}@fennmoor.example`;
  const reply = await page.request.post('/api/session', {
    data: { email, password: SAMPLE_PASSWORD },
  });
  expect(reply.ok()).toBe(true);
  await visit(page, '/');
  await expect(page.getByRole('button', { name: `Signed in as ${PEOPLE[who]}` })).toBeVisible();
}

/** Opens an address, and waits until the page hears: one that the server has drawn is there to be seen before that. */
export async function visit(page: Page, address: string) {
  await page.goto(address);
  await page.waitForFunction(() => {
    const app = document.getElementById('app');
    return app === null || '__vue_app__' in app;
  });
}

/** What goes wrong on a page from now on: errors of its console, with the address that they are about, and of its scripts. */
export function faultsOf(page: Page): string[] {
  const faults: string[] = [];
  page.on('console', (message) => {
    if (message.type() === 'error') faults.push(`${message.text()} ${message.location().url}`);
  });
  page.on('pageerror', (error) => faults.push(error.message));
  return faults;
}

/** Goes to one of the places along the top. */
export async function goTo(page: Page, place: string | RegExp) {
  await page
    .getByRole('navigation', { name: 'Places' })
    .filter({ visible: true })
    .getByRole('link', { name: place })
    .click();
}

/** Asks the API as whoever has signed in on the page, for what is not the matter of a journey. */
export async function api<K extends RouteKey>(
  page: Page,
  key: K,
  ...[sent]: Given<Routes, K>
): Promise<Replies<Routes>[K]> {
  const [method] = key.split(' ') as [string];
  const path = fill(key, sent);
  const { ok, status, text } = await page.evaluate(
    async (asked) => {
      const reply = await fetch(asked.path, {
        method: asked.method,
        ...(asked.body !== undefined && {
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify(asked.body),
        }),
      });
      return { ok: reply.ok, status: reply.status, text: await reply.text() };
    },
    { method, path, body: bodyOf(sent) },
  );
  if (!ok) throw new Error(`${key}: ${status} ${text}`);
  // The contract says what a route answers with, and the server sends nothing else.
  return (text === '' ? null : JSON.parse(text)) as Replies<Routes>[K];
}

/** Makes a folder in the open place and waits until it is open itself. */
export async function makeFolder(page: Page, title: string) {
  await page.getByRole('button', { name: 'New folder' }).click();
  await page.getByLabel('Name of the folder').fill(title);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1, name: title })).toBeVisible();
}

export interface TestFile {
  readonly name: string;
  readonly mimeType: string;
  readonly buffer: Buffer;
}

export function textFile(name: string, text: string): TestFile {
  return { name, mimeType: 'text/plain', buffer: Buffer.from(text) };
}

export async function addFiles(page: Page, files: TestFile[]) {
  // From the disk: what is handed over in a message takes as long as it is large.
  const folder = mkdtempSync(join(tmpdir(), 'sammlung-given-'));
  const paths = files.map(({ name, buffer }) => {
    writeFileSync(join(folder, name), buffer);
    return join(folder, name);
  });
  given.push(folder);
  await page.locator('input[type=file][multiple]:not([webkitdirectory])').setInputFiles(paths);
}
const given: string[] = [];
process.on('exit', () => given.forEach((folder) => rmSync(folder, { recursive: true })));

/** Drops files onto the sheet as if they came from the desktop. */
export async function dropFiles(page: Page, files: TestFile[], onto?: Locator) {
  const transfer = await page.evaluateHandle(
    (given) => {
      const data = new DataTransfer();
      for (const { name, mimeType, bytes } of given)
        data.items.add(new File([new Uint8Array(bytes)], name, { type: mimeType }));
      return data;
    },
    files.map(({ name, mimeType, buffer }) => ({ name, mimeType, bytes: [...buffer] })),
  );
  const sheet = onto ?? page.getByText('Drop files anywhere here.');
  for (const type of ['dragenter', 'dragover', 'dragover', 'drop']) {
    await sheet.dispatchEvent(type, { dataTransfer: transfer });
    // Where it is held is noted with the next picture of the screen.
    await page.evaluate(() => new Promise((resolve) => requestAnimationFrame(resolve)));
  }
}

/** A row of a list by the title in it. */
export function row(page: Page, title: string) {
  return page
    .locator('#main')
    .getByRole('listitem')
    .filter({ has: page.getByRole('link', { name: title }) })
    .last();
}

/** Opens the menu of a row and picks what it offers. */
export async function pick(page: Page, title: string, action: string) {
  await row(page, title)
    .getByRole('button', { name: /Actions for/u })
    .click();
  await page.getByRole('menuitem', { name: action }).click();
}

/** The newest letter in the post room to somebody, opened. */
export async function openLetter(page: Page, recipient: string, subject: string | RegExp) {
  const letter = page
    .getByRole('button')
    .filter({ hasText: recipient })
    .filter({ hasText: subject });
  await expect(async () => {
    await page.goto('/post-room');
    await expect(letter.first()).toBeVisible({ timeout: 2000 });
  }).toPass({ timeout: 30_000 });
  await letter.first().click();
}

/** What is said about whatever is on its way in. */
export const incoming = (page: Page) => page.getByRole('region', { name: 'Files being added' });

/** The files on their way into the open folder, as rows of it. */
export const arriving = (page: Page) => page.getByRole('list', { name: 'Arriving in this folder' });

/** The switch of an audience in the panel beside the folder. */
export function audience(page: Page, name: string) {
  return page.getByRole('switch', { name: `${name} sees this folder` });
}

const AXE = readFileSync(new URL(import.meta.resolve('axe-core/axe.min.js')), 'utf8');

/** Every rule in the light theme; in the dark one those that colours decide, since nothing else differs. */
const LEVELS = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'];
const COLOURS = ['color-contrast', 'link-in-text-block'];

/** Fails with what axe finds on the page, in the light and in the dark theme. */
export async function expectAccessible(page: Page) {
  // A page that is still being fetched is not judged.
  await expect(page.locator('h1').first()).toBeAttached();
  // What lies half under a bar that stays in place comes out from under it when the page is scrolled.
  const still = await page.addStyleTag({ content: '.sticky { position: static !important; }' });
  if (!(await page.evaluate(() => 'axe' in window))) await page.evaluate(AXE);
  for (const colorScheme of ['light', 'dark'] as const) {
    await page.emulateMedia({ colorScheme, reducedMotion: 'reduce' });
    const violations = await page.evaluate(
      async (rules) => {
        const { axe: runner } = window as unknown as { axe: typeof import('axe-core') };
        const { violations } = await runner.run(document, {
          runOnly: rules,
          resultTypes: ['violations'],
          // No rule that runs here reads style sheets.
          preload: { assets: ['media'] },
        });
        return violations;
      },
      colorScheme === 'light' ? LEVELS : COLOURS,
    );
    const told = (v: Result) =>
      `${v.id}: ${v.nodes.map((n) => `${n.target} ${n.failureSummary}`).join(' | ')}`;
    expect(violations.map(told), `${page.url()} ${colorScheme}`).toEqual([]);
  }
  await page.emulateMedia({ colorScheme: 'light' });
  await still.evaluate((style) => (style as HTMLStyleElement).remove());
}

/** What comes when a download is asked for: its name and bytes. */
export async function download(page: Page, press: () => Promise<void>) {
  const [file] = await Promise.all([page.waitForEvent('download'), press()]);
  return { name: file.suggestedFilename(), bytes: readFileSync(await file.path()) };
}

/** A new start word for somebody of a class, whose account is in use: only the office gives those one. */
export async function newFirstPassword(browser: Browser, code: string, student: string) {
  const office = await openAs(browser, 'office');
  const { courses } = await api(office, 'GET /api/courses');
  const classId = courses.flatMap(({ classes }) => classes).find((c) => c.code === code)!.id;
  const { members } = await api(office, 'GET /api/classes/:class', { params: { class: classId } });
  const { slips } = await api(office, 'POST /api/classes/:class/slips', {
    params: { class: classId },
    body: { people: [members.find(({ name }) => name === student)!.personId] },
  });
  await office.context().close();
  return { ...slips[0]!, classId };
}

/** What the system does when something is shared with the application. */
export const share = (page: Page, names: string[]) =>
  page.evaluate((given) => {
    const form = document.createElement('form');
    Object.assign(form, { method: 'post', action: '/shared', enctype: 'multipart/form-data' });
    const field = document.createElement('input');
    Object.assign(field, { type: 'file', name: 'files', multiple: true });
    const data = new DataTransfer();
    for (const name of given) data.items.add(new File([`Shared ${name}`], name));
    field.files = data.files;
    form.append(field);
    document.body.append(form);
    form.submit();
  }, names);
