/** A name in two: the last word is taken for the family name. */
export function splitName(name: string): { given: string; family: string } {
  const words = name.trim().split(/\s+/u);
  const family = words.pop()!;
  return { given: words.join(' '), family };
}

const COLLATOR = new Intl.Collator('und', { numeric: true });

/** The order of lists: by family name, then by the whole name. */
export const byFamilyName = (a: string, b: string): number =>
  COLLATOR.compare(splitName(a).family, splitName(b).family) || COLLATOR.compare(a, b);

/** Plain short words, none of which looks or sounds like another: for start words and sayable addresses. */
export const PLAIN_WORDS: readonly string[] =
  `acorn alder amber anchor apple apron arrow aspen autumn badge badger bamboo barley barn basil basin basket beacon beaver beech beetle berry birch bison bonfire border bottle boulder branch bread breeze brick bridge brook broom bucket burrow butter button cabin cactus camel candle canoe canvas carpet carrot castle cedar cello cherry chestnut chimney cider cinder circle clover cobble comet copper coral cotton cousin cradle crane crayon cricket crocus crown crystal curtain daisy dolphin donkey dragon drum dune eagle easel elbow elder ember engine envelope falcon feather fern ferry fiddle finch flagon flint flute forest fossil fountain garden garlic ginger glacier glove goose granite grape gravel grove guitar hammer harbour harvest hazel heather hedge helmet heron hickory hollow honey horizon hornet island ivory jacket jasmine jungle juniper kettle kitten ladder lagoon lantern larch lemon lentil lichen lilac linen lizard lobster locust lupin magnet magpie mango maple marble marigold market marsh meadow melon mimosa mint mirror mitten monkey moss mountain mustard needle nettle nutmeg oak oasis oats olive onion orchard orchid osprey otter oyster paddle panda parsley pasture peach pebble pelican pencil pepper pigeon pillow pine planet plum pocket pollen pond poplar poppy potato prairie prism puffin pumpkin puzzle quarry quartz quilt rabbit radish raven reed ribbon river robin rocket rosemary saddle saffron salmon sandal satchel scarf seagull shovel silver sparrow spinach spruce squirrel stable stream sugar summer swallow tadpole tambour teapot temple thimble thistle thunder tiger timber toffee tomato trellis trumpet tulip tunnel turnip turtle valley vanilla velvet violet violin walnut walrus water weasel wheat willow window winter wombat yarrow zebra`.split(
    ' ',
  );

/** Digits that cannot be taken for letters, and are not mistaken for each other when said. */
const DIGITS = '23456789';

/** Draws a whole number from 0 to `below` - 1; the server hands in a cryptographic one. */
export type Draw = (below: number) => number;

/** `heron-47293`: a word and `digits` digits. */
export function sayable(draw: Draw, digits: number): string {
  const word = PLAIN_WORDS[draw(PLAIN_WORDS.length)]!;
  const number = Array.from({ length: digits }, () => DIGITS[draw(DIGITS.length)]!).join('');
  return `${word}-${number}`;
}

/** Two words and two digits, for a first password that is said or printed: about 22 bits, good for one first day. */
export function firstPassword(draw: Draw): string {
  return `${PLAIN_WORDS[draw(PLAIN_WORDS.length)]!}-${sayable(draw, 3)}`;
}

/**
 * A sayable address as it was meant, from how it was typed: any case, spaces or nothing in place of the line, letters
 * for the digits they look like, and a word with one slip. Null for what cannot be one.
 */
export function readSayable(typed: string, digits: number): string | null {
  const given = typed
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/gu, '');
  const tail = given.slice(-digits);
  const number = [...tail].map((sign) => LOOKS_LIKE[sign] ?? sign).join('');
  if (given.length <= digits || ![...number].every((sign) => DIGITS.includes(sign))) return null;
  const word = nearestWord(given.slice(0, -digits));
  return word && `${word}-${number}`;
}

const LOOKS_LIKE: Record<string, string> = {
  z: '2',
  s: '5',
  b: '8',
  g: '9',
  q: '9',
  e: '3',
  a: '4',
};

function nearestWord(typed: string): string | null {
  if (PLAIN_WORDS.includes(typed)) return typed;
  const near = PLAIN_WORDS.filter((word) => oneSlip(word, typed));
  return near.length === 1 ? near[0]! : null;
}

/** Whether one letter too many, too few, another one or two turned round lead from one word to the other. */
function oneSlip(a: string, b: string): boolean {
  if (Math.abs(a.length - b.length) > 1) return false;
  let start = 0;
  while (start < a.length && a[start] === b[start]) start += 1;
  let end = 0;
  while (end < Math.min(a.length, b.length) - start && a.at(-1 - end) === b.at(-1 - end)) end += 1;
  const [left, right] = [a.slice(start, a.length - end), b.slice(start, b.length - end)];
  if (left.length <= 1 && right.length <= 1) return true;
  return left.length === 2 && right === left[1]! + left[0]!;
}

/** `mina.k`: the beginning of a sign-in name, in letters every keyboard has. A number makes it unique. */
export function signInStem(name: string): string {
  const words = name
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .replace(/ı/gu, 'i')
    .replace(/ß/gu, 'ss')
    .replace(/[øØ]/gu, 'o')
    .replace(/[łŁ]/gu, 'l')
    .toLowerCase()
    .split(/[^a-z]+/u)
    .filter(Boolean);
  const [first = 'student', ...rest] = words;
  const last = rest.at(-1);
  return last ? `${first.slice(0, 16)}.${last[0]}` : first.slice(0, 20);
}
