import { expect, test, type Page } from '@playwright/test';
import {
  addFiles,
  audience,
  expectAccessible,
  goTo,
  makeFolder,
  openAs,
  openLetter,
  pick,
  row,
  textFile,
  visit,
} from './steps.ts';

/** Handing out, timing, the board, why and seeing as somebody else. The steps build on each other. */
test.describe.configure({ mode: 'serial' });

let teacher: Page;
let folder = '';
test.beforeAll(async ({ browser }) => {
  teacher = await openAs(browser, 'teacher');
});
test.afterAll(async () => {
  await teacher.context().close();
});
const sheet = () => teacher.getByRole('dialog');
const question = () => teacher.getByRole('dialog', { name: 'Please read this first' });
const panel = () => teacher.getByRole('complementary', { name: 'Who sees this folder' });

test('to several audiences at once, with a note that reaches each by mail, with their link', async ({
  browser,
}) => {
  await goTo(teacher, 'Library');
  await makeFolder(teacher, 'Pruning week');
  folder = teacher.url();
  await addFiles(teacher, [
    textFile('Quiz on pruning.txt', 'Which bud?'),
    textFile('Quiz on pruning, worked.txt', 'The third bud.'),
  ]);
  await expect(row(teacher, 'Quiz on pruning, worked')).toBeVisible();
  await teacher.getByRole('button', { name: 'Hand out to others …' }).click();
  await sheet().getByRole('checkbox', { name: /SO1B/u }).check();
  await sheet().getByRole('checkbox', { name: /PR2A/u }).check();
  await expect(sheet().getByText('SO1B: 22 students will see 2 items.')).toBeVisible();
  await sheet().getByPlaceholder('Find a class, a course or a person').fill('levisohn');
  await sheet()
    .getByRole('checkbox', { name: /Mateus Levisohn/u })
    .check();
  await sheet().getByRole('button', { name: 'Add a cover note' }).click();
  await sheet().getByLabel('Cover note').fill('Please do the quiz before Thursday.');
  await expectAccessible(teacher);
  await sheet().getByRole('button', { name: 'Hand out', exact: true }).click();
  await expect(teacher.getByText(/The note is on its way to 42 people/u)).toBeVisible();
  await expect(audience(teacher, 'PR2A')).toBeChecked();

  const student = await openAs(browser, 'studentElsewhere');
  await openLetter(student, 'Mateus Levisohn', 'Pruning week');
  await expect(student.getByText('Please do the quiz before Thursday.')).toBeVisible();
  await student.getByRole('link', { name: /\/folder\//u }).click();
  await expect(student.getByRole('heading', { level: 1, name: 'Pruning week' })).toBeVisible();
  await student.context().close();
});

test('a key is held back, then let out for one class alone, and a date says when for all', async ({
  browser,
}) => {
  await pick(teacher, 'Quiz on pruning, worked', 'Timing …');
  await sheet().getByRole('radio', { name: 'Held back' }).first().check();
  await expectAccessible(teacher);
  await sheet().getByRole('button', { name: 'Save' }).click();
  // Taken from a class: asked first.
  await question().getByRole('button', { name: 'Save' }).click();
  await expect(teacher.getByText(/New timing for .*worked/u)).toBeVisible();
  await expect(row(teacher, 'Quiz on pruning, worked')).toContainText('Held back');

  await teacher.getByRole('button', { name: /Release Quiz on pruning, worked/u }).click();
  await teacher.getByRole('menuitem', { name: /Only for\s+SO1B/u }).click();
  await expect(teacher.getByText(/is out for SO1B/u)).toBeVisible();
  const [a, b] = [await openAs(browser, 'studentA'), await openAs(browser, 'studentB')];
  await visit(b, folder);
  await expect(b.getByText('Quiz on pruning, worked')).toBeVisible();
  await visit(a, folder);
  await expect(a.getByRole('link', { name: /Quiz on pruning/u }).first()).toBeVisible();
  await expect(a.getByText('Quiz on pruning, worked')).toHaveCount(0);
  await Promise.all([a.context().close(), b.context().close()]);

  await panel().getByRole('button', { name: 'Timing …' }).click();
  await sheet().getByRole('radio', { name: 'At set times' }).first().check();
  await sheet().getByLabel('Goes out').fill('2099-12-07T08:00');
  await sheet().getByLabel('Ends').fill('2099-12-01T08:00');
  await expect(sheet().getByText('The end must come after the start.')).toBeVisible();
  await sheet().getByLabel('Ends').fill('');
  await expect(sheet().getByText(/SO1B: 22 students will no longer see 2 items/u)).toBeVisible();
  await sheet().getByRole('button', { name: 'Save' }).click();
  await question().getByRole('button', { name: 'Save' }).click();
  await expect(panel().getByText(/Goes out Mon 7 Dec, 08:00/u)).toBeVisible();
  await teacher.keyboard.press('Control+z');
  await expect(panel().getByText('Out now', { exact: true })).toBeVisible();

  const terms = panel()
    .getByRole('listitem')
    .filter({ has: audience(teacher, 'SO1B') });
  await terms.getByRole('button', { name: 'handed out here' }).click();
  await terms.getByLabel('From').fill('2099-01-01T08:00');
  await expect(terms.getByText(/SO1B: 22 students will no longer see 2 items/u)).toBeVisible();
  await expectAccessible(teacher);
  await terms.getByRole('button', { name: 'Save' }).click();
  await question().getByRole('button', { name: 'Save' }).click();
  await expect(terms.getByRole('button', { name: /from Thu 1 Jan/u })).toBeVisible();
  await teacher.keyboard.press('Control+z');
  await expect(terms.getByRole('button', { name: 'handed out here' })).toBeVisible();
});

test('colleagues add to a folder of the staff room, and take away only what is theirs', async ({
  browser,
}) => {
  await panel().getByRole('button', { name: 'Hand out to others …' }).click();
  await sheet().getByRole('checkbox', { name: /Staff/u }).check();
  await sheet().getByRole('radio', { name: /Add/u }).check();
  await sheet().getByRole('button', { name: 'Hand out', exact: true }).click();
  await expect(audience(teacher, 'Staff')).toBeChecked();
  const colleague = await openAs(browser, 'otherTeacher');
  await goTo(colleague, 'Library');
  await colleague.getByRole('link', { name: 'Staff room' }).click();
  await expectAccessible(colleague);
  await colleague.getByRole('link', { name: /Pruning week/u }).click();
  await addFiles(colleague, [textFile('From Tomasz.txt', 'My page')]);
  await expect(row(colleague, 'From Tomasz')).toBeVisible();
  await pick(colleague, 'Quiz on pruning', 'Remove from here');
  await expect(colleague.getByText('You can look at this, but not change it.')).toBeVisible();
  await pick(colleague, 'From Tomasz', 'Remove from here');
  await expect(colleague.getByText(/From Tomasz is in the Bin/u)).toBeVisible();
  await colleague.context().close();
});

test('the board: walked by keyboard, a square says what it does, does it, and Undo', async () => {
  await goTo(teacher, 'Who sees what');
  const square = (words: string) => teacher.getByRole('button', { name: words });
  // Other journeys make folders of this teacher's meanwhile, and rows are drawn when they are near.
  await teacher
    .getByRole('grid')
    .getByRole('button', { name: /, SO1B:/u })
    .first()
    .focus();
  await expect(async () => {
    for (let n = 0; n < 8; n += 1) await teacher.keyboard.press('ArrowDown');
    await expect(square('Pruning week, SO1B: handed out here')).toBeVisible({ timeout: 500 });
  }).toPass();
  await expectAccessible(teacher);
  await square('Pruning week, SO1B: handed out here').focus();
  await teacher.keyboard.press('ArrowLeft');
  await expect(square('Pruning week, SO1A: not handed out')).toBeFocused();
  await teacher.keyboard.press('Enter');
  await expect(sheet()).toContainText('Hand out “Pruning week” to SO1A?');
  await expect(sheet().getByText(/SO1A: 1\d students will see 1 item/u)).toBeVisible();
  await expectAccessible(teacher);
  await teacher.keyboard.press('Escape');
  await expect(square('Pruning week, SO1A: not handed out')).toBeFocused();
  await teacher.keyboard.press('Enter');
  await sheet().getByRole('button', { name: 'Hand out', exact: true }).click();
  await expect(square('Pruning week, SO1A: handed out here')).toBeVisible();
  await teacher.keyboard.press('Control+z');
  await expect(square('Pruning week, SO1A: not handed out')).toBeVisible();

  await teacher.getByLabel('As of').fill('2098-01-05T08:00');
  await teacher.getByLabel('As of').blur();
  await expect(teacher.getByText(/As it will be on/u)).toBeVisible();
  // The rows at the top are drawn when they are near.
  await square('Pruning week, SO1A: not handed out').focus();
  await teacher.keyboard.press('Control+Home');
  await expect(square('Answer keys, SO1A: sees it through a folder above')).toBeVisible();
  await teacher.getByRole('button', { name: 'Back to now' }).click();
  await expect(teacher.getByText(/as of now/u)).toBeVisible();
  await teacher.getByRole('button', { name: 'Only school and public' }).click();
  await expect(teacher.getByRole('link', { name: 'Field guides' })).toBeVisible();
  await expect(teacher.getByRole('link', { name: 'Pruning week' })).toHaveCount(0);
});

test('why, and the screens of somebody else: framed, at another time, and only to look at', async () => {
  await visit(teacher, folder);
  await pick(teacher, 'Quiz on pruning, worked', 'Who sees it, and why …');
  await sheet().getByRole('button', { name: /PR2A/u }).click();
  await expect(sheet().getByText('PR2A does not see it.')).toBeVisible();
  await expect(sheet()).toContainText('which is handed out to PR2A');
  await expect(sheet()).toContainText('It is held back.');
  await expectAccessible(teacher);
  await sheet().getByRole('button', { name: 'Choose someone else' }).click();
  await sheet().getByPlaceholder('Find a class or a person').fill('raghavane');
  await sheet()
    .getByRole('button', { name: /Priya Raghavane/u })
    .click();
  await expect(sheet().getByText('Priya Raghavane sees it.')).toBeVisible();
  await sheet().getByRole('link', { name: 'See it as …' }).click();
  await expect(
    teacher.getByText('You are seeing your library as Priya Raghavane does'),
  ).toBeVisible();
  await expect(teacher.getByRole('link', { name: /Quiz on pruning, worked/u })).toBeVisible();
  await expectAccessible(teacher);
  await teacher.getByRole('link', { name: /Quiz on pruning, worked/u }).click();
  await expect(teacher.getByText('The third bud.')).toBeVisible();
  await teacher.getByRole('button', { name: 'Choose someone else' }).click();
  await teacher.getByRole('button', { name: 'a visitor' }).click();
  await expect(teacher.getByRole('heading', { name: 'Open to all' })).toBeVisible();
  await teacher.getByRole('link', { name: 'Field guides' }).click();
  await expect(teacher.getByRole('heading', { level: 1, name: 'Field guides' })).toBeVisible();
  await teacher.getByRole('link', { name: 'Leave' }).click();
  await expect(teacher.getByRole('heading', { level: 1, name: 'Library' })).toBeVisible();
});
