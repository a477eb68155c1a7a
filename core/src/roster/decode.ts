/** How a list was written down, as far as its bytes tell. */
export type Encoding = 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252';

/**
 * The text in the bytes of a list: by its byte order mark, else UTF-8 where that fits, else UTF-16 where every other
 * byte is empty, else the encoding of older spreadsheets (Windows-1252). Line ends become `\n`.
 */
export function decodeList(bytes: Uint8Array): { text: string; encoding: Encoding } {
  const encoding = encodingOf(bytes);
  const text = new TextDecoder(encoding).decode(bytes).replace(/\r\n?/gu, '\n');
  return { text, encoding };
}

function encodingOf(bytes: Uint8Array): Encoding {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le';
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be';
  const start = bytes.subarray(0, 1000);
  const empty = (odd: number) =>
    start.filter((byte, n) => n % 2 === odd && byte === 0).length > start.length / 5;
  if (empty(1)) return 'utf-16le';
  if (empty(0)) return 'utf-16be';
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    return 'utf-8';
  } catch (error) {
    if (error instanceof TypeError) return 'windows-1252';
    throw error;
  }
}
