import { randomUUID } from 'node:crypto';
import type { FastifyReply } from 'fastify';
import {
  addLock,
  MOST_LOCKS,
  removeLock,
  renewLock,
  type DavLock,
} from '../domain/programs/locks.ts';
import { EMPTY, putAside } from './contents.ts';
import { DavError, REASONS } from './errors.ts';
import { covers, isBelow, lockOfToken, tokenOfLock } from './lock-paths.ts';
import { pathKey } from './paths.ts';
import { lockDiscovery } from './properties.ts';
import { requireRoomFor } from './put.ts';
import { sendXml } from './read.ts';
import type { DavRequest } from './request.ts';
import { isLeaf, parentKey } from './tree.ts';
import { document, parseLock } from './xml.ts';

/** A lock holds at most so long without being renewed, in seconds; so long where the program does not say. */
const LONGEST = 60 * 60;
const USUAL = 10 * 60;

/** How long a program wants a lock to hold, in seconds. */
function secondsIn(header: string | undefined): number {
  const found = /^\s*Second-(\d{1,10})/iu.exec(header ?? '');
  if (found) return Math.min(LONGEST, Math.max(1, Number(found[1])));
  return /^\s*Infinite/iu.test(header ?? '') ? LONGEST : USUAL;
}

/** LOCK: what is there, or will be, is for one program, or for those that share it; or a lock is renewed. */
export async function lock(dav: DavRequest, reply: FastifyReply) {
  const wanted = parseLock(await dav.xml());
  const endsAt = new Date(dav.t + secondsIn(dav.header('timeout')) * 1000);
  if (!wanted) return renew(dav, reply, endsAt);
  const depth = dav.depth();
  if (depth === '1') throw new DavError(400, 'Locks are on one thing or on all below it.');
  await dav.requireConditions();
  const found = await dav.find();
  const { node, parent, names, name } = found;
  if (!node && !parent) throw new DavError(409, REASONS.noParent);
  const key = pathKey(names);
  const infinite = depth === 'infinity';
  const locks = await dav.locks();
  const inTheWay = locks.filter((one) => covers(one, key) || (infinite && isBelow(one.path, key)));
  if (inTheWay.some(({ exclusive }) => exclusive || wanted.exclusive))
    throw new DavError(423, REASONS.locked, { condition: 'no-conflicting-lock' });
  if (locks.length >= MOST_LOCKS) throw new DavError(507, 'There are too many locks.');
  if (!node) {
    // What is not there yet is begun, empty.
    requireRoomFor(parent!, found);
    await putAside(dav, { parent: parentKey(parent!)!, name }, EMPTY);
  }
  const made = {
    ...{ token: randomUUID(), path: key, infinite: infinite && !(node && isLeaf(node)) },
    ...{ exclusive: wanted.exclusive, owner: wanted.owner, endsAt },
  };
  await addLock(dav.services.db, dav.person, made, dav.t);
  reply.header('lock-token', `<${tokenOfLock(made)}>`);
  return tell(dav, reply, node ? 200 : 201, [{ ...made, schoolId: '', personId: '' }]);
}

async function renew(dav: DavRequest, reply: FastifyReply, endsAt: Date) {
  await dav.requireConditions();
  const key = pathKey(dav.names);
  const shown = dav.shownTokens();
  const held = (await dav.locks()).find((one) => shown.has(one.token) && covers(one, key));
  if (!held)
    throw new DavError(412, 'There is no such lock.', {
      condition: 'lock-token-matches-request-uri',
    });
  await renewLock(dav.services.db, held.token, endsAt);
  return tell(dav, reply, 200, [{ ...held, endsAt }]);
}

const tell = (dav: DavRequest, reply: FastifyReply, status: number, locks: readonly DavLock[]) =>
  sendXml(reply, status, document('prop', lockDiscovery(locks, dav.names)));

/** UNLOCK: a lock is let go of. */
export async function unlock(dav: DavRequest, reply: FastifyReply) {
  const token = lockOfToken((dav.header('lock-token') ?? '').trim().replace(/^<|>$/gu, ''));
  if (dav.header('lock-token') === undefined) throw new DavError(400, 'This names no lock.');
  const key = pathKey(dav.names);
  const held = (await dav.locks()).find((one) => one.token === token && covers(one, key));
  if (!held)
    throw new DavError(409, 'There is no such lock.', {
      condition: 'lock-token-matches-request-uri',
    });
  await removeLock(dav.services.db, held.token);
  return reply.code(204).send();
}
