import type { FastifyReply } from 'fastify';
import {
  countProperties,
  propertiesOf,
  removeProperty,
  setProperty,
} from '../domain/programs/properties.ts';
import { notHere } from './errors.ts';
import { hrefOf } from './paths.ts';
import { isLive } from './properties.ts';
import { sendXml } from './read.ts';
import type { DavRequest } from './request.ts';
import { isLeaf, nodeKey } from './tree.ts';
import { document, nameElement, parseProppatch, response } from './xml.ts';

/** One thing has so many properties of programs at most, each so long in characters. */
const MOST = 100;
const LONGEST = 16_384;
/** And one person so many of all things. */
const MOST_OF_PERSON = 20_000;

/** PROPPATCH: what programs note about a thing: all of it or nothing. */
export async function proppatch(dav: DavRequest, reply: FastifyReply) {
  const steps = parseProppatch(await dav.xml());
  const { node, names } = await dav.find();
  if (!node) throw notHere();
  await dav.requireChangeable({ names });
  const key = nodeKey(node);
  const { db } = dav.services;
  const known = (await propertiesOf(db, dav.person.id, [key])).get(key) ?? [];
  const all = await countProperties(db, dav.person.id);
  const status = ({ set, property }: (typeof steps)[number]) => {
    if (isLive(property)) return 403;
    const full =
      known.length + steps.length > MOST ||
      all + steps.length > MOST_OF_PERSON ||
      (property.xml ?? '').length > LONGEST;
    return set && full ? 507 : 200;
  };
  const refused = steps.some((step) => status(step) !== 200);
  if (!refused)
    await db.transaction(async (tx) => {
      for (const { set, property } of steps) {
        const { namespace, name, xml = '' } = property;
        if (set) await setProperty(tx, dav.person, key, { namespace, name, xml });
        else await removeProperty(tx, dav.person.id, key, property);
      }
    });
  const stats = steps.map((step) => ({
    status: refused && status(step) === 200 ? 424 : status(step),
    xml: nameElement(step.property),
  }));
  const href = hrefOf(names, !isLeaf(node));
  return sendXml(reply, 207, document('multistatus', response(href, stats)));
}
