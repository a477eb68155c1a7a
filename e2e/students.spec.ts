import { expect, test, type Page } from '@playwright/test';
import { makePdf } from '../demo/src/files/pdf.ts';
import { DEVICES } from './devices.ts';
import {
  addFiles,
  api,
  expectAccessible,
  goTo,
  openAs,
  pick,
  row,
  textFile,
  visit,
} from './steps.ts';

const pdf = (title: string, text: string) =>
  makePdf({
    title,
    course: 'Soil Science I',
    code: 'SO1',
    colour: '#2f6f4f',
    blocks: [{ text }, { newPage: true }, { text: 'The second page speaks of earthworms.' }],
  });

/** What a student does, on a laptop, a tablet and a phone. Steps of one device build on each other. */
for (const [device, options] of Object.entries(DEVICES))
  test.describe(`on a ${device}`, () => {
    test.describe.configure({ mode: 'serial' });
    const UNIT = `Worms, ${device}`;
    let teacher: Page;
    let student: Page;
    let unit = '';
    let classId = '';
    let grant = '';

    const handOut = async () => {
      const { made } = await api(teacher, 'POST /api/grants', {
        body: {
          things: [{ kind: 'folder', id: unit }],
          audiences: [{ kind: 'class', id: classId }],
        },
      });
      grant = made[0]!;
    };
    const takeBack = () =>
      api(teacher, 'POST /api/grants/take-back', { body: { grants: [grant] } });
    const restore = () => api(teacher, 'POST /api/grants/restore', { body: { grants: [grant] } });
    const addLink = (title: string) =>
      api(teacher, 'POST /api/links', {
        body: {
          folderId: unit,
          title,
          url: 'https://worms.example/',
        },
      });

    test.beforeAll(async ({ browser }) => {
      teacher = await openAs(browser, 'teacher');
      student = await openAs(browser, 'studentA', options);
      const { classes } = await api(student, 'GET /api/classes');
      classId = classes.find((c) => c.code === 'SO1A')!.id;
      const made = await api(teacher, 'POST /api/folders', {
        body: {
          parentId: null,
          title: UNIT,
        },
      });
      unit = made.id;
      await visit(teacher, `/folder/${unit}`);
      // One after the other: the order by hand is that in which they arrived.
      for (const file of [
        {
          name: `Burrows ${device}.pdf`,
          mimeType: 'application/pdf',
          buffer: await pdf(`Burrows ${device}`, 'How deep do they dig?'),
        },
        textFile(`Castings ${device}.txt`, `Count them, ${device}.`),
      ]) {
        await addFiles(teacher, [file]);
        await expect(teacher.getByText(`1 file added to ${UNIT}.`)).toBeVisible();
        await teacher.getByRole('button', { name: 'Close', exact: true }).click();
      }
    });
    test.afterAll(async () => {
      await teacher.context().close();
      await student.context().close();
    });

    test('1 what is handed out comes in under New by itself, by class, and is read on opening', async () => {
      await goTo(student, 'New');
      await expect(student.getByRole('heading', { level: 1 })).toBeVisible();
      await handOut();
      const burrows = row(student, `Burrows ${device}`);
      await expect(burrows).toContainText('SO1A');
      await expect(burrows).toContainText('New');
      await student.getByRole('button', { name: /^PR2A/u }).click();
      await expect(burrows).toBeHidden();
      await student.getByRole('button', { name: /^SO1A/u }).click();
      await expect(burrows).toBeVisible();
      await expectAccessible(student);
      await burrows.locator('[data-row]').click();
      await expect(student.getByRole('heading', { level: 1 })).toHaveText(`Burrows ${device}`);
      await student.goBack();
      await expect(burrows).toBeVisible();
      await expect(burrows.getByText('New', { exact: true })).toBeHidden();

      const castings = row(student, `Castings ${device}`);
      await expect(castings.getByText('New', { exact: true })).toBeAttached();
      await student.getByRole('button', { name: 'Clear all marks' }).click();
      await expect(castings.getByText('New', { exact: true })).toBeHidden();
      await student
        .getByRole('status')
        .filter({ hasText: 'cleared' })
        .getByRole('button', { name: 'Undo' })
        .click();
      await expect(castings.getByText('New', { exact: true })).toBeAttached();
      await goTo(student, 'My classes');
      await expect(student.getByRole('heading', { level: 1, name: 'My classes' })).toBeVisible();
      await expect(student.getByRole('link', { name: UNIT })).toBeVisible();
      await expectAccessible(student);
    });

    test('2 an open page follows: added, renamed, released, taken back, without moving what is read', async () => {
      await visit(student, `/folder/${unit}`);
      await expect(row(student, `Burrows ${device}`)).toBeVisible();
      const { id } = await addLink(`Worm map ${device}`);
      await expect(row(student, `Worm map ${device}`)).toBeVisible();
      await api(teacher, 'PATCH /api/placements/:placement', {
        params: { placement: id },
        body: { title: `Worm atlas ${device}` },
      });
      await expect(row(student, `Worm atlas ${device}`)).toBeVisible();
      const release = (held: boolean) =>
        api(teacher, 'POST /api/releases', {
          body: {
            things: [{ kind: 'placement', id }],
            rules: [{ classId: null, release: { held, from: null, until: null } }],
          },
        });
      await release(true);
      await expect(row(student, `Worm atlas ${device}`)).toBeHidden();
      await release(false);
      await expect(row(student, `Worm atlas ${device}`)).toBeVisible();

      // Many more above what is read: it stays where it is.
      for (let n = 1; n <= 14; n += 1) await addLink(`Reading ${n} ${device}`);
      const last = row(student, `Reading 14 ${device}`);
      await last.scrollIntoViewIfNeeded();
      await last.getByRole('link').focus();
      const before = (await last.boundingBox())!.y;
      const { id: top } = await addLink(`Above all ${device}`);
      await api(teacher, 'PATCH /api/placements/:placement', {
        params: { placement: top },
        body: { keepOnTop: true },
      });
      await expect(row(student, `Above all ${device}`)).toBeAttached();
      await expect(async () => {
        expect(Math.abs((await last.boundingBox())!.y - before)).toBeLessThan(3);
      }).toPass();

      await takeBack();
      await expect(student.getByText('This is not handed out to you')).toBeVisible();
      await restore();
      await expect(student.getByRole('heading', { level: 1, name: UNIT })).toBeVisible();

      // So many at once are folded under New; what was folded takes the focus.
      await goTo(student, 'New');
      await student
        .getByRole('button', { name: new RegExp(`more in ${UNIT}`, 'u') })
        .first()
        .click();
      await expect(student.locator('#main a[data-row]:focus')).toContainText(UNIT);
    });

    test('3 reading: tiles, an order of one’s own, a PDF with search, sizes and pages, the next one by hand', async () => {
      await visit(student, `/folder/${unit}`);
      await student.getByRole('combobox', { name: 'Order' }).selectOption({ label: 'A to Z' });
      await student.getByRole('button', { name: 'Show as tiles' }).click();
      await expect(student.locator('#main ul').last().locator('li').nth(1)).toContainText(
        `Burrows ${device}`,
      );
      await expectAccessible(student);
      await student.getByRole('link', { name: `Burrows ${device}` }).click();
      await expect(student.locator('.textLayer').first()).toContainText('How deep do they dig?');
      await student.getByRole('button', { name: 'Find in this PDF' }).click();
      await student.getByRole('searchbox', { name: 'Words in this PDF' }).fill('earthworms');
      await expect(student.getByText('1 of 1')).toBeVisible();
      await expect(student.getByRole('textbox', { name: 'Page' })).toHaveValue('2');
      await student.getByRole('button', { name: 'Larger' }).click();
      await student.getByRole('button', { name: 'Fit the width' }).click();
      await student.getByRole('button', { name: 'Page previews' }).click();
      await student.getByRole('button', { name: 'Page 1', exact: true }).click();
      await expect(student.getByRole('textbox', { name: 'Page' })).toHaveValue('1');
      await expectAccessible(student);
      await student.getByRole('button', { name: 'Close' }).click();
      await student.getByRole('button', { name: 'Page previews' }).click();

      // The address of what is read opens it again for whoever has it.
      const address = student.url();
      await expect
        .poll(() =>
          student
            .getByRole('region', { name: 'The text' })
            .evaluate((text) => text.scrollWidth - text.clientWidth),
        )
        .toBe(0);
      await expect(
        student.getByRole('link', { name: `Next: Castings ${device}` }).filter({ visible: true }),
      ).toBeVisible();
      if (options.hasTouch) await swipeLeft(student);
      else await student.keyboard.press('ArrowRight');
      await expect(student.getByRole('heading', { level: 1 })).toHaveText(`Castings ${device}`);
      await expect(student.getByText(`Count them, ${device}.`)).toBeVisible();
      await visit(student, address);
      await expect(student.getByRole('heading', { level: 1 })).toHaveText(`Burrows ${device}`);

      // A newer version waits until it is wanted.
      await expect(student.locator('.textLayer').first()).toContainText('How deep do they dig?');
      await visit(teacher, `/folder/${unit}`);
      await addFiles(teacher, [
        {
          name: `Burrows ${device}.pdf`,
          mimeType: 'application/pdf',
          buffer: await pdf(`Burrows ${device}`, 'How far do they dig?'),
        },
      ]);
      await expect(student.getByText('There is a newer version.')).toBeVisible();
      await expect(student.locator('.textLayer').first()).toContainText('How deep do they dig?');
      await student.getByRole('button', { name: 'Show it' }).click();
      await expect(student.locator('.textLayer').first()).toContainText('How far do they dig?');
    });

    test('4 kept at hand, in an order of one’s own; what is taken back shows so and can be let go', async () => {
      await visit(student, `/folder/${unit}`);
      await student.getByRole('button', { name: `Keep ${UNIT} at hand` }).click();
      await row(student, `Castings ${device}`).locator('[data-row]').click();
      await student
        .getByRole('button', { name: `Keep Castings ${device} at hand` })
        .filter({ visible: true })
        .click();
      await expect(
        student
          .getByRole('button', { name: `Remove Castings ${device} from Kept` })
          .filter({ visible: true }),
      ).toBeVisible();
      await visit(student, '/kept');
      const titles = student.locator('main ol li');
      await expect(titles.first()).toContainText(`Castings ${device}`);
      await pick(student, `Castings ${device}`, 'Move down');
      await expect(titles.first()).toContainText(UNIT);
      await student.reload();
      await expect(titles.first()).toContainText(UNIT);
      await expectAccessible(student);
      await takeBack();
      await expect(titles.first()).toContainText('not handed out to you any more');
      await expectAccessible(student);
      await titles.first().getByRole('button', { name: 'Remove from Kept' }).click();
      await expect(student.getByText(UNIT, { exact: true })).toBeHidden();
      await restore();
      await expect(row(student, `Castings ${device}`)).toBeVisible();
      await pick(student, `Castings ${device}`, 'Remove from Kept');
      await expect(student.getByText(`Castings ${device} is no longer in Kept`)).toBeVisible();
    });

    test('5 a copy on the desk is one’s own: renamed, moved, replaced, renewed, deleted', async () => {
      await visit(student, `/folder/${unit}`);
      await student.getByRole('button', { name: 'Choose', exact: true }).click();
      for (const title of ['Burrows', 'Castings'])
        await student.getByRole('checkbox', { name: `Choose ${title} ${device}` }).check();
      await student.getByRole('button', { name: 'Take a copy' }).click();
      await expect(student.getByText('2 copies are on your desk now')).toBeVisible();
      await goTo(student, 'My desk');
      await expect(row(student, `Burrows ${device}`)).toContainText('from Ilse Vandermoor');
      await expectAccessible(student);

      await pick(student, `Castings ${device}`, 'Rename');
      await student.getByRole('textbox', { name: 'Rename' }).fill(`My castings ${device}`);
      await student.keyboard.press('Enter');
      await expect(row(student, `My castings ${device}`)).toBeVisible();
      await student.getByRole('button', { name: 'New folder' }).click();
      await student.getByRole('textbox', { name: 'New folder' }).fill(`Work ${device}`);
      await student.keyboard.press('Enter');
      await expect(row(student, `Work ${device}`)).toBeVisible();
      await pick(student, `My castings ${device}`, 'Move …');
      await student.getByRole('option', { name: `Work ${device}` }).click();
      await expect(student.getByText(`is now in Work ${device}`)).toBeVisible();
      await row(student, `Work ${device}`).locator('[data-row]').click();
      await expect(row(student, `My castings ${device}`)).toBeVisible();

      const chooser = student.waitForEvent('filechooser');
      await pick(student, `My castings ${device}`, 'Replace with a file …');
      await (await chooser).setFiles(textFile('Something else.txt', `Thirty-one, ${device}.`));
      await expect(row(student, `My castings ${device}`)).toContainText('version 2');
      await row(student, `My castings ${device}`).locator('[data-row]').click();
      await expect(student.getByText(`Thirty-one, ${device}.`)).toBeVisible();
      await student.goBack();

      await visit(teacher, `/folder/${unit}`);
      await addFiles(teacher, [textFile(`Castings ${device}.txt`, `Count again, ${device}.`)]);
      await expect(teacher.getByText('is now version 2')).toBeVisible();
      await student.reload();
      await expect(row(student, `My castings ${device}`)).toContainText('The original has changed');
      await student.getByRole('button', { name: 'Update my copy' }).click();
      await expect(row(student, `My castings ${device}`)).toContainText('version 3');
      await pick(student, `My castings ${device}`, 'Earlier versions');
      await expect(student.getByText('Version 2')).toBeVisible();
      await student.getByRole('button', { name: 'Close', exact: true }).last().click();

      await pick(student, `My castings ${device}`, 'Remove');
      await expect(student.getByText('This folder is empty.')).toBeVisible();
      await student
        .getByRole('status')
        .filter({ hasText: 'removed' })
        .getByRole('button', { name: 'Undo' })
        .click();
      await expect(row(student, `My castings ${device}`)).toBeVisible();
      // The master is as the teacher has it.
      await visit(student, `/folder/${unit}`);
      await expect(row(student, `Castings ${device}`)).toContainText('version 2');
    });
  });

/** A finger from right to left across the middle of the screen. */
async function swipeLeft(page: Page) {
  const { width, height } = page.viewportSize()!;
  const session = await page.context().newCDPSession(page);
  const touch = (type: 'touchStart' | 'touchMove' | 'touchEnd', x: number) =>
    session.send('Input.dispatchTouchEvent', {
      type,
      touchPoints: type === 'touchEnd' ? [] : [{ x, y: height / 2 }],
    });
  await touch('touchStart', width * 0.85);
  for (let step = 1; step <= 8; step += 1) await touch('touchMove', width * (0.85 - step * 0.08));
  await touch('touchEnd', width * 0.2);
  await session.detach();
}

test('New, reading and the desk by keyboard alone', async ({ browser }) => {
  const student = await openAs(browser, 'studentA');
  const { keyboard } = student;
  const focused = student.locator(':focus');
  /** Tab until what has the focus is called so. */
  const tabTo = async (name: RegExp) => {
    for (let n = 0; n < 120; n += 1) {
      await keyboard.press('Tab');
      // At the end of the page the focus leaves it for a moment, and comes back at the beginning.
      const called = await student.evaluate(
        () =>
          document.activeElement?.getAttribute('aria-label') ??
          (document.activeElement === document.body ? '' : document.activeElement?.textContent) ??
          '',
      );
      if (name.test(called)) return;
    }
    throw new Error(`nothing called ${name} was reached`);
  };
  await expect(student.getByRole('heading', { level: 1 })).toBeVisible();
  await tabTo(/^PR2A/u);
  await keyboard.press('Enter');
  await expect(focused).toHaveAttribute('aria-pressed', 'true');
  // What came by other classes goes, and with it would the focus.
  await expect(student.locator('[data-row]').filter({ hasText: /^\s*(SO1|OR3)/u })).toHaveCount(0);
  await tabTo(/^PR2A.*(New|Root|PDF|WEB)/u);
  for (let n = 0; n < 120; n += 1) {
    if (/step by step/u.test((await focused.textContent()) ?? '')) break;
    await keyboard.press('ArrowDown');
  }
  await expect(focused).toContainText('step by step');
  await keyboard.press('Enter');
  await expect(student.getByRole('heading', { level: 1 })).toHaveText(
    'Root cuttings, step by step',
  );

  await expect(student.locator('.textLayer').first()).toBeVisible();
  await keyboard.press('Control+f');
  await keyboard.type('root');
  await expect(student.getByRole('status').filter({ hasText: /^1 of \d+$/u })).toBeVisible();
  await keyboard.press('Enter');
  await expect(student.getByRole('status').filter({ hasText: /^2 of \d+$/u })).toBeVisible();
  await keyboard.press('Escape');
  await expect(focused).toHaveAttribute('role', 'region');
  await keyboard.press('Shift+Tab');
  await keyboard.press('Escape');
  await expect(student.getByRole('heading', { level: 1, name: 'Root cuttings' })).toBeVisible();

  await tabTo(/^Choose$/u);
  await keyboard.press('Enter');
  await tabTo(/Choose Root cuttings on the bench/u);
  await keyboard.press('Space');
  await keyboard.press('Shift+Tab');
  await student.getByRole('button', { name: 'Take a copy' }).focus();
  await keyboard.press('Enter');
  await expect(student.getByText('A copy is on your desk now')).toBeVisible();
  await student.getByRole('link', { name: 'My desk' }).focus();
  await keyboard.press('Enter');
  await expect(student.getByRole('heading', { level: 1, name: 'My desk' })).toBeVisible();
  const copy = student.locator('#main [data-row]').filter({ hasText: 'on the bench' }).first();
  await copy.focus();
  await keyboard.press('F2');
  await keyboard.press('Control+a');
  await keyboard.type('My bench');
  await keyboard.press('Enter');
  const mine = student.locator('#main [data-row]').filter({ hasText: 'My bench' });
  await expect(mine).toBeVisible();
  await mine.focus();
  await keyboard.press('Delete');
  await expect(mine).toBeHidden();
  await keyboard.press('Control+z');
  await expect(mine).toBeVisible();
  await student.context().close();
});
