import { expect, test, type BrowserContext, type Page } from '@playwright/test';
import { STUDENTS } from '../demo/src/index.ts';
import { makePdf } from '../demo/src/files/pdf.ts';
import { DEVICES } from './devices.ts';
import {
  addFiles,
  api,
  download,
  expectAccessible,
  goTo,
  newFirstPassword,
  openAs,
  row,
  textFile,
  visit,
} from './steps.ts';

/** What lies of ours in a browser. */
const left = (page: Page) =>
  page.evaluate(async () => ({
    caches: await caches.keys(),
    workers: (await navigator.serviceWorker.getRegistrations()).length,
    databases: (await indexedDB.databases()).length,
    stored: Object.keys(localStorage),
    cookies: document.cookie,
  }));

/**
 * A student who comes for the first time, takes things along, and reads without a connection; each device has one of its
 * own, whom no other journey meets.
 */
for (const [n, [device, options]] of Object.entries(DEVICES).entries())
  test.describe(`on a ${device}`, () => {
    test.describe.configure({ mode: 'serial' });
    const UNIT = `Ponds, ${device}`;
    const reader = STUDENTS[15 + n]!;
    let teacher: Page;
    let context: BrowserContext;
    let student: Page;
    let unit = '';
    let grant = '';
    let first = { signInName: '', firstPassword: '' };

    test.beforeAll(async ({ browser }) => {
      teacher = await openAs(browser, 'teacher');
      const { classId, ...word } = await newFirstPassword(browser, 'SO1A', reader.name);
      first = word;
      unit = (await api(teacher, 'POST /api/folders', { body: { parentId: null, title: UNIT } }))
        .id;
      await visit(teacher, `/folder/${unit}`);
      await addFiles(teacher, [
        {
          name: `Reeds ${device}.pdf`,
          mimeType: 'application/pdf',
          buffer: await makePdf({
            title: `Reeds ${device}`,
            course: 'Soil Science I',
            code: 'SO1',
            colour: '#2f6f4f',
            blocks: [{ text: 'Reeds stand in still water.' }],
          }),
        },
        textFile(`Frogs ${device}.txt`, `Eleven frogs, ${device}.`),
      ]);
      await expect(teacher.getByText(`2 files added to ${UNIT}.`)).toBeVisible();
      const { made } = await api(teacher, 'POST /api/grants', {
        body: {
          things: [{ kind: 'folder', id: unit }],
          audiences: [{ kind: 'class', id: classId }],
        },
      });
      grant = made[0]!;
      context = await browser.newContext(options);
      student = await context.newPage();
    });
    test.afterAll(async () => {
      await teacher.context().close();
      await context.close();
    });

    test('9 a start word opens once, for a password of one’s own', async () => {
      const { signInName, firstPassword } = first;
      const signIn = async (password: string) => {
        await student.getByLabel('Email address or sign-in name').fill(signInName);
        await student.getByLabel('Password', { exact: true }).fill(password);
        await student.getByRole('button', { name: 'Sign in', exact: true }).click();
      };
      await visit(student, `/folder/${unit}`);
      await signIn(firstPassword);
      await expect(student.getByRole('heading', { name: 'Choose a password' })).toBeVisible();
      await expectAccessible(student);
      await student.getByLabel('New password').fill('short');
      await student.getByRole('button', { name: 'Save and sign in' }).click();
      // The browser says in its own words that this is too short, and nothing is sent.
      await expect(student.locator('input:invalid')).toBeFocused();
      await student.getByLabel('New password').fill(`a pond in the ${device}`);
      await student.getByRole('button', { name: 'Save and sign in' }).click();
      // Straight to where they wanted to be.
      await expect(student.getByRole('heading', { level: 1, name: UNIT })).toBeVisible();

      const other = await (await context.browser()!.newContext()).newPage();
      await visit(other, '/sign-in');
      await other.getByLabel('Email address or sign-in name').fill(signInName);
      await other.getByLabel('Password', { exact: true }).fill(firstPassword);
      await other.getByRole('button', { name: 'Sign in', exact: true }).click();
      await expect(other.getByRole('alert')).toBeVisible();
      await other.context().close();
    });

    test('6 taking along: a folder or some of it as one file, and a feed whose address can be closed', async () => {
      const all = await download(student, () =>
        student.getByRole('link', { name: 'Download all' }).click(),
      );
      expect(all.name).toBe(`${UNIT}.zip`);
      for (const text of ['%PDF-', `Eleven frogs, ${device}.`])
        expect(all.bytes.toString('latin1')).toContain(text);
      await student.getByRole('button', { name: 'Choose', exact: true }).click();
      await student.getByRole('checkbox', { name: `Choose Frogs ${device}` }).check();
      const one = await download(student, () =>
        student.getByRole('link', { name: 'Download 1' }).click(),
      );
      expect(one.bytes.toString('latin1')).not.toContain('%PDF-');

      await goTo(student, 'My classes');
      const feed = student.locator('details').filter({ hasText: 'As a feed' }).first();
      await feed.getByText('As a feed').click();
      await feed.getByRole('button', { name: 'Get an address' }).click();
      const address = (await feed.getByText(/^https?:/u).textContent())!.trim();
      // A feed reader has no session.
      const reply = await teacher.request.get(address, { headers: { cookie: '' } });
      expect(reply.headers()['content-type']).toContain('application/atom+xml');
      expect(await reply.text()).toContain(`Reeds ${device}`);
      await expectAccessible(student);
      await feed.getByRole('button', { name: 'Close the address' }).click();
      await expect(student.getByText('The address is closed')).toBeVisible();
      expect((await teacher.request.get(address)).status()).toBe(404);
    });

    test('7 what is kept is readable without a connection, until it is taken back; nothing stays after signing out', async () => {
      await visit(student, `/folder/${unit}`);
      await student.getByRole('button', { name: `Keep ${UNIT} at hand` }).click();
      await goTo(student, 'Kept');
      expect((await left(student)).caches).toEqual([]);
      await student.getByRole('switch', { name: 'Readable without a connection' }).click();
      await expect(row(student, UNIT)).toContainText(/stored here \w{3} \d+ \w{3}, \d\d:\d\d/u);
      await expectAccessible(student);
      // The application itself is there once its worker has settled in.
      await student.evaluate(() => navigator.serviceWorker.ready);

      await context.setOffline(true);
      await visit(student, '/');
      await expect(student.getByText(/^No connection. This is how things were on/u)).toBeVisible();
      await expectAccessible(student);
      await expect(student.getByRole('button', { name: /Actions for/u })).toBeHidden();
      await row(student, UNIT).getByRole('link').click();
      await expect(row(student, `Frogs ${device}`)).toBeVisible();
      // Nothing is offered that would need a connection.
      await expect(student.getByRole('link', { name: /Download/u })).toBeHidden();
      await expect(student.getByRole('button', { name: 'Take a copy' })).toBeHidden();
      await row(student, `Reeds ${device}`).locator('[data-row]').click();
      await expect(student.locator('.textLayer').first()).toContainText(
        'Reeds stand in still water.',
      );
      await student.goBack();
      await row(student, `Frogs ${device}`).locator('[data-row]').click();
      await expect(student.getByText(`Eleven frogs, ${device}.`)).toBeVisible();
      await expect(student.getByText(/^No connection. This is how things were on/u)).toBeVisible();
      await visit(student, '/new');
      await expect(student.getByText('The server cannot be reached.').first()).toBeVisible();
      await expect(student.getByText('No connection. What you keep can be read')).toBeVisible();
      await student.goBack();
      await expect(student.getByText(`Eleven frogs, ${device}.`)).toBeVisible();

      // In the other language it says the same.
      const speak = async (language: string) => {
        await student.evaluate((tag) => (document.cookie = `language=${tag}; Path=/`), language);
        await student.reload();
      };
      await speak('de');
      await expect(student.getByText(/^Keine Verbindung/u)).toBeVisible();
      await expectAccessible(student);
      await speak('en');
      await expect(student.getByText(/^No connection/u)).toBeVisible();

      // What was opened meanwhile is told of when there is a connection again.
      await context.setOffline(false);
      await expect
        .poll(async () => {
          const { items } = await api(student, 'GET /api/folders/:folder/contents', {
            params: { folder: unit },
          });
          return items.map(({ opened }) => opened);
        })
        .toEqual([true, true]);
      await context.setOffline(true);

      // Taken away while it is read without a connection: it goes when there is one again.
      await api(teacher, 'POST /api/grants/take-back', { body: { grants: [grant] } });
      await context.setOffline(false);
      await expect(student.getByText('This is not handed out to you')).toBeVisible();
      await expect(student.getByText(/^No connection/u)).toBeHidden();
      await expect(async () => {
        const kept = await student.evaluate(async () =>
          (await (await caches.open('kept')).keys()).map(({ url }) => new URL(url).pathname),
        );
        expect(kept.sort()).toEqual(['/api/kept', '/api/session', '/on-this-device']);
      }).toPass({ timeout: 20_000 });
      await api(teacher, 'POST /api/grants/restore', { body: { grants: [grant] } });
      await visit(student, '/kept');
      await expect(row(student, UNIT)).toContainText('stored here');

      await student.getByRole('button', { name: /^Signed in as/u }).click();
      await student.getByRole('button', { name: 'Sign out' }).click();
      await expect(student.getByRole('heading', { name: 'Sign in' })).toBeVisible();
      expect(await left(student)).toEqual({
        caches: [],
        workers: 0,
        databases: 0,
        stored: [],
        // Nobody’s secret.
        cookies: 'language=en',
      });
      await context.setOffline(true);
      await expect(student.goto(`/folder/${unit}`)).rejects.toThrow('ERR_INTERNET_DISCONNECTED');
      await context.setOffline(false);
    });
  });
