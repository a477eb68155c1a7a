import { page } from '../page.ts';

/** A difference that is no more than a reply on its way. Milliseconds. */
const SLACK = 30_000;

/** Takes the time from the server's reply, so that days are right on a device whose clock is not. */
export function setClock(date: string | null): void {
  if (date === null) return;
  const difference = Date.parse(date) - Date.now();
  page().ahead = Math.abs(difference) > SLACK ? difference : 0;
}

/** The server's time, in milliseconds since 1970. */
export const now = (): number => Date.now() + page().ahead;
