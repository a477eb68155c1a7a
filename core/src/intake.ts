import { nameKey } from './naming.ts';

/** A file that lies in the folder already. */
export interface Lying {
  readonly itemId: string;
  /** Full name with extension. */
  readonly name: string;
  /** SHA-256 of its newest version. */
  readonly hash: string;
}

export type Intake =
  | { readonly outcome: 'new' }
  | { readonly outcome: 'version' | 'unchanged'; readonly itemId: string };

/**
 * What becomes of a file that comes into a folder: a file of the same name is nearly always a newer state of the
 * same thing and becomes its next version; the same content under the same name changes nothing.
 */
export function intake(name: string, hash: string, lying: readonly Lying[]): Intake {
  const key = nameKey(name);
  const same = lying.find((file) => nameKey(file.name) === key);
  if (!same) return { outcome: 'new' };
  return { outcome: same.hash === hash ? 'unchanged' : 'version', itemId: same.itemId };
}
