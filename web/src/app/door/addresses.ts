import type { Door } from '@sammlung/contract';
import { address } from '../api/addresses.ts';

/** The address of a door as it is said or printed: the short one where there is one, without the protocol. */
export const addressToSay = ({ shortAddress, address }: Pick<Door, 'shortAddress' | 'address'>) =>
  (shortAddress ?? address).replace(/^https?:\/\//u, '');

/** What a door is known by behind `/open/` and `/embed/`. */
export const tokenOf = ({ address }: Pick<Door, 'address'>) => address.split('/').at(-1)!;

/** Where the code of a door is fetched as a picture; another address has another picture. */
export const codeAddress = (door: Door, form: 'svg' | 'png') =>
  address('GET /api/doors/:door/code.:form', {
    params: { door: door.id, form },
    query: { of: door.shortAddress ?? tokenOf(door) },
  });
