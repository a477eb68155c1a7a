import { checkName, NAME_LIMIT, nameKey } from '../naming.ts';
import type { Id } from '../model.ts';

/** The folder of the unit that comes next: one that is there, or one to be made under this title. */
export interface NextUnit {
  readonly id: Id | null;
  readonly title: string;
}

/** A number that stands by itself: that of a class code does not. */
const ALONE = /(?<![\p{L}\d])\d{1,3}(?![\p{L}\d])/u;
const AT_END = /\d{1,3}(?=\D?$)/u;

/**
 * Which unit follows a folder, by the number in its title: the folder beside it that has the next number in the same place; else one is
 * to be made, named as its neighbours are (`Unit 2` → `Unit 3`, `02 Texture` → `03`). Null where the title has no number.
 */
export function nextUnit(
  title: string,
  siblings: readonly { readonly id: Id; readonly title: string }[],
): NextUnit | null {
  const found = ALONE.exec(title) ?? AT_END.exec(title);
  if (!found) return null;
  const [digits] = found;
  const before = title.slice(0, found.index);
  const after = title.slice(found.index + digits.length);
  const next = String(Number(digits) + 1);
  const there = siblings.find(({ title: other }) => {
    if (!nameKey(other).startsWith(nameKey(before))) return false;
    const number = /^0*(\d{1,3})(?!\d)/u.exec(other.slice(before.length));
    return number !== null && Number(number[1]) === Number(next);
  });
  if (there) return there;
  const named = before + next.padStart(digits.length, '0');
  // What stands after the number is the about of the unit, unless all have it.
  const common =
    after.trim() !== '' &&
    siblings.length > 0 &&
    siblings.every((other) => nameKey(other.title).endsWith(nameKey(after)));
  const whole = common ? named + after : named;
  const free = checkName(
    whole.slice(0, NAME_LIMIT),
    siblings.map((one) => one.title),
  );
  return free.faults.length === 0 ? { id: null, title: whole } : null;
}
