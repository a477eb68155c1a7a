import type { Language, Session } from './session.ts';

/** What a page that the server has made brings along: the replies it was made of, by path, and when that was. */
export interface InitialState {
  readonly at: string;
  readonly replies: Readonly<Record<string, unknown>>;
}

/** The web application where it runs on the server, to make pages that show before their scripts run. */
export interface PageRenderer {
  /**
   * What the page at a path (`/new`) is made of, as paths of the API, as far as that is known by the replies there are.
   * Null for pages that are not made: most show nothing without their scripts.
   */
  asks(path: string, replies: InitialState['replies']): readonly string[] | null;
  /**
   * The HTML of a page's contents, made of the replies to all it asks for, and the modules that its scripts begin with,
   * as paths within the web application's folder. Null while too many are being made; rejects when something else is
   * needed.
   */
  make(page: {
    path: string;
    language: Language;
    replies: InitialState['replies'];
  }): Promise<{ html: string; modules: string[] } | null>;
  /** The session of nobody in particular: what is made with it is the same for all who see the same. */
  withoutName(session: Session): Session;
  /** A page that was made so, with the name of whoever it is for. */
  withName(html: string, session: Session): string;
}
