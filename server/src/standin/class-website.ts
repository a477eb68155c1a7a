import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { and, eq, isNull } from 'drizzle-orm';
import type { Database } from '../db/database.ts';
import { doors, folders, schools } from '../db/schema/index.ts';

/**
 * A made-up website of a class, as a teacher may have one elsewhere: it shows a public folder of the sample school in a
 * frame, and leads to it by a plain link. At another port, so that it is another origin.
 */
export async function startClassWebsite(
  db: Database,
  application: () => string,
  port: number,
): Promise<{ address: string; stop(): Promise<void> }> {
  const server = createServer((_request, reply) => {
    firstPublicDoor(db).then(
      (found) => {
        reply.writeHead(200, { 'content-type': 'text/html; charset=utf-8' });
        reply.end(page(found && { ...found, base: application() }));
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

/** The oldest open public door of the sample school to a folder, without a word. */
async function firstPublicDoor(db: Database) {
  const [found] = await db
    .select({ token: doors.token, title: folders.title })
    .from(doors)
    .innerJoin(folders, eq(folders.id, doors.folderId))
    .innerJoin(schools, and(eq(schools.id, doors.schoolId), eq(schools.sample, true)))
    .where(and(eq(doors.kind, 'public'), isNull(doors.closedAt), isNull(doors.wordHash)))
    .orderBy(doors.createdAt)
    .limit(1);
  return found;
}

const escape = (text: string) => text.replace(/[&<>"]/gu, (sign) => `&#${sign.codePointAt(0)};`);

function page(found: { token: string; title: string; base: string } | undefined): string {
  const body = found
    ? `<iframe src="${found.base}/embed/${found.token}" title="${escape(found.title)}" width="640" height="480" style="border:1px solid #bbb"></iframe>
       <p>Or open it by itself: <a href="${found.base}/open/${found.token}">${escape(found.title)}</a></p>`
    : '<p>No folder is public just now.</p>';
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>Soil Science at Fennmoor</title>
    <body style="font:17px/1.5 Georgia,serif;max-width:44rem;margin:3rem auto;padding:0 1rem">
    <h1>Soil Science at Fennmoor</h1>
    <p>This stands for a class website that runs somewhere else. What is below comes out of the library.</p>
    ${body}</body></html>`;
}
