import { describe, expect, it } from 'vitest';
import { propose, SURE } from '../../src/index.ts';
import { EXAMPLES, UNSEEN, type Example } from './examples.ts';
import { GARDEN, NOW, ZONE } from './school.ts';

function proposed({ desk, name, text }: Example) {
  const file = { id: 'file', name, hash: 'new', text: text ?? '', arrivedAt: NOW };
  const found = propose({ ...desk, files: [file], now: NOW, zone: ZONE }).get('file')!;
  const waits = found.sureness < SURE;
  return {
    classes: waits
      ? ''
      : found.to
          .map(({ classId }) => classId)
          .sort()
          .join(' '),
    folder: waits ? '' : [...new Set(found.to.map(({ folderId }) => folderId))].sort().join(' '),
    title: found.title,
  };
}

/** Of those that were looked at once (24 of 30 were right then), what is still not as a teacher would have it. */
const NOT_YET = [
  'L15 SO1A.pdf',
  'Soil Science I - SO1B - 14 - acids.pdf',
  'Quiz 5 answer key.pdf',
  'WhatsApp Image 2026-11-26 at 09.15.33.jpeg',
];

describe('proposals for a hundred files as teachers name them', () => {
  it('are a hundred, each with another name', () => {
    expect(EXAMPLES.length).toBeGreaterThanOrEqual(100);
    const keys = EXAMPLES.map(({ desk, name }) => `${desk.titlePattern} ${name}`);
    expect(new Set(keys).size).toBe(EXAMPLES.length);
  });

  it('are right at first for nine in ten', () => {
    const wrong = EXAMPLES.filter((example) => !isRight(example)).map(({ name }) => name);
    expect(wrong).toEqual([]);
  });

  it('are right for most names that they were not made by, and put nothing into a wrong class', () => {
    const wrong = UNSEEN.filter((example) => !isRight(example));
    expect(wrong.map(({ name }) => name)).toEqual(NOT_YET);
    const misled = UNSEEN.filter((example) => {
      const { classes } = proposed(example);
      return classes !== '' && classes !== example.classes;
    });
    expect(misled.map(({ name }) => name)).toEqual([]);
  });
});

it('titles a lesson as most of them are, whatever came last', () => {
  const [last] = GARDEN.placed;
  const strange = ['9 a', '10 b'].map((title, n) => ({
    ...{ ...last!, title, originalName: `${title}.pdf`, classIds: ['SO1A'], at: NOW - n },
    ...{ itemId: title, placementId: title },
  }));
  const lesson = GARDEN.placed.filter(({ title }) => title.startsWith('Lesson 14'));
  const name = 'SO1A lesson 15 worms.pdf';
  for (const placed of [[...strange, ...lesson], strange]) {
    const desk = { ...GARDEN, placed };
    expect(proposed({ desk, name, classes: 'SO1A', title: '' }).title).toBe('Lesson 15, worms');
  }
});

function isRight(example: Example): boolean {
  const { classes, folder = '', title } = example;
  const found = proposed(example);
  const same = found.classes === classes && found.folder === folder && found.title === title;
  if (!same && process.env['TRAY_SHOW'])
    console.log(example.name, { classes, folder, title }, found);
  return same;
}
