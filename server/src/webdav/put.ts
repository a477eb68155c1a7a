import { randomUUID } from 'node:crypto';
import type { FastifyReply } from 'fastify';
import { dayAt, propose, type FileName } from '@sammlung/core';
import { recordContent } from '../domain/contents.ts';
import { refuseBeyondQuota } from '../domain/quota.ts';
import { addTrayFile, lockTray, removeTrayFiles, setAnswer, waitingFiles } from '../domain/tray.ts';
import { deskOf } from '../features/tray/desk.ts';
import { previewRound, putInPlace } from '../features/tray/rounds.ts';
import {
  isWorkingName,
  keptName,
  putAside,
  putInFolder,
  dropAside,
  receive,
  withContent,
  type Content,
} from './contents.ts';
import { DavError, readOnly, REASONS } from './errors.ts';
import { etagOf } from '../platform/send-stored.ts';
import type { DavRequest } from './request.ts';
import { folderIdOf, isLeaf, parentKey, type Collection, type Found } from './tree.ts';

/** PUT: a file is written, whole. */
export async function put(dav: DavRequest, reply: FastifyReply) {
  const [found] = await Promise.all([dav.find(), dav.locks()]);
  const { parent, node, names, name } = found;
  if (!parent) throw new DavError(409, REASONS.noParent);
  if (node && !isLeaf(node)) throw new DavError(405, REASONS.taken);
  await dav.requireChangeable({ names, membership: node === null });
  dav.requireState(found);
  if (dav.header('content-range')) throw new DavError(400, 'Files are written whole.');
  requireRoomFor(parent, found);
  const content = await receive(dav, name);
  const created = await write(dav, found, content);
  if (content.hash !== null) reply.header('etag', etagOf(content.hash));
  return reply.code(created ? 201 : 204).send();
}

/** Throws where no file can be, before it is sent. */
export function requireRoomFor(
  parent: Collection,
  { name, node }: Pick<Found, 'name' | 'node'>,
): void {
  if (parent.kind === 'class' && !parent.folder)
    throw new DavError(
      409,
      `It is not known yet where the lessons of ${parent.code} go. Set its current folder in Sammlung first.`,
    );
  if (parent.kind === 'library')
    throw new DavError(403, 'Only folders can go at the top of the library.');
  if (parentKey(parent) === null) throw readOnly();
  if (!isWorkingName(name)) keptName(name);
  // Pages and links are written in Sammlung.
  if (node?.kind === 'item' && node.item.kind !== 'file') throw readOnly();
}

/** Makes a content what there is under a name. Resolves to whether there was nothing before. */
export async function write(
  dav: DavRequest,
  { parent, node, name }: Pick<Found, 'parent' | 'node' | 'name'>,
  content: Content,
): Promise<boolean> {
  const at = parentKey(parent!)!;
  const { hash } = content;
  // What is empty is only begun, and what has such a name is only on its way.
  if (hash === null || isWorkingName(name)) {
    const aside = node?.kind === 'item' ? { placementId: node.item.placementId } : {};
    const kept = node?.kind === 'dav-file' ? { placementId: node.file.placementId } : {};
    await putAside(dav, { parent: at, name, ...aside, ...kept }, content);
    return node === null;
  }
  const stored = { ...content, hash };
  if (parent!.kind === 'tray') {
    await putInTray(dav, name, stored);
    if (node?.kind === 'tray-file') await takeOutOfTray(dav, node.file.id);
  } else await putFile(dav, parent!, name, stored);
  if (node?.kind === 'dav-file') await dropAside(dav, [node.file]);
  return node === null;
}

type Stored = Content & { readonly hash: string };

/** A file for a folder, or for a class whose lessons go there. */
async function putFile(dav: DavRequest, parent: Collection, name: string, content: Stored) {
  const folderId = folderIdOf(parent)!;
  const classId = parent.kind === 'class' || parent.kind === 'folder' ? parent.classId : null;
  const there = await dav.tree.itemNamed(folderId, name);
  const today = dayAt(dav.t, dav.person.timeZone);
  // What has the name already is what this is the next version of, for whoever sees it.
  if (classId === null || there) {
    await putInFolder(dav, folderId, name, content, classId === null ? null : today);
    return;
  }
  const fileId = await putInTray(dav, name, content);
  await putTrayFile(dav, fileId, keptName(name), { folderId, classId });
}

/** Adds a file to the tray; one that waits there under this name with this content stays the one. Resolves to its id. */
async function putInTray(dav: DavRequest, given: string, content: Stored): Promise<string> {
  const { schoolId, id: personId } = dav.person;
  const { name } = keptName(given);
  const { hash, size, mediaType } = content;
  return withContent(dav, content, async (tx) => {
    await lockTray(tx, personId);
    const waiting = await waitingFiles(tx, personId);
    const same = waiting.find((file) => file.hash === hash && file.name === name);
    if (same) return same.id;
    await refuseBeyondQuota(tx, dav.services.settings, dav.person, size);
    await recordContent(tx, { schoolId, hash, size, mediaType });
    return addTrayFile(tx, {
      ...{ schoolId, personId, name, hash, size, mediaType, answer: null },
      ...{ uploadId: `dav-${randomUUID()}`, arrivedAt: new Date(dav.t) },
    });
  });
}

export async function takeOutOfTray(dav: DavRequest, fileId: string): Promise<void> {
  await dav.services.db.transaction(async (tx) => {
    await lockTray(tx, dav.person.id);
    await removeTrayFiles(tx, dav.person.id, [fileId], dav.t);
  });
}

/**
 * Puts a file of the tray in place as the tray does, with its rules, under the name that it has. Where the tray would ask, it is refused
 * with the reason and waits there, with all that is known.
 */
export async function putTrayFile(
  dav: DavRequest,
  fileId: string,
  name: FileName,
  { folderId, classId }: { folderId: string; classId: string | null },
): Promise<void> {
  const { services, person } = dav;
  const desk = await deskOf(services.db, person, dav.t, {
    hashes: [],
    folderIds: [folderId],
    newest: 0,
  });
  const file = { id: fileId, name: name.name, hash: '', text: '', arrivedAt: dav.t };
  const { kind } = propose({
    ...desk,
    ...{ files: [file], now: dav.t, zone: person.timeZone, titlePattern: desk.rules.titlePattern },
  }).get(fileId)!;
  const goesOut = classId === null ? 'now' : desk.rules.goesOut[kind];
  const to = [{ classId, folderId, goesOut }];
  const lessonDate = dayAt(dav.t, person.timeZone);
  const row = { fileId, title: name.title, lessonDate, to, again: false, versionOf: null };
  const found = await previewRound(services, person, [row]);
  const [refusal] = found.refused;
  if (!refusal && !found.consequences.asks) {
    await putInPlace(services, person, [row]);
    return;
  }
  await setAnswer(services.db, person.id, fileId, { kind, title: name.title, lessonDate, to });
  if (refusal)
    throw new DavError(
      409,
      refusal.folder
        ? `This is in ${refusal.folder.title} already. It waits in the tray.`
        : 'The class would not get this. It waits in the tray.',
    );
  throw new DavError(
    403,
    'More people would see this than those of the class. It waits in the tray.',
  );
}
