import { expect, test, type Locator, type Page } from '@playwright/test';
import {
  addFiles,
  audience,
  dropFiles,
  expectAccessible,
  makeFolder,
  openAs,
  row,
  textFile,
  visit,
} from './steps.ts';

/** Building the library: structure, order, several places, the Bin. Each test has folders of its own. */
let page: Page;
test.beforeEach(async ({ browser }) => {
  page = await openAs(browser, 'teacher');
});
test.afterEach(() => page.context().close());

const titles = (of: Page) =>
  of.locator('#main [data-at] [data-row] .font-semibold').allTextContents();
const inTree = (title: string) => page.getByRole('treeitem', { name: title, exact: true });
const choice = (title: string) =>
  page.getByRole('checkbox', { name: `Choose ${title}`, exact: true });
const menu = async (title: string, action: string | RegExp) => {
  await row(page, title).hover();
  await row(page, title)
    .getByRole('button', { name: /Actions for/u })
    .click();
  await page.getByRole('menuitem', { name: action }).click();
};
const way = () => page.getByRole('navigation', { name: 'Folders above this one' });
const said = (text: string | RegExp) => page.getByText(text).first();

/** Waits until the list has been brought up to date after a change. */
const atRest = () => expect(page.locator('[data-sheet]')).toHaveAttribute('aria-busy', 'false');

/** Drags with the mouse, by real events, from one element onto a point of another one. */
async function drag(from: Locator, to: Locator, share = 0.5) {
  const boxes = async () => [await from.boundingBox(), await to.boundingBox()];
  await atRest();
  // Both are there, and where they were at the last look.
  let last = '';
  const settled = async () => {
    await to.scrollIntoViewIfNeeded();
    await from.scrollIntoViewIfNeeded();
    const [before, now] = [last, await boxes()];
    last = JSON.stringify(now);
    return last === before && !now.includes(null);
  };
  await expect.poll(settled, { intervals: [150] }).toBe(true);
  const [a, b] = await boxes();
  await page.mouse.move(a!.x + Math.min(30, a!.width / 2), a!.y + a!.height / 2);
  await page.mouse.down();
  const [x, y] = [b!.x + Math.min(60, b!.width / 2), b!.y + b!.height * share];
  for (let step = 1; step <= 6; step += 1)
    await page.mouse.move(a!.x + ((x - a!.x) * step) / 6, a!.y + ((y - a!.y) * step) / 6);
  await page.mouse.move(x, y);
  await page.mouse.move(x + 1, y);
  await page.mouse.up();
}

test('things are dragged onto a row, the tree and the way up, and put back by Undo', async () => {
  await makeFolder(page, 'Drag here');
  for (const name of ['Unit A', 'Unit B']) {
    await makeFolder(page, name);
    await way().getByRole('link', { name: 'Drag here' }).click();
  }
  await addFiles(page, [textFile('One.txt', 'drag one'), textFile('Two.txt', 'drag two')]);
  await expect(row(page, 'Two')).toBeVisible();
  await page.getByRole('button', { name: 'Close' }).click();

  await drag(row(page, 'One').locator('[data-row]'), row(page, 'Unit A'));
  await expect(said('One is now in Unit A.')).toBeVisible();
  await drag(row(page, 'Two').locator('[data-row]'), inTree('Unit B'));
  await expect(said('Two is now in Unit B.')).toBeVisible();
  await drag(row(page, 'Unit B').locator('[data-row]'), row(page, 'Unit A'));
  await expect(said('Unit B is now in Unit A.')).toBeVisible();
  await expect.poll(() => titles(page)).toEqual(['Unit A']);

  await page.keyboard.press('Control+z');
  await expect.poll(() => titles(page)).toEqual(['Unit A', 'Unit B']);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect
    .poll(async () => (await titles(page)).sort())
    .toEqual(['One', 'Two', 'Unit A', 'Unit B']);

  await row(page, 'Unit A').getByRole('link').click();
  await addFiles(page, [textFile('Three.txt', 'drag three')]);
  await drag(
    row(page, 'Three').locator('[data-row]'),
    way().getByRole('link', { name: 'Drag here' }),
  );
  await expect(said('Three is now in Drag here.')).toBeVisible();
});

test('several are chosen with Ctrl, Shift and a lasso, and moved, with the consequence said', async () => {
  await makeFolder(page, 'Choose among');
  await makeFolder(page, 'For the class');
  await audience(page, 'PR2A').click();
  await expect(audience(page, 'PR2A')).toBeChecked();
  await way().getByRole('link', { name: 'Choose among' }).click();
  await addFiles(
    page,
    ['a', 'b', 'c', 'd', 'e'].map((n) => textFile(`${n} sheet.txt`, `choose ${n}`)),
  );
  await expect(row(page, 'e sheet')).toBeVisible();
  await page.getByRole('button', { name: 'Close' }).click();
  await page.getByLabel('Order').selectOption('A to Z');
  await expect
    .poll(() => titles(page))
    .toEqual(['For the class', 'a sheet', 'b sheet', 'c sheet', 'd sheet', 'e sheet']);

  await row(page, 'b sheet')
    .getByRole('link')
    .click({ modifiers: ['Control'] });
  await row(page, 'd sheet')
    .getByRole('link')
    .click({ modifiers: ['Shift'] });
  await expect(page.getByRole('group', { name: '3 chosen' })).toBeVisible();
  await row(page, 'c sheet')
    .getByRole('link')
    .click({ modifiers: ['Control'] });
  await expect(page.getByRole('group', { name: '2 chosen' })).toBeVisible();
  await page.getByRole('button', { name: 'Choose none' }).click();

  // From the empty part of a row to another one.
  const [first, last] = [
    await row(page, 'a sheet').boundingBox(),
    await row(page, 'c sheet').boundingBox(),
  ];
  await page.mouse.move(first!.x + first!.width * 0.6, first!.y + 20);
  await page.mouse.down();
  await page.mouse.move(last!.x + last!.width * 0.5, last!.y + 10, { steps: 5 });
  await page.mouse.up();
  await expect(page.getByRole('group', { name: '3 chosen' })).toBeVisible();
  await expectAccessible(page);

  await page.getByRole('button', { name: 'Move …' }).click();
  await page.getByLabel('Which folder?').fill('for the class');
  await page.keyboard.press('Enter');
  await expect(page.getByText('PR2A: 19 students will see 3 items.')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Move to For the class' }).click();
  await expect(
    said('3 things are now in For the class. PR2A: 19 students will see 3 items.'),
  ).toBeVisible();
  await expect.poll(() => titles(page)).toEqual(['For the class', 'd sheet', 'e sheet']);
});

test('a move out of a class’s sight asks first, and no leaves everything', async () => {
  await makeFolder(page, 'Seen');
  await audience(page, 'PR2A').click();
  await expect(audience(page, 'PR2A')).toBeChecked();
  await addFiles(page, [textFile('Posted.txt', 'handed out')]);
  await expect(row(page, 'Posted')).toBeVisible();
  await drag(row(page, 'Posted').locator('[data-row]'), inTree('Masters'));
  const question = page.getByRole('dialog', { name: 'Please read this first' });
  await expect(question).toContainText('PR2A: 19 students will no longer see 1 item.');
  await page.keyboard.press('Escape');
  await expect(question).toHaveCount(0);
  await expect(row(page, 'Posted')).toBeVisible();
  await drag(row(page, 'Posted').locator('[data-row]'), inTree('Masters'));
  await question.getByRole('button', { name: 'Move' }).click();
  await expect(said(/Posted is now in Masters/u)).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(row(page, 'Posted')).toBeVisible();
});

test('a folder is renamed, marked, coloured and kept on top; names are checked while typing', async () => {
  await makeFolder(page, 'Marks');
  for (const name of ['Zebra', 'Apple']) {
    await makeFolder(page, name);
    await way().getByRole('link', { name: 'Marks' }).click();
  }
  await menu('Zebra', /Rename/u);
  await page.getByLabel('New name for Zebra').fill('a/b');
  await expect(page.getByText(/A name cannot contain any of these/u)).toBeVisible();
  await page.getByLabel('New name for Zebra').fill('apple');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Something here already has this name.')).toBeVisible();
  await page.getByLabel('New name for Zebra').fill('Zinnia');
  await page.keyboard.press('Enter');
  await expect(said('Zebra is now called Zinnia')).toBeVisible();
  await expect(inTree('Zinnia')).toBeVisible();

  await menu('Zinnia', 'Mark and colour …');
  await page.getByLabel('Find a mark by its name').fill('blossom');
  await page.getByRole('button', { name: 'blossom', exact: true }).click();
  await page.getByRole('radio', { name: 'Plum' }).check();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(row(page, 'Zinnia')).toContainText('🌼');
  await menu('Apple', 'Keep on top');
  await expect.poll(() => titles(page)).toEqual(['Apple', 'Zinnia']);
  await page.keyboard.press('Control+z');
  await expect.poll(() => titles(page)).toEqual(['Zinnia', 'Apple']);
});

test('by hand, A to Z, by lesson date, as tiles; the reader has the same order and may choose another', async ({
  browser,
}) => {
  await makeFolder(page, 'In order');
  await audience(page, 'SO1A').click();
  await addFiles(page, [
    textFile('10 last.txt', 'order 10'),
    textFile('2 Board 2026-03-05.txt', 'order 2'),
    textFile('1 Notes 7 May 2026.txt', 'order 1'),
  ]);
  await expect(page.getByText(/3 files added/u)).toBeVisible();
  await page.getByRole('button', { name: 'Close' }).click();
  await page.getByLabel('Order').selectOption('A to Z');
  await expect
    .poll(() => titles(page))
    .toEqual(['1 Notes 7 May 2026', '2 Board 2026-03-05', '10 last']);
  await page.getByLabel('Order').selectOption('Lesson date');
  await expect
    .poll(() => titles(page))
    .toEqual(['1 Notes 7 May 2026', '2 Board 2026-03-05', '10 last']);
  await menu('10 last', /Name, date/u);
  await page.getByRole('dialog').getByLabel('Lesson date').fill('2026-06-01');
  await page.getByRole('dialog').getByRole('button', { name: 'Save' }).click();
  await expect
    .poll(() => titles(page))
    .toEqual(['10 last', '1 Notes 7 May 2026', '2 Board 2026-03-05']);

  await page.getByLabel('Order').selectOption('By hand');
  await expect(said('Order: By hand')).toBeVisible();
  await atRest();
  const before = await titles(page);
  await drag(row(page, before[2]!).locator('[data-row]'), row(page, before[0]!), 0.1);
  await expect.poll(() => titles(page)).toEqual([before[2], before[0], before[1]]);
  await page.getByRole('button', { name: 'Tiles' }).click();
  await expect(page.getByRole('button', { name: 'Tiles' })).toHaveAttribute('aria-pressed', 'true');
  await expect.poll(() => titles(page)).toEqual([before[2], before[0], before[1]]);
  await expectAccessible(page);

  const student = await openAs(browser, 'studentA');
  await visit(student, page.url());
  const shown = student.locator('#main li .font-semibold');
  await expect
    .poll(() => shown.allTextContents())
    .toEqual([before[2], before[0], before[1]].map((x) => expect.stringContaining(x!)));
  await student.getByRole('combobox', { name: 'Order' }).selectOption('A to Z');
  await expect
    .poll(() => shown.allTextContents())
    .toEqual([/1 Notes/u, /2 Board/u, /10 last/u].map((x) => expect.stringMatching(x)));
  await expectAccessible(student);
  await student.context().close();
});

test('an item lies in several places; from the last one it goes to the Bin, and comes back', async () => {
  await makeFolder(page, 'Places');
  for (const name of ['Place one', 'Place two']) {
    await makeFolder(page, name);
    await way().getByRole('link', { name: 'Places' }).click();
  }
  await addFiles(page, [textFile('Everywhere.txt', 'everywhere')]);
  await expect(row(page, 'Everywhere')).toBeVisible();
  await page.getByRole('button', { name: 'Close' }).click();
  await menu('Everywhere', 'Also put in …');
  for (const name of ['place one', 'place two']) {
    await page.getByLabel('Which folder?').fill(name);
    await page.keyboard.press('Enter');
  }
  await page.getByRole('button', { name: 'Put there' }).click();
  await expect(said('Everywhere is now in 2 folders too.')).toBeVisible();
  await expect(row(page, 'Everywhere')).toContainText('also in Place one');

  await menu('Everywhere', /Name, date/u);
  const sheet = page.getByRole('dialog');
  await sheet
    .getByRole('listitem')
    .filter({ hasText: 'Place two' })
    .getByRole('button', { name: 'Remove from here' })
    .click();
  await expect(said('Everywhere is no longer here.')).toBeVisible();
  await page.keyboard.press('Escape');
  await menu('Everywhere', /Remove from here/u);
  await expect(row(page, 'Everywhere')).toHaveCount(0);
  await row(page, 'Place one').getByRole('link').click();
  await row(page, 'Everywhere').getByRole('link').focus();
  await page.keyboard.press('Delete');
  await expect(said('Everywhere is in the Bin.')).toBeVisible();

  // Its folder goes too: then it has to be asked where it shall lie.
  await way().getByRole('link', { name: 'Places' }).click();
  await menu('Place one', /Remove from here/u);
  await page.getByRole('link', { name: 'Bin', exact: true }).click();
  await expect(page.getByText(/was in Places › Place one/u)).toBeVisible();
  await expectAccessible(page);
  await page
    .getByRole('listitem')
    .filter({ hasText: 'Everywhere' })
    .getByRole('button', { name: 'Bring back …' })
    .click();
  await page.getByLabel('Which folder?').fill('place two');
  await page.keyboard.press('Enter');
  await page.getByRole('dialog').getByRole('button', { name: 'Bring back' }).click();
  await expect(said('Everywhere is back')).toBeVisible();
  await expect(page.getByRole('listitem').filter({ hasText: 'Everywhere' })).toHaveCount(0);
  await page
    .getByRole('listitem')
    .filter({ hasText: 'Place one' })
    .getByRole('button', { name: 'Delete for good' })
    .click();
  await page.getByRole('dialog').getByRole('button', { name: 'Delete for good' }).click();
  await expect(said('Place one deleted')).toBeVisible();
  await visit(page, '/library');
  await inTree('Places').click();
  await expect.poll(() => titles(page)).toEqual(['Place two']);
  await row(page, 'Place two').getByRole('link').click();
  await expect(row(page, 'Everywhere')).toBeVisible();
});

test('an empty library offers two ways to begin, one with folders shows what is in them', async ({
  browser,
}) => {
  const office = await openAs(browser, 'office');
  await visit(office, '/library');
  await expect(office.getByText('Your library is empty')).toBeVisible();
  await expect(office.getByRole('link', { name: 'Lay out for classes' })).toBeVisible();
  await expectAccessible(office);
  await makeFolder(office, 'Forms');
  await makeFolder(office, 'Blank forms');
  await visit(office, '/library');
  await row(office, 'Forms').getByRole('link', { name: 'Blank forms', exact: true }).click();
  await expect(office.getByRole('heading', { level: 1, name: 'Blank forms' })).toBeVisible();
  await office.context().close();
});

test('Lay out makes the folders of several classes, and again only what is missing', async () => {
  await page.getByRole('link', { name: 'Lay out' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Lay out' })).toBeVisible();
  await page.getByLabel('Name of the class’s folder').fill('{class} {kind} {wrong}');
  await expect(page.getByText('There is no {wrong}.')).toBeVisible();
  await page.getByLabel('Name of the class’s folder').fill('{class} {kind}');
  await page.getByLabel('{kind} is').fill('laid out');
  await page.getByRole('checkbox', { name: /PR2A/u }).uncheck();
  await page.getByLabel('Folders in it').fill('{unit:2} Soil\n  Keys\na?b');
  await expect(page.getByText(/A name cannot contain any of these/u).first()).toBeVisible();
  await expect(page.getByRole('button', { name: /^Make/u })).toBeDisabled();
  await page.getByLabel('Folders in it').fill('{unit:2} Soil\n  Keys\n{unit:2} Water');
  await expect(page.getByRole('region', { name: 'SO1B' })).toContainText('02 Water');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Make 8 folders' }).click();
  await expect(said('8 folders made.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Everything is there already' })).toBeVisible();
  await page.getByRole('link', { name: 'SO1A laid out' }).click();
  await expect(audience(page, 'SO1A')).toBeChecked();
  await expect.poll(() => titles(page)).toEqual(['01 Soil', '02 Water']);
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('heading', { name: 'There is nothing here for you' })).toBeVisible();
  // What was handed out by it is not any more, and all that was made is in the Bin.
  await expect(page.getByRole('complementary', { name: 'Who sees this folder' })).toBeHidden();
  await visit(page, '/bin');
  await expect(page.getByRole('listitem').filter({ hasText: 'SO1A laid out' })).toBeVisible();
});

test('everything by keyboard: choose, cut, paste, copy into another place, rename, order, move', async () => {
  await makeFolder(page, 'Keys only');
  await makeFolder(page, 'Target');
  await way().getByRole('link', { name: 'Keys only' }).click();
  await dropFiles(
    page,
    ['a', 'b', 'c'].map((n) => textFile(`${n} key.txt`, `keyboard ${n}`)),
  );
  await expect(page.getByText(/3 files added/u)).toBeVisible();
  await page.getByRole('button', { name: 'Close' }).press('Enter');
  await page.getByLabel('Order').selectOption('By hand');
  await expect.poll(async () => (await titles(page)).length).toBe(4);
  const order = (await titles(page)).slice(1);
  const focus = (title: string) => row(page, title).getByRole('link').focus();

  await focus(order[2]!);
  await page.keyboard.press('Alt+ArrowUp');
  await expect.poll(() => titles(page)).toEqual(['Target', order[0], order[2], order[1]]);
  await page.keyboard.press('F2');
  await page.keyboard.type('Renamed');
  await page.keyboard.press('Enter');
  await expect(row(page, 'Renamed')).toBeVisible();
  await expect(row(page, 'Renamed').getByRole('link')).toBeFocused();

  await page.keyboard.press('Space');
  await expect(choice('Renamed')).toBeChecked();
  await page.keyboard.press('Shift+ArrowDown');
  await expect(page.getByRole('group', { name: '2 chosen' })).toBeVisible();
  await page.keyboard.press('Control+x');
  await focus('Target');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1, name: 'Target' })).toBeVisible();
  await page.keyboard.press('Control+v');
  await expect.poll(() => titles(page)).toEqual(['Renamed', order[1]]);

  await page.context().grantPermissions(['clipboard-read', 'clipboard-write']);
  await focus('Renamed');
  await page.keyboard.press('Control+c');
  await way().getByRole('link', { name: 'Keys only' }).press('Enter');
  await expect(page.getByRole('heading', { level: 1, name: 'Keys only' })).toBeVisible();
  await page.keyboard.press('Control+v');
  await expect(row(page, 'Renamed')).toContainText('also in Target');

  await focus(order[0]!);
  await page.keyboard.press('m');
  await expect(page.getByLabel('Which folder?')).toBeFocused();
  await page.keyboard.type('target');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Move to Target' }).press('Enter');
  await expect(said(`${order[0]} is now in Target.`)).toBeVisible();
  await expect.poll(() => titles(page)).toEqual(['Target', 'Renamed']);
  for (const _ of [1, 2, 3, 4]) await page.keyboard.press('Control+z');
  await expect
    .poll(async () => [...(await titles(page))].sort())
    .toEqual(['Target', ...order].sort());
});

test('several places, the Bin and the order of a folder, by keyboard alone', async () => {
  await makeFolder(page, 'Keys again');
  for (const name of ['First', 'Second']) {
    await makeFolder(page, name);
    await way().getByRole('link', { name: 'Keys again' }).press('Enter');
  }
  await dropFiles(page, [textFile('10 z.txt', 'keys z'), textFile('9 a.txt', 'keys a')]);
  await expect(page.getByText(/2 files added/u)).toBeVisible();
  await page.getByRole('button', { name: 'Close' }).press('Enter');
  const focus = (title: string) => row(page, title).getByRole('link').first().focus();
  /** The menu of a row: Tab leads to its button, letters to the action. */
  const act = async (title: string, letters: string) => {
    await focus(title);
    await page.keyboard.press('Tab');
    await expect(page.getByRole('button', { name: `Actions for ${title}` })).toBeFocused();
    await page.keyboard.press('Enter');
    await expect(page.getByRole('menu')).toBeFocused();
    await page.keyboard.type(letters);
    await page.keyboard.press('Enter');
  };

  await page.getByLabel('Order').focus();
  await page.keyboard.type('A to');
  await expect(said('Order: A to Z')).toBeVisible();
  await expect.poll(() => titles(page)).toEqual(['First', 'Second', '9 a', '10 z']);
  await act('10 z', 'Keep');
  await expect.poll(() => titles(page)).toEqual(['First', 'Second', '10 z', '9 a']);
  await act('9 a', 'Name');
  await page.getByRole('dialog').getByLabel('Lesson date').press('Tab');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toBeHidden();
  await page.getByRole('button', { name: 'Tiles' }).press('Enter');
  await expect(page.getByRole('button', { name: 'Tiles' })).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: 'List' })).toHaveAttribute('aria-pressed', 'true');

  await act('9 a', 'Also');
  for (const name of ['first', 'second']) {
    await expect(page.getByLabel('Which folder?')).toBeFocused();
    await page.keyboard.type(name);
    await page.keyboard.press('Enter');
  }
  await page.getByRole('button', { name: 'Put there' }).press('Enter');
  await expect(said('9 a is now in 2 folders too.')).toBeVisible();
  await expect(row(page, '9 a')).toContainText('also in First');
  await focus('9 a');
  await page.keyboard.press('Delete');
  await expect(said(/9 a is no longer here/u)).toBeVisible();
  await focus('10 z');
  await page.keyboard.press('Delete');
  await expect(said('10 z is in the Bin.')).toBeVisible();
  await page.getByRole('link', { name: 'Bin', exact: true }).press('Enter');
  await page
    .getByRole('listitem')
    .filter({ hasText: '10 z' })
    .getByRole('button', { name: 'Bring back' })
    .press('Enter');
  await expect(said('10 z is back')).toBeVisible();
});

test('a tree of 5,000 folders, 20 deep, opens to its end and is searched while typing', async () => {
  await makeFolder(page, 'A deep tree');
  const root = page.url().split('/').at(-1);
  const paths = Array.from({ length: 250 }, (_, n) =>
    Array.from({ length: 20 }, (_, depth) => `Branch ${n + 1} level ${depth + 1}`),
  );
  const reply = await page.request.post('/api/paths', {
    data: { parentId: root, paths },
    headers: { origin: new URL(page.url()).origin },
    timeout: 120_000,
  });
  expect(await reply.json()).toMatchObject({ count: 5000 });
  await page.reload();
  await expect(row(page, 'Branch 250 level 1')).toHaveCount(0);
  await expect.poll(() => page.locator('#main [data-at]').count()).toBeLessThan(100);
  await inTree('A deep tree').focus();
  // Where somebody is stands open already.
  await page.keyboard.press('ArrowRight');
  for (let level = 1; level < 20; level += 1) {
    await expect(inTree(`Branch 1 level ${level}`)).toBeFocused();
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('ArrowRight');
  }
  await expect(inTree('Branch 1 level 20')).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1, name: 'Branch 1 level 20' })).toBeVisible();
  await expect(way().getByRole('link')).toHaveCount(21);

  await way().getByRole('link', { name: 'A deep tree' }).click();
  await row(page, 'Branch 2 level 1').getByRole('link').focus();
  await page.keyboard.press('m');
  await page.getByLabel('Which folder?').fill('branch 249 level 19');
  await expect(page.getByRole('option').first()).toContainText('Branch 249 level 19');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Move to Branch 249 level 19' }).press('Enter');
  await expect(said('Branch 2 level 1 is now in Branch 249 level 19.')).toBeVisible();
});
