import { createHmac } from 'node:crypto';

const LETTERS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567';

/** The code that an app shows for a secret (in base 32) at an instant, `steps` of 30 seconds later (RFC 6238). */
export function totp(secret: string, t = Date.now(), steps = 0): string {
  const bits = [...secret].map((one) => LETTERS.indexOf(one).toString(2).padStart(5, '0')).join('');
  const key = Buffer.from(bits.match(/.{8}/gu)!.map((byte) => Number.parseInt(byte, 2)));
  const counter = Buffer.alloc(8);
  counter.writeBigUInt64BE(BigInt(Math.floor(t / 30_000) + steps));
  const mac = createHmac('sha1', key).update(counter).digest();
  const number = mac.readUInt32BE(mac.at(-1)! & 15) & 0x7fff_ffff;
  return String(number % 1_000_000).padStart(6, '0');
}
