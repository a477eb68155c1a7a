import type { Versions } from '@sammlung/contract';
import { withExtension } from '@sammlung/core';
import type { OpenedFile } from '../../domain/files/open.ts';
import { Rights } from '../../domain/access/rights.ts';
import { AppError } from '../../platform/errors.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { copyPictures } from '../../domain/pages/pages.ts';
import { addVersion, versionById } from '../../domain/versions.ts';
import { versionOfItem, versionsOfItem } from './queries.ts';

type Needs = Pick<Services, 'db' | 'now'>;

/** All states of a file, newest first. For those who may change it. */
export async function versionsOf(
  { db, now }: Needs,
  person: SignedIn,
  placementId: string,
): Promise<Versions> {
  const { itemId } = await new Rights(db, person, now()).item(placementId);
  const found = await versionsOfItem(db, itemId);
  return { versions: found.map((v) => ({ ...v, createdAt: v.createdAt.toISOString() })) };
}

/** The content of one state of a file. For those who may change it. */
export async function versionContent(
  { db, now }: Needs,
  person: SignedIn,
  placementId: string,
  versionId: string,
): Promise<OpenedFile> {
  const placement = await new Rights(db, person, now()).item(placementId);
  const found = await versionOfItem(db, placement.itemId, versionId);
  if (!found) throw new AppError('not-found');
  const { title, extension, number, page, ...content } = found;
  const name = withExtension(`${title}, version ${number}`, page ? 'html' : extension);
  return { ...content, page, name };
}

/** Makes an earlier state the newest one again: it comes back as the next version, and nothing is lost. */
export async function bringBack(
  { db, now }: Needs,
  person: SignedIn,
  placementId: string,
  versionId: string,
) {
  await db.transaction(async (tx) => {
    const { itemId } = await new Rights(tx, person, now()).item(placementId);
    const earlier = await versionById(tx, itemId, versionId);
    if (!earlier) throw new AppError('not-found');
    const t = now();
    const made = await addVersion(tx, itemId, {
      ...earlier,
      createdBy: person.id,
      createdAt: new Date(t),
    });
    await copyPictures(tx, versionId, { itemId, versionId: made }, t);
  });
}
