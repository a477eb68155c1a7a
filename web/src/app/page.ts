import type { InitialState } from '@sammlung/contract';
import type { Texts } from './i18n.ts';

/** What belongs to one page of somebody: a browser has one, the server one for each that it is making. */
export interface Page {
  /** Replies of the API that came with it, by path. */
  readonly replies: Map<string, unknown>;
  readonly texts: Texts;
  /** The server's time less the device's, in milliseconds. */
  ahead: number;
}

/** A page that has these replies with it. */
export const pageWith = (replies: InitialState['replies'], texts: Texts): Page => ({
  replies: new Map(Object.entries(replies)),
  texts,
  ahead: 0,
});

let find: () => Page = () => {
  throw new Error('There is no page yet');
};

/** The page that is being shown, or made. */
export const page = (): Page => find();

/** Says, once, how to find it. */
export function findPage(how: () => Page): void {
  find = how;
}
