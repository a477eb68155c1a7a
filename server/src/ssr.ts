import { Readable } from 'node:stream';
import { constants, createGzip } from 'node:zlib';
import { Language, type InitialState, type PageRenderer, type Session } from '@sammlung/contract';
import type { FastifyReply, FastifyRequest } from 'fastify';
import Negotiator from 'negotiator';
import type { App } from './app-type.ts';

/** What was built of a module, and the keys of the parts that it imports in turn (Vite's manifest). */
export type Manifest = Readonly<Record<string, { file: string; imports?: readonly string[] }>>;

const EMPTY = '<div id="app"></div>';

type Replies = InitialState['replies'];

/**
 * Gives a function that sends a page with its contents in it, where it is one that is made, and resolves to whether it
 * was. It is given the HTML of the empty page. What the page shows are the replies of the API to whoever sent the
 * request, and nothing else. `manifest` says what was built of the web application.
 */
export function pageRenderer(app: App, pages: PageRenderer, manifest: Manifest) {
  /** What the API answers to the sender of a request; null when that is a refusal. */
  async function ask(request: FastifyRequest, path: string): Promise<unknown> {
    const reply = await app.inject({
      url: path,
      headers: { cookie: request.headers.cookie ?? '' },
      remoteAddress: request.ip,
    });
    return reply.statusCode === 200 ? reply.json() : null;
  }

  /**
   * The replies with those that the page at a path asks for next. Null when it is not one that is made, or something is
   * not for whoever sent the request.
   */
  async function askMore(
    request: FastifyRequest,
    path: string,
    replies: Replies,
  ): Promise<Replies | null> {
    const asked = pages.asks(path, replies);
    if (!asked) return null;
    const told = asked
      .filter((one) => !(one in replies))
      .map(async (one) => [one, await ask(request, one)] as const);
    const more = { ...replies, ...Object.fromEntries(await Promise.all(told)) };
    return Object.values(more).includes(null) ? null : more;
  }

  return async function sendMade(
    request: FastifyRequest,
    reply: FastifyReply,
    page: string,
  ): Promise<boolean> {
    const path = request.url.split('?', 1)[0]!;
    const at = new Date(app.services.now()).toISOString();
    const first = await askMore(request, path, {});
    if (!first || !pages.asks(path, first)) return false;
    const language = languageOf(request, first);
    const [head, rest] = page.split(EMPTY) as [string, string];

    async function* parts() {
      // What it looks like is fetched while it is found out what is on it.
      yield head.replace('<html lang="en">', `<html lang="${language}">`);
      yield await contents();
      yield rest;
    }

    /** The contents in their place, with what their scripts begin with. */
    async function contents(): Promise<string> {
      try {
        const replies = await askMore(request, path, first!);
        if (!replies) return EMPTY;
        const made = await pages.make({ path, language, replies });
        if (!made) return EMPTY;
        const loads = [...scripts(made.modules)]
          .filter((file) => !head.includes(file))
          .map((file) => `<link rel="modulepreload" crossorigin href="/${file}">`);
        const initial: InitialState = { at, replies };
        const json = JSON.stringify(initial).replaceAll('<', '\\u003c');
        return `${loads.join('')}<div id="app">${made.html}</div><script type="application/json" id="initial-state">${json}</script>`;
      } catch (error) {
        // The empty page fetches the same by itself, and says what is wrong.
        app.log.error(error);
        return EMPTY;
      }
    }

    // It is of one person: no one else may come upon it, and nobody who comes back to it later.
    reply.header('cache-control', 'no-store').type('text/html; charset=utf-8');
    if (new Negotiator(request).encoding(['gzip', 'identity']) === 'gzip') {
      reply.header('content-encoding', 'gzip');
      reply.send(Readable.from(parts()).pipe(createGzip({ flush: constants.Z_SYNC_FLUSH })));
    } else reply.send(Readable.from(parts()));
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
