import type { TestServer } from './harness.ts';

/** A picture of one pixel. */
export const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
);

type Server = Pick<TestServer, 'ask' | 'call'>;

/** Adds a picture to the owner's page; resolves to its hash. */
export async function addPicture({ call }: Server, page: string, bytes = PNG): Promise<string> {
  const reply = await call('owner', 'POST', `/api/placements/${page}/pictures`, bytes, {
    'content-type': 'application/octet-stream',
  });
  if (!reply.ok) throw new Error(await reply.text());
  return ((await reply.json()) as { hash: string }).hash;
}

/** A page of the owner in a folder, with a picture, shown to its readers. */
export async function shownPage(server: Server, folderId: string) {
  const { id } = await server.ask<{ id: string }>('owner', 'POST', '/api/pages', {
    folderId,
    title: 'Page',
  });
  const picture = await addPicture(server, id);
  const html = `<p>Bring the zwetschgen jar.</p><img src="pictures/${picture}" alt="A jar">`;
  await server.ask('owner', 'POST', `/api/placements/${id}/shown`, { html, base: 0, after: null });
  return { id, picture, html };
}
