import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import fastifyStatic from '@fastify/static';
import { TokenParams, type PageRenderer } from '@sammlung/contract';
import { escapeHtml } from '@sammlung/core';
import type { FastifyReply, FastifyRequest } from 'fastify';
import { coverOf, oembedAddress, type Cover } from './features/door/cover.ts';
import { doorOf } from './domain/doors.ts';
import type { App } from './app-type.ts';
import { AppError } from './platform/errors.ts';
import { pageRenderer, type Manifest } from './ssr.ts';

/** What our pages may load and do, and who may show them in a frame. */
export function policy(frameAncestors: string): string {
  return [
    "default-src 'self'",
    "style-src 'self' 'unsafe-inline'",
    "font-src 'self' data:",
    "img-src 'self' data: blob:",
    "media-src 'self' blob:",
    "object-src 'none'",
    "base-uri 'self'",
    "form-action 'self'",
    `frame-ancestors ${frameAncestors}`,
  ].join(';');
}

/** The built web application: its files, and its one page at every address that is not the API's. */
export async function webApplication(app: App, { folder }: { folder: string }) {
  const root = join(folder, 'public');
  await app.register(fastifyStatic, {
    root,
    preCompressed: true,
    wildcard: false,
    index: false,
    cacheControl: false,
    setHeaders: (reply, path) => {
      const lasting = path.includes('/assets/');
      reply.header('cache-control', lasting ? 'public, max-age=31536000, immutable' : 'no-cache');
    },
  });
  const page = readFileSync(join(root, 'index.html'), 'utf8');
  const pages = (await import(pathToFileURL(join(folder, 'ssr', 'ssr.js')).href)) as PageRenderer;
  const manifest = JSON.parse(
    readFileSync(join(root, '.vite', 'manifest.json'), 'utf8'),
  ) as Manifest;
  const sendMade = pageRenderer(app, pages, manifest);
  /** Programs that look at an address are told the title of what is open to all; all else is nobody's to list. */
  async function addressed(request: FastifyRequest, reply: FastifyReply) {
    const { token } = TokenParams.parse(request.params);
    const cover = await coverOf(app.services, token);
    if (cover?.listed) reply.removeHeader('x-robots-tag');
    const covered = withCover(
      inTheme(request, page),
      cover,
      oembedAddress(app.services.address(), token),
    );
    if (await sendMade(request, reply, covered)) return reply;
    return reply.type(HTML).header('cache-control', 'no-cache').send(covered);
  }
  app.get('/open/:token', addressed);
  app.get('/open/:token/*', addressed);
  /** The same page for a folder in a frame on another website: of a public door, and nothing else of ours. */
  app.get('/embed/:token', framed);
  app.get('/embed/:token/*', framed);
  async function framed(request: FastifyRequest, reply: FastifyReply) {
    const { token } = TokenParams.parse(request.params);
    const found = await doorOf(app.services.db, token);
    if (found?.door.kind === 'public') {
      reply.removeHeader('x-frame-options');
      reply.header('content-security-policy', policy('*'));
    }
    const themed = inTheme(request, page);
    if (await sendMade(request, reply, themed)) return reply;
    return reply.type(HTML).header('cache-control', 'no-cache').send(themed);
  }
  /** The part with the frame of all pages of people with an account. */
  const first = readdirSync(join(root, 'assets')).find((name) => /^first-.*\.js$/u.test(name));
  // What another program shares is taken by the application on the device; where that has not been opened yet, it cannot be.
  await app.register(async (scope) => {
    scope.addContentTypeParser('*', (_request, _body, done) => done(null));
    scope.post('/shared', (_request, reply) => reply.redirect('/today?shared=no', 303));
  });
  app.get('/*', async (request, reply) => {
    const { '*': path } = request.params as { '*': string };
    if (path.startsWith('api/') || path.startsWith('assets/')) throw new AppError('not-found');
    // Whoever has a session will want it: they are told before the page itself can say so.
    if (first && request.headers.cookie)
      reply.header('link', `</assets/${first}>; rel=modulepreload`);
    const themed = inTheme(request, page);
    if (request.headers.cookie && (await sendMade(request, reply, themed))) return reply;
    if (themed === page) return reply.type(HTML).sendFile('index.html');
    return reply.type(HTML).header('cache-control', 'no-cache').send(themed);
  });
}

const HTML = 'text/html; charset=utf-8';

/** The page, light or dark where that was chosen in this browser (web: `theme.ts`). */
function inTheme(request: FastifyRequest, page: string): string {
  const { theme } = request.cookies;
  return theme === 'light' || theme === 'dark'
    ? page.replace('<html ', `<html data-theme="${theme}" `)
    : page;
}

/**
 * The page with what programs may know of a public address: its title for link previews (Open Graph), and where other websites are told
 * how to embed it (oEmbed). Nothing else of it is told.
 */
function withCover(page: string, cover: Cover | null, oembed: string): string {
  if (!cover) return page;
  const title = escapeHtml(cover.title);
  return page.replace(
    /<title>.*<\/title>/u,
    () =>
      `<title>${title}</title><meta property="og:title" content="${title}" /><link rel="alternate" type="application/json+oembed" href="${escapeHtml(oembed)}" title="${title}" />`,
  );
}
