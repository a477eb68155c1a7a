import type { FastifyReply } from 'fastify';
import { extensionOf, nameKey } from '@sammlung/core';
import { consequences } from '../domain/access/consequences.ts';
import { Rights } from '../domain/access/rights.ts';
import { move as moveThings } from '../domain/files/move.ts';
import { checkedTitle } from '../domain/files/make-folder.ts';
import { changeFolder } from '../domain/folders.ts';
import { changeItem } from '../domain/placements.ts';
import { moveDavFile, removeDavFiles } from '../domain/programs/dav-files.ts';
import { copyProperties } from '../domain/programs/properties.ts';
import { addWaitingMove } from '../domain/programs/waiting-moves.ts';
import { renameTrayFile } from '../domain/tray.ts';
import { AppError } from '../platform/errors.ts';
import { forgetLocks, makeFolderIn, parentIdOf, removeNode } from './change.ts';
import { EMPTY, isWorkingName, keptName, putAside, type Content } from './contents.ts';
import { DavError, notHere, readOnly, REASONS } from './errors.ts';
import { pathKey } from './paths.ts';
import { isBelow } from './lock-paths.ts';
import { putTrayFile, requireRoomFor, write } from './put.ts';
import type { DavRequest } from './request.ts';
import {
  folderIdOf,
  isLeaf,
  nodeKey,
  parentKey,
  type Collection,
  type DavNode,
  type Found,
  type Leaf,
} from './tree.ts';

/** So many files and folders are copied by one request. */
const MOST_COPIED = 2000;

/** What a request moves or copies, and where to. */
interface Transfer {
  readonly from: Found & { readonly node: DavNode };
  readonly to: Found & { readonly parent: Collection };
}

/** Reads both ends, and whether what is at the second may be written over. */
async function bothEnds(dav: DavRequest, moves: boolean): Promise<Transfer> {
  const names = dav.destination();
  const [from, to] = await Promise.all([dav.find(), dav.find(names)]);
  if (!from.node) throw notHere();
  const [source, target] = [pathKey(from.names), pathKey(names)];
  if (source === target && !isRename(from, to)) throw new DavError(403, 'It is there already.');
  if (isBelow(target, source)) throw new DavError(403, 'A folder cannot go inside itself.');
  if (isBelow(source, target))
    throw new DavError(403, 'It cannot take the place of what it is in.');
  if (!to.parent) throw new DavError(409, REASONS.noParent);
  if (to.node && !dav.overwrites()) throw new DavError(412, REASONS.taken);
  await dav.requireChangeable(
    ...(moves ? [{ names: from.names, below: true, membership: true }] : []),
    { names, below: to.node !== null, membership: true },
  );
  return { from: { ...from, node: from.node }, to: { ...to, parent: to.parent } };
}

/** Only upper and lower case differ. */
const isRename = (from: Found, to: Found) => from.name !== to.name;

/** MOVE. */
export async function move(dav: DavRequest, reply: FastifyReply) {
  if (dav.depth() !== 'infinity') throw new DavError(400, 'Folders are moved with all in them.');
  const { from, to } = await bothEnds(dav, true);
  const { node } = from;
  const overwrites = to.node !== null && pathKey(from.names) !== pathKey(to.names);
  if (isLeaf(node)) await moveLeaf(dav, { from, to }, node, overwrites);
  else await moveFolder(dav, { from, to }, overwrites);
  await forgetLocks(dav, from.names);
  return reply.code(overwrites ? 204 : 201).send();
}

async function moveFolder(dav: DavRequest, { from, to }: Transfer, overwrites: boolean) {
  const { node } = from;
  if (node.kind !== 'folder' || from.parent?.kind === 'shelf')
    throw new DavError(403, REASONS.fixed);
  const parentId = parentIdOf(to.parent);
  await requireAgreed(dav, 'folder', node.id, parentId, from.parent!);
  if (overwrites) await removeNode(dav, to.node!);
  const { services, person } = dav;
  if (placeOf(from.parent!) !== parentId)
    await moveThings(services, person, {
      things: [{ kind: 'folder', id: node.id }],
      ...{ to: parentId, before: null },
    });
  if (from.name === to.name) return;
  await new Rights(services.db, person, dav.t).changeableFolder(node.id);
  await changeFolder(services.db, node.id, { title: checkedTitle(to.name) });
}

/** The folder in which something is; null for the top of the library. */
const placeOf = (parent: Collection) => (parent.kind === 'library' ? null : folderIdOf(parent));

/**
 * Throws where a move would show something to more people, or take something from a class, which is for somebody to decide: it waits in
 * Today.
 */
async function requireAgreed(
  dav: DavRequest,
  kind: 'folder' | 'placement',
  id: string,
  to: string | null,
  from: Collection,
): Promise<void> {
  if (placeOf(from) === to) return;
  const { services, person } = dav;
  const { asks } = await consequences(services, person, { do: 'move', things: [{ kind, id }], to });
  if (!asks) return;
  await addWaitingMove(services.db, person, { kind, thingId: id, toFolderId: to }, dav.t);
  throw new DavError(
    403,
    'Others would see this, or lose sight of it, by this move. It waits for your decision under Today.',
  );
}

async function moveLeaf(dav: DavRequest, { from, to }: Transfer, node: Leaf, overwrites: boolean) {
  if (to.node && !isLeaf(to.node)) await removeNode(dav, to.node);
  requireRoomFor(to.parent, to.node && isLeaf(to.node) ? to : { ...to, node: null });
  if (node.kind === 'dav-file') return moveOwn(dav, { from, to }, node);
  if (node.kind === 'tray-file') return moveFromTray(dav, { from, to }, node, overwrites);
  return moveItem(dav, { from, to }, node, overwrites);
}

/** What a program has written under a name of its own gets the name that it is for. */
async function moveOwn(
  dav: DavRequest,
  { to }: Transfer,
  { file }: Extract<Leaf, { kind: 'dav-file' }>,
) {
  const { db } = dav.services;
  const parent = parentKey(to.parent)!;
  const target = to.node;
  if (file.placementId !== null && file.hash === null) {
    // It stands for a file that was set aside, which goes back to its name.
    await removeDavFiles(db, [file.id]);
    const back = (await dav.find(to.names)).node;
    if (back?.kind !== 'item' || back.item.placementId !== file.placementId)
      await renameItem(dav, file.placementId, to.name);
    return;
  }
  if (file.hash === null || isWorkingName(to.name)) {
    if (target?.kind === 'dav-file') await removeDavFiles(db, [target.file.id]);
    else if (target) await removeNode(dav, target);
    await moveDavFile(db, file.id, { parent, name: to.name, nameKey: nameKey(to.name) });
    return;
  }
  await write(dav, { ...to, node: target }, { ...file, hash: file.hash });
  await removeDavFiles(db, [file.id]);
}

async function moveFromTray(
  dav: DavRequest,
  { from, to }: Transfer,
  { file }: Extract<Leaf, { kind: 'tray-file' }>,
  overwrites: boolean,
) {
  if (to.parent.kind === 'tray') {
    if (overwrites && to.node) await removeNode(dav, to.node);
    await renameTrayFile(dav.services.db, dav.person.id, file.id, keptName(to.name).name);
    return;
  }
  const folderId = folderIdOf(to.parent)!;
  if (isWorkingName(to.name) || (overwrites && to.node)) {
    await write(dav, to, { ...file, hash: file.hash });
    await removeNode(dav, from.node);
    return;
  }
  const { kind } = to.parent;
  const classId = kind === 'class' || kind === 'folder' ? to.parent.classId : null;
  await putTrayFile(dav, file.id, keptName(to.name), { folderId, classId });
}

async function moveItem(
  dav: DavRequest,
  { from, to }: Transfer,
  node: Extract<Leaf, { kind: 'item' }>,
  overwrites: boolean,
) {
  const { placementId, kind } = node.item;
  if (from.parent?.kind === 'shelf' || to.parent.kind === 'tray') throw readOnly();
  if (kind !== 'file' && extensionOf(from.name) !== extensionOf(to.name)) throw readOnly();
  const { services, person } = dav;
  const folderId = folderIdOf(to.parent)!;
  if (isWorkingName(to.name)) {
    // Programs that save set the old file aside first: nobody is to miss it meanwhile.
    if (node.item.folderId !== folderId)
      throw new DavError(403, 'Files cannot have this name here.');
    await new Rights(services.db, person, dav.t).items([placementId]);
    await putAside(dav, { parent: parentKey(to.parent)!, name: to.name, placementId }, EMPTY);
    return;
  }
  if (overwrites && to.node && isLeaf(to.node)) {
    // What is written over is the next version of what was there, and the other one goes.
    await requireAgreed(dav, 'placement', placementId, folderId, from.parent!);
    const { hash, size, mediaType } = node.item;
    if (hash === null) throw readOnly();
    await write(dav, to, { hash, size: size ?? 0, mediaType: mediaType ?? EMPTY.mediaType });
    await removeNode(dav, node);
    return;
  }
  await requireAgreed(dav, 'placement', placementId, folderId, from.parent!);
  const renames = from.name !== to.name;
  if (renames && node.item.folderId === folderId) return renameItem(dav, placementId, to.name);
  await moveThings(services, person, {
    things: [{ kind: 'placement', id: placementId }],
    ...{ to: folderId, before: null },
  });
  if (renames) await renameItem(dav, placementId, to.name);
}

async function renameItem(dav: DavRequest, placementId: string, given: string): Promise<void> {
  const { db } = dav.services;
  const { itemId } = await new Rights(db, dav.person, dav.t).item(placementId);
  const { title, extension } = keptName(given);
  await changeItem(db, itemId, { title, extension });
}

/** COPY: another file of the same content, or another folder with such files. */
export async function copy(dav: DavRequest, reply: FastifyReply) {
  const depth = dav.depth();
  if (depth === '1') throw new DavError(400, 'Folders are copied alone or with all in them.');
  const { from, to } = await bothEnds(dav, false);
  if (to.parent.kind === 'class' || (to.parent.kind === 'folder' && to.parent.classId !== null))
    throw new DavError(403, 'Files are moved or saved to a class, not copied.');
  const replaced = to.node;
  if (replaced && !(isLeaf(replaced) && isLeaf(from.node))) await removeNode(dav, replaced);
  const left = { count: MOST_COPIED };
  await copyNode(dav, from.node, { ...to, node: isLeaf(from.node) ? replaced : null }, depth, left);
  return reply.code(replaced ? 204 : 201).send();
}

async function copyNode(
  dav: DavRequest,
  node: DavNode,
  to: Transfer['to'],
  depth: '0' | 'infinity',
  left: { count: number },
): Promise<void> {
  left.count -= 1;
  if (left.count < 0) throw new DavError(403, 'This is more than can be copied at once.');
  if (isLeaf(node)) await copyLeaf(dav, node, to);
  else {
    if (node.kind !== 'folder') throw new DavError(403, REASONS.fixed);
    await makeFolderIn(dav, to.parent, to.name);
    if (depth === 'infinity') {
      const made = (await dav.find(to.names)).node as Collection;
      for (const one of await dav.tree.children(node))
        await copyNode(
          dav,
          one.node,
          { names: [...to.names, one.name], name: one.name, parent: made, node: null },
          depth,
          left,
        );
    }
  }
  const copied = (await dav.find(to.names)).node;
  if (copied)
    await dav.services.db.transaction((tx) =>
      copyProperties(tx, dav.person.id, nodeKey(node), nodeKey(copied)),
    );
}

async function copyLeaf(dav: DavRequest, node: Leaf, to: Transfer['to']): Promise<void> {
  requireRoomFor(to.parent, to);
  const content = contentOf(node);
  if (node.kind === 'item') {
    const folderId = folderIdOf(to.parent);
    const own = folderId !== null && node.item.folderId !== folderId;
    if (own) {
      const { asks } = await consequences(dav.services, dav.person, {
        ...{ do: 'place', placements: [node.item.placementId], to: [folderId] },
      }).catch((error: unknown) => {
        // What is another’s is not the person’s to hand out: it is copied for themselves.
        if (error instanceof AppError) return { asks: true };
        throw error;
      });
      if (asks) throw new DavError(403, 'Others would see this by it. Place it in Sammlung.');
    }
  }
  await write(dav, to, content);
}

/** Throws for what is no file of its own: a page, or a link. */
function contentOf(node: Leaf): Content {
  if (node.kind === 'item') {
    const { kind, hash, size, mediaType } = node.item;
    if (kind !== 'file' || hash === null) throw readOnly();
    return { hash, size: size ?? 0, mediaType: mediaType ?? EMPTY.mediaType };
  }
  return node.file;
}
