/**
 * Recognises a text that was exported anew: 64 bits in which nearly the same texts differ in few places (simhash, M. Charikar 2002),
 * over pairs of words. As 16 hexadecimal digits; null for texts that are too short to tell.
 */
export function fingerprint(text: string): string | null {
  const words =
    text
      .slice(0, MOST)
      .toLowerCase()
      .match(/[\p{L}\p{N}]+/gu) ?? [];
  if (words.length < LEAST) return null;
  const balance = new Int32Array(64);
  for (let n = 0; n + RUN <= words.length; n += 1) {
    const [high, low] = hash(words.slice(n, n + RUN).join(' '));
    for (let bit = 0; bit < 32; bit += 1) {
      balance[bit]! += (high >>> bit) & 1 ? 1 : -1;
      balance[bit + 32]! += (low >>> bit) & 1 ? 1 : -1;
    }
  }
  const half = (from: number) => {
    let bits = 0;
    for (let bit = 0; bit < 32; bit += 1) if (balance[from + bit]! > 0) bits |= 1 << bit;
    return (bits >>> 0).toString(16).padStart(8, '0');
  };
  return half(0) + half(32);
}

/** So much of a text is looked at, in characters; so many words tell something; so many are taken together. */
const MOST = 100_000;
const LEAST = 30;
const RUN = 2;
/** Nearly the same texts differ in no more bits: so at least one of the eight bytes is the same. */
const NEAR = 7;
const BYTES = 8;

/** Two 32-bit hashes of a text (FNV-1a, and the same from another beginning, mixed). */
function hash(text: string): [number, number] {
  let [a, b] = [0x811c9dc5, 0x9747b28c];
  for (let n = 0; n < text.length; n += 1) {
    const code = text.charCodeAt(n);
    a = Math.imul(a ^ code, 0x01000193);
    b = Math.imul(b ^ code, 0x85ebca6b);
    b ^= b >>> 13;
  }
  return [mix(a), mix(b)];
}

function mix(value: number): number {
  let x = value;
  x = Math.imul(x ^ (x >>> 16), 0x85ebca6b);
  x = Math.imul(x ^ (x >>> 13), 0xc2b2ae35);
  return (x ^ (x >>> 16)) >>> 0;
}

/** Texts by their fingerprints, to find nearly the same ones. */
export class Fingerprints<T extends { readonly fingerprint: string }> {
  readonly #high: Int32Array;
  readonly #low: Int32Array;
  /** For each byte and each value of it the first text that has it there, and for each text the next one. */
  readonly #first = new Int32Array(BYTES * 256).fill(-1);
  readonly #next: Int32Array;

  constructor(private readonly known: readonly T[]) {
    this.#high = new Int32Array(known.length);
    this.#low = new Int32Array(known.length);
    this.#next = new Int32Array(known.length * BYTES);
    for (const [n, { fingerprint: print }] of known.entries()) {
      const [high, low] = halves(print);
      this.#high[n] = high;
      this.#low[n] = low;
      for (let byte = 0; byte < BYTES; byte += 1) {
        const at = byte * 256 + byteOf(high, low, byte);
        this.#next[n * BYTES + byte] = this.#first[at]!;
        this.#first[at] = n;
      }
    }
  }

  /** The one that is nearest to this fingerprint, the earliest of several; null where none is near enough. */
  nearest(print: string): T | null {
    const [high, low] = halves(print);
    let best = -1;
    let least = NEAR + 1;
    for (let byte = 0; byte < BYTES; byte += 1) {
      let n = this.#first[byte * 256 + byteOf(high, low, byte)]!;
      for (; n >= 0; n = this.#next[n * BYTES + byte]!) {
        const differing = ones(high ^ this.#high[n]!) + ones(low ^ this.#low[n]!);
        if (differing < least || (differing === least && n < best)) [best, least] = [n, differing];
      }
    }
    return this.known[best] ?? null;
  }
}

const byteOf = (high: number, low: number, byte: number) =>
  ((byte < 4 ? high : low) >>> ((byte % 4) * 8)) & 0xff;

const halves = (print: string): [number, number] => [
  Number.parseInt(print.slice(0, 8), 16) | 0,
  Number.parseInt(print.slice(8), 16) | 0,
];

/** How many bits of a 32-bit number are set. */
function ones(bits: number): number {
  let x = bits - ((bits >>> 1) & 0x55555555);
  x = (x & 0x33333333) + ((x >>> 2) & 0x33333333);
  return Math.imul((x + (x >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24;
}
