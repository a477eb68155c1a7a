import type { FastifyReply } from 'fastify';
import { cardsSeen } from '../domain/access/cards.ts';
import { openFile } from '../domain/files/open.ts';
import { propertiesOf } from '../domain/programs/properties.ts';
import { quotaOf, usedBy } from '../domain/quota.ts';
import { sendContent } from '../features/reading/content.ts';
import { disposition } from '../platform/disposition.ts';
import { NEVER_RUN, sendStored } from '../platform/send-stored.ts';
import { DavError, notHere } from './errors.ts';
import { hrefOf } from './paths.ts';
import { asksForRoom, linkFile, propstats } from './properties.ts';
import type { DavRequest } from './request.ts';
import { isLeaf, nodeKey, type Leaf, type Named } from './tree.ts';
import { document, parsePropfind, response } from './xml.ts';

/** GET and HEAD: a file as it is kept, and of a folder a word to whoever has come with a browser. */
export async function get(dav: DavRequest, reply: FastifyReply) {
  const { node } = await dav.find();
  if (!node) throw notHere();
  if (isLeaf(node)) return sendLeaf(dav, reply, node);
  return reply
    .type('text/plain; charset=utf-8')
    .send('These folders are for programs: mount this address, or add it as a network drive.\n');
}

async function sendLeaf(dav: DavRequest, reply: FastifyReply, node: Leaf) {
  const { services, request } = dav;
  const { storage } = services;
  if (node.kind === 'item') {
    const { kind, placementId, url } = node.item;
    if (kind === 'link')
      return reply
        .headers(NEVER_RUN)
        .type('text/plain; charset=utf-8')
        .send(linkFile(url ?? ''));
    const found = await openFile(services.db, dav.tree.viewer, placementId, {
      of: undefined,
      download: true,
    });
    return sendContent(request, reply, services, found, {
      ...{ as: 'attachment', form: undefined },
      name: (things) => cardsSeen(services.db, dav.tree.viewer, things),
    });
  }
  const { schoolId, hash, mediaType, name } = node.file;
  const headers = {
    'content-type': mediaType,
    'content-disposition': disposition(name, 'attachment'),
    'cache-control': 'private, no-cache',
    ...NEVER_RUN,
  };
  if (hash === null) return reply.headers(headers).send('');
  return sendStored(request, reply, storage, { schoolId, hash }, headers);
}

/** PROPFIND: what is known of a thing, or of a folder and what is in it. Never of a whole tree at once. */
export async function propfind(dav: DavRequest, reply: FastifyReply) {
  const asked = parsePropfind(await dav.xml());
  const depth = dav.depth();
  const { node, names } = await dav.find();
  if (!node) throw notHere();
  if (depth === 'infinity')
    throw new DavError(403, 'Folders are listed one by one.', {
      condition: 'propfind-finite-depth',
    });
  const below: Named[] = depth === '1' && !isLeaf(node) ? await dav.tree.children(node) : [];
  const { db, settings } = dav.services;
  const [locks, set, used] = await Promise.all([
    dav.locks(),
    propertiesOf(db, dav.person.id, [node, ...below.map((one) => one.node)].map(nodeKey)),
    asksForRoom(asked) ? usedBy(db, dav.person.id) : null,
  ]);
  const quota = quotaOf(settings, dav.person);
  const room = used === null ? null : { used, left: Math.max(0, quota - used) };
  const here = { names, node };
  const all = [here, ...below.map((one) => ({ names: [...names, one.name], node: one.node }))];
  const xml = all.map((one) =>
    response(
      hrefOf(one.names, !isLeaf(one.node)),
      propstats(asked, {
        ...one,
        locks,
        set: set.get(nodeKey(one.node)) ?? [],
        room: isLeaf(one.node) ? null : room,
      }),
    ),
  );
  return sendXml(reply, 207, document('multistatus', xml.join('')));
}

export const sendXml = (reply: FastifyReply, status: number, xml: string) =>
  reply.code(status).type('application/xml; charset=utf-8').send(xml);
