import { createHash } from 'node:crypto';
import { Readable } from 'node:stream';
import { setTimeout as wait } from 'node:timers/promises';
import { promisify } from 'node:util';
import { constants, createGzip, gzip } from 'node:zlib';
import { Language, type InitialState, type PageRenderer, type Session } from '@sammlung/contract';
import type { FastifyReply, FastifyRequest } from 'fastify';
import { LRUCache } from 'lru-cache';
import Negotiator from 'negotiator';
import type { App } from './app-type.ts';

/** What was built of a module, and the keys of the parts that it imports in turn (Vite's manifest). */
export type Manifest = Readonly<Record<string, { file: string; imports?: readonly string[] }>>;

const EMPTY = '<div id="app"></div>';

type PageNeeds = Parameters<PageRenderer['make']>[0];
type Replies = InitialState['replies'];

const gzipped = promisify(gzip);
/** How hard pages are packed: what takes longer gains little. */
const PACKED = 4;

const hash = (text: string) => createHash('sha1').update(text).digest('base64');

const SESSION = '/api/session';

/** The replies that a page is made of, by path. They are read where that is wanted: most go out as they came. */
class Told {
  readonly replies: Replies = {};
  readonly #texts = new Map<string, string>();

  has(path: string): boolean {
    return this.#texts.has(path);
  }

  set(path: string, text: string): void {
    this.#texts.set(path, text);
    let read: unknown;
    const get = () => (read ??= JSON.parse(text));
    Object.defineProperty(this.replies, path, { enumerable: true, configurable: true, get });
  }

  /** All of it in JSON; without the name of whoever it was told to, as `session` says it. */
  text(session?: Session): string {
    const parts = [...this.#texts].map(([path, text]) => {
      const told = path === SESSION && session ? JSON.stringify(session) : text;
      return `${JSON.stringify(path)}:${told}`;
    });
    return `{${parts.join(',')}}`;
  }
}

/** How many characters of pages that have been made are remembered. */
const REMEMBERED = 8_000_000;
/** What is shown depends on the day, which begins at a quarter of an hour wherever a school is. Milliseconds. */
const QUARTER = 15 * 60 * 1000;
/** Where it is known within this time what is on a page, it goes out in one piece. Milliseconds. */
const SOON = 20;

/**
 * Gives a function that sends a page with its contents in it, where it is one that is made, and resolves to whether it
 * was. It is given the HTML of the empty page. What the page shows are the replies of the API to whoever sent the
 * request, and nothing else; it is drawn once for all who are told the same. `manifest` says what was built of the web
 * application.
 */
export function pageRenderer(app: App, pages: PageRenderer, manifest: Manifest) {
  /**
   * Pages that have been drawn, or are being drawn, by all that they were made of: what they load, and their contents, without
   * the name of whoever they are for.
   */
  const drawn = new LRUCache<string, string>({
    maxSize: REMEMBERED,
    sizeCalculation: (html) => html.length,
  });
  const drawing = new Map<string, Promise<string | null>>();

  /** What the API answers to the sender of a request; null when that is a refusal. */
  async function ask(request: FastifyRequest, path: string): Promise<string | null> {
    const reply = await app.inject({
      url: path,
      headers: { cookie: request.headers.cookie ?? '' },
      remoteAddress: request.ip,
    });
    return reply.statusCode === 200 ? reply.payload : null;
  }

  /** Adds the replies asked for. Resolves to false where one of them is not for whoever sent the request. */
  async function tell(request: FastifyRequest, asked: readonly string[], told: Told) {
    const replies = await Promise.all(
      asked
        .filter((one) => !told.has(one))
        .map(async (one) => [one, await ask(request, one)] as const),
    );
    for (const [one, text] of replies) if (text !== null) told.set(one, text);
    return replies.every(([, text]) => text !== null);
  }

  /** The contents of a page, drawn now or before. Null while too many are being drawn. */
  async function draw(path: string, language: Language, told: Told, at: number, head: string) {
    const session = told.replies[SESSION] as Session | undefined;
    const nobody = session && pages.withoutName(session);
    const key = hash([path, language, Math.floor(at / QUARTER), told.text(nobody)].join('\n'));
    const known = drawn.get(key);
    if (known) return known;
    let made = drawing.get(key);
    if (!made) {
      const replies = { ...told.replies, ...(nobody && { [SESSION]: nobody }) };
      made = make({ path, language, replies }, head).finally(() => drawing.delete(key));
      drawing.set(key, made);
      const page = await made;
      if (page) drawn.set(key, page);
    }
    return made;
  }

  async function make(page: PageNeeds, head: string): Promise<string | null> {
    const made = await pages.make(page);
    if (!made) return null;
    const loads = [...scripts(made.modules)]
      .filter((file) => !head.includes(file))
      .map((file) => `<link rel="modulepreload" crossorigin href="/${file}">`);
    return `${loads.join('')}<div id="app">${made.html}</div>`;
  }

  return async function sendMade(
    request: FastifyRequest,
    reply: FastifyReply,
    page: string,
  ): Promise<boolean> {
    const path = request.url.split('?', 1)[0]!;
    const at = app.services.now();
    const told = new Told();
    const first = pages.asks(path, told.replies);
    if (!first || !(await tell(request, first, told))) return false;
    // What more there is to ask depends on who it is, or on the door.
    const more = pages.asks(path, told.replies);
    if (!more) return false;
    const language = languageOf(request, told.replies);
    const [head, rest] = page.replace('lang="en"', `lang="${language}"`).split(EMPTY) as [
      string,
      string,
    ];

    /** The contents in their place, with what their scripts begin with. */
    const contents = async (): Promise<string> => {
      try {
        const made = (await tell(request, more, told))
          ? await draw(path, language, told, at, head)
          : null;
        if (!made) return EMPTY;
        const session = told.replies[SESSION] as Session | undefined;
        const html = session ? pages.withName(made, session) : made;
        const initial = `{"at":"${new Date(at).toISOString()}","replies":${told.text()}}`;
        return `${html}<script type="application/json" id="initial-state">${initial.replaceAll('<', '\\u003c')}</script>`;
      } catch (error) {
        // The empty page fetches the same by itself, and says what is wrong.
        app.log.error(error);
        return EMPTY;
      }
    };

    // It is of one person: no one else may come upon it, and nobody who comes back to it later.
    reply.header('cache-control', 'no-store').type('text/html; charset=utf-8');
    const packed = new Negotiator(request).encoding(['gzip', 'identity']) === 'gzip';
    if (packed) reply.header('content-encoding', 'gzip');
    const made = contents();
    const soon = await Promise.race([made, wait(SOON, null, { ref: false })]);
    if (soon !== null) {
      const whole = `${head}${soon}${rest}`;
      reply.send(packed ? await gzipped(whole, { level: PACKED }) : whole);
      return true;
    }
    // What it looks like is fetched while it is found out what is on it.
    async function* parts() {
      yield head;
      yield await made;
      yield rest;
    }
    const stream = Readable.from(parts());
    const packing = { flush: constants.Z_SYNC_FLUSH, level: PACKED };
    reply.send(packed ? stream.pipe(createGzip(packing)) : stream);
    return true;
  };

  /** The scripts of modules, and of all that they import. */
  function scripts(modules: readonly string[]): Set<string> {
    const built = modules.flatMap((module) => manifest[module] ?? []);
    return new Set(built.flatMap(({ file, imports = [] }) => [file, ...scripts(imports)]));
  }
}

/** The language of whoever has signed in, else the one chosen in this browser, else the one the browser wants most. */
function languageOf({ cookies, headers }: FastifyRequest, replies: Replies): Language {
  const session = replies['/api/session'] as Session | undefined;
  const chosen = Language.safeParse(session?.person?.language ?? cookies.language);
  if (chosen.success) return chosen.data;
  const wanted = new Negotiator({ headers }).language([...Language.options]);
  return Language.options.find((language) => language === wanted) ?? 'en';
}
