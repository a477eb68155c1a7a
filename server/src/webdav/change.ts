import type { FastifyReply } from 'fastify';
import { folderName, nameKey } from '@sammlung/core';
import { consequences } from '../domain/access/consequences.ts';
import { makeFolder } from '../domain/files/make-folder.ts';
import { remove } from '../domain/files/remove.ts';
import { removeLock } from '../domain/programs/locks.ts';
import { removeProperties } from '../domain/programs/properties.ts';
import { dropAside } from './contents.ts';
import { DavError, notHere, readOnly, REASONS } from './errors.ts';
import { isBelow } from './lock-paths.ts';
import { pathKey } from './paths.ts';
import type { DavRequest } from './request.ts';
import { takeOutOfTray } from './put.ts';
import { folderIdOf, nodeKey, type Collection, type DavNode } from './tree.ts';

/** MKCOL: a folder is made. */
export async function mkcol(dav: DavRequest, reply: FastifyReply) {
  const { parent, node, names, name } = await dav.find();
  if (node) throw new DavError(405, REASONS.taken);
  if (!parent) throw new DavError(409, REASONS.noParent);
  if ((await dav.xml()) !== '') throw new DavError(415, 'Folders are made empty.');
  await dav.requireChangeable({ names, membership: true });
  await makeFolderIn(dav, parent, name);
  return reply.code(201).send();
}

/** Makes a folder of exactly this name. Resolves to its id. */
export async function makeFolderIn(
  dav: DavRequest,
  parent: Collection,
  name: string,
): Promise<string> {
  const parentId = parentIdOf(parent);
  if (folderName(name) === null || nameKey(folderName(name)!) !== nameKey(name))
    throw new DavError(403, 'Folders cannot have this name here.');
  const made = await makeFolder(dav.services, dav.person, { parentId, title: name });
  return made.id;
}

/** The folder in which folders of a collection are; null for the top of the library. Throws where there can be none. */
export function parentIdOf(parent: Collection): string | null {
  if (parent.kind === 'library') return null;
  const folderId = folderIdOf(parent);
  if (!folderId) throw readOnly();
  return folderId;
}

/** DELETE: a file or folder goes into the Bin, what was only begun goes altogether. */
export async function destroy(dav: DavRequest, reply: FastifyReply) {
  const { node, names } = await dav.find();
  if (!node) throw notHere();
  await dav.requireChangeable({ names, below: true, membership: true });
  await removeNode(dav, node);
  await forgetLocks(dav, names);
  return reply.code(204).send();
}

/** Takes away what is there. A folder that somebody would lose by it is not for a program to remove. */
export async function removeNode(dav: DavRequest, node: DavNode): Promise<void> {
  const { services, person } = dav;
  if (node.kind === 'tray-file') await takeOutOfTray(dav, node.file.id);
  else if (node.kind === 'dav-file') await dropAside(dav, [node.file]);
  else if (node.kind === 'item') {
    if (node.item.kind !== 'file') throw readOnly();
    await remove(services, person, [{ kind: 'placement', id: node.item.placementId }]);
  } else if (node.kind === 'folder') {
    const things = [{ kind: 'folder' as const, id: node.id }];
    const { asks } = await consequences(services, person, { do: 'remove', things });
    if (asks)
      throw new DavError(
        403,
        'Others would lose sight of what is in this folder. Remove it in Sammlung.',
      );
    await remove(services, person, things);
  } else throw new DavError(403, REASONS.fixed);
  await removeProperties(services.db, person.id, [nodeKey(node)]);
}

/** Locks on what is no more are no more. */
export async function forgetLocks(dav: DavRequest, names: readonly string[]): Promise<void> {
  const key = pathKey(names);
  for (const { path, token } of await dav.locks())
    if (path === key || isBelow(path, key)) await removeLock(dav.services.db, token);
}
