import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { escapeHtml } from '@sammlung/core';
import { and, eq, isNotNull, isNull, or } from 'drizzle-orm';
import type { Database } from '../db/database.ts';
import { doors, schools } from '../db/schema/index.ts';
import { doorAddress } from '../domain/doors.ts';

/**
 * A made-up website of a class, as a teacher may have one elsewhere: it shows the class website and a public folder of the sample school
 * in frames, which it gets from the addresses alone (oEmbed), and leads to them by plain links. At another port, so that it is another
 * origin.
 */
export async function startClassWebsite(
  db: Database,
  application: () => string,
  port: number,
): Promise<{ address: string; stop(): Promise<void> }> {
  const server = createServer((_request, reply) => {
    page(db, application()).then(
      (html) => {
        reply.writeHead(200, { 'content-type': 'text/html; charset=utf-8' });
        reply.end(html);
      },
      (error: unknown) => {
        console.error(error);
        reply.writeHead(500).end();
      },
    );
  });
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', resolve);
  });
  const at = server.address() as AddressInfo;
  return {
    address: `http://localhost:${at.port}`,
    stop: () =>
      new Promise<void>((resolve) => {
        server.close(() => resolve());
        server.closeAllConnections();
      }),
  };
}

/** The addresses that the website knows of the sample school: of the website of a class, and of the oldest public folder. */
async function addresses(db: Database, base: string): Promise<string[]> {
  const found = await db
    .select({ token: doors.token, folderId: doors.folderId })
    .from(doors)
    .innerJoin(schools, and(eq(schools.id, doors.schoolId), eq(schools.sample, true)))
    .where(
      and(
        or(isNotNull(doors.folderId), isNotNull(doors.classId)),
        and(eq(doors.kind, 'public'), isNull(doors.closedAt), isNull(doors.wordHash)),
      ),
    )
    .orderBy(doors.createdAt);
  const first = [found.find(({ folderId }) => !folderId), found.find(({ folderId }) => folderId)];
  return first.flatMap((door) => (door ? doorAddress(base, door.token) : []));
}

/** What a website shows for an address, when it knows no more of it than that: as oEmbed says, found by the link in its page. */
async function embedded(address: string): Promise<{ title: string; html: string } | null> {
  const page = await (await fetch(address)).text();
  const [, link] =
    /<link rel="alternate" type="application\/json\+oembed" href="([^"]+)"/u.exec(page) ?? [];
  if (!link) return null;
  const reply = await fetch(link.replaceAll('&amp;', '&'));
  return reply.ok ? ((await reply.json()) as { title: string; html: string }) : null;
}

async function page(db: Database, base: string): Promise<string> {
  const shown: string[] = [];
  for (const address of await addresses(db, base)) {
    const found = await embedded(address);
    if (found)
      shown.push(
        `${found.html}<p>Or open it by itself: <a href="${address}">${escapeHtml(found.title)}</a></p>`,
      );
  }
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>Soil Science at Fennmoor</title>
    <body style="font:17px/1.5 Georgia,serif;max-width:44rem;margin:3rem auto;padding:0 1rem">
    <h1>Soil Science at Fennmoor</h1>
    <p>This stands for a class website that runs somewhere else. It knows nothing but the addresses; what is below comes out of the library.</p>
    ${shown.join('') || '<p>Nothing is public just now.</p>'}</body></html>`;
}
