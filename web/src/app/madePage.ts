import type { Brought } from '@sammlung/contract';
import { setClock } from './clock.ts';
import { bring } from './early.ts';

/** Whether this page came from the server with its contents in it. */
export const isMade = (): boolean => document.getElementById('brought') !== null;

/** Takes over what a page that the server has made was made of. */
export function bringMade(): void {
  const { at, replies } = JSON.parse(document.getElementById('brought')!.textContent) as Brought;
  setClock(at);
  bring(replies);
}
