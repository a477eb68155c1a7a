import type { NewToken, Token, Tokens, WaitingMove } from '@sammlung/contract';
import type { z } from 'zod';
import { foldersFor } from '../../domain/access/folders.ts';
import { viewerOf } from '../../domain/access/viewer.ts';
import {
  addToken,
  restoreToken,
  revokeToken,
  tokensOf,
  type Token as TokenRow,
} from '../../domain/programs/tokens.ts';
import { removeWaitingMove, waitingMovesOf } from '../../domain/programs/waiting-moves.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import { AppError } from '../../platform/errors.ts';
import { itemTitles, signInNameOf } from './queries.ts';

type Needs = Pick<Services, 'db' | 'now' | 'address'>;

const toToken = ({ id, name, writes, createdAt, usedAt }: TokenRow): Token => ({
  ...{ id, name, writes },
  createdAt: createdAt.toISOString(),
  usedAt: usedAt?.toISOString() ?? null,
});

/** One’s passwords for programs, and where programs find the folders. */
export async function listTokens({ db, address }: Needs, person: SignedIn): Promise<Tokens> {
  requireFolders(person);
  return {
    tokens: (await tokensOf(db, person.id)).map(toToken),
    address: `${address()}/dav/`,
    signInName: await signInNameOf(db, person.id),
  };
}

/** Makes a password for programs; students’ only read. Throws `too-many-tokens`. */
export async function makeToken(
  { db, now }: Needs,
  person: SignedIn,
  { name, writes }: z.output<typeof NewToken>,
): Promise<Token & { password: string }> {
  requireFolders(person);
  const may = { name, writes: writes && person.kind === 'teacher' };
  const { token, password } = await db.transaction((tx) => addToken(tx, person, may, now()));
  return { ...toToken(token), password };
}

export const revoke = ({ db, now }: Needs, person: SignedIn, id: string) =>
  revokeToken(db, person.id, id, now());

export const restore = ({ db, now }: Needs, person: SignedIn, id: string) =>
  db.transaction((tx) => restoreToken(tx, person.id, id, now()));

/** The office has no folders of its own. */
function requireFolders({ kind }: SignedIn) {
  if (kind === 'office') throw new AppError('not-found');
}

/** Moves that programs wanted, of things and folders that are there still. */
export async function movesWaiting(
  { db, now }: Needs,
  person: SignedIn,
): Promise<{ moves: WaitingMove[] }> {
  const moves = await waitingMovesOf(db, person.id);
  const ids = moves.flatMap(({ kind, thingId, toFolderId }) =>
    [kind === 'folder' ? thingId : null, toFolderId].flatMap((id) => id ?? []),
  );
  const folders = await foldersFor(db, viewerOf(person, now()), [...new Set(ids)]);
  const items = await itemTitles(
    db,
    moves.flatMap(({ kind, thingId }) => (kind === 'placement' ? thingId : [])),
  );
  return {
    moves: moves.flatMap(({ id, kind, thingId, toFolderId, at }): WaitingMove[] => {
      const title = kind === 'folder' ? folders.get(thingId)?.title : items.get(thingId);
      const to = toFolderId === null ? null : folders.get(toFolderId);
      if (title === undefined || to === undefined) return [];
      return [
        {
          ...{ id, thing: { kind, id: thingId, title } },
          to: to && { id: to.id, title: to.title },
          at: at.toISOString(),
        },
      ];
    }),
  };
}

export const waitNoMore = ({ db }: Needs, person: SignedIn, id: string) =>
  removeWaitingMove(db, person.id, id);
