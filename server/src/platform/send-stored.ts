import type { ServerResponse } from 'node:http';
import { Readable } from 'node:stream';
import type { FastifyReply, FastifyRequest } from 'fastify';
import fresh from 'fresh';
import parseRange from 'range-parser';
import { AppError } from './errors.ts';
import type { ByteRange, ContentKey, OpenContent, Storage } from './storage.ts';

/** Up to this length a content is sent as one buffer, up to the second one as a stream; longer ones through a few buffers. */
const [SHORT, LONG] = [256 << 10, 4 << 20];
const CHUNK = 1 << 20;
const BUFFERS = 3;

/** The entity tag of a content: 128 bits of its hash, which some programs can still carry twice in a header. */
export const etagOf = (hash: string, form = '') => `"${hash.slice(0, 32)}${form}"`;

/** A content from outside is never run as a page of ours. */
export const NEVER_RUN = {
  'x-content-type-options': 'nosniff',
  'content-security-policy': "sandbox; default-src 'none'; style-src 'unsafe-inline'",
  'cross-origin-resource-policy': 'same-origin',
};

/**
 * Sends a kept content, or the range of it that is asked for, with the headers given; browsers that have it are told so.
 * Throws `content-missing` and `range-not-there`.
 */
export async function sendStored(
  request: FastifyRequest,
  reply: FastifyReply,
  storage: Storage,
  key: ContentKey,
  headers: Record<string, string>,
): Promise<FastifyReply> {
  if (request.server.services.settings.sendfile === 'x-accel') {
    if (!(await storage.stat(key))) throw new AppError('content-missing');
    // Ranges and conditions are the business of the server in front.
    return reply
      .headers({ ...headers, 'x-accel-redirect': `/stored/${storage.placeOf(key)}` })
      .send();
  }
  const content = await storage.open(key);
  if (!content) throw new AppError('content-missing');
  try {
    // What is made of a content may be made again.
    const form = key.form ? `.${key.form}.${content.modifiedAt.getTime()}` : '';
    const state = {
      etag: etagOf(key.hash, form),
      'last-modified': content.modifiedAt.toUTCString(),
    };
    if (fresh(request.headers, state)) {
      await content.close();
      return await reply
        .code(304)
        .headers({ ...headers, ...state })
        .send();
    }
    const range = rangeOf(request, content.size, Object.values(state));
    const { start, length } = range ?? { start: 0, length: content.size };
    reply.headers({ ...headers, ...state, 'accept-ranges': 'bytes', 'content-length': length });
    if (range)
      reply
        .code(206)
        .header('content-range', `bytes ${start}-${start + length - 1}/${content.size}`);
    return await sendRange(request, reply, content, { start, length });
  } catch (error) {
    await content.close();
    throw error;
  }
}

/** The range a request asks for; null for all of it. Throws `range-not-there`. */
function rangeOf(
  { headers }: FastifyRequest,
  size: number,
  /** What an `If-Range` may name. */
  states: readonly string[],
): ByteRange | null {
  const condition = headers['if-range'];
  if (!headers.range || (condition && !states.includes(String(condition)))) return null;
  const ranges = parseRange(size, headers.range, { combine: true });
  if (ranges === -1)
    throw new AppError('range-not-there', { headers: { 'content-range': `bytes */${size}` } });
  // What is no range, or several, is answered with all.
  if (ranges === -2 || ranges.type !== 'bytes' || ranges.length !== 1) return null;
  const { start, end } = ranges[0]!;
  return { start, length: end - start + 1 };
}

async function sendRange(
  request: FastifyRequest,
  reply: FastifyReply,
  content: OpenContent,
  { start, length }: ByteRange,
) {
  if (request.method === 'HEAD' || length === 0) {
    await content.close();
    return reply.send(Readable.from([]));
  }
  if (length <= SHORT) {
    const bytes = await content.read(Buffer.allocUnsafe(length), start);
    await content.close();
    return reply.send(bytes);
  }
  if (length <= LONG) return reply.send(content.stream({ start, length }));
  return sendLongRange(reply, content, { start, length });
}

/**
 * Two chunks are read ahead into the same few buffers while one is sent, which is half as fast again as a stream and takes
 * 3 MB however large the content is. Ends quietly when the reader goes away; breaks the connection off when the content
 * cannot be read to its end, so that nobody takes a part for the whole.
 */
async function sendLongRange(reply: FastifyReply, content: OpenContent, range: ByteRange) {
  reply.hijack();
  const { raw } = reply;
  try {
    raw.writeHead(reply.statusCode, reply.getHeaders() as Record<string, string>);
    await writeAll(content, raw, range);
    raw.end();
  } catch (error) {
    if (!raw.destroyed) reply.log.error(error);
    raw.destroy();
  } finally {
    await content.close();
  }
  return reply;
}

async function writeAll(content: OpenContent, raw: ServerResponse, { start, length }: ByteRange) {
  const buffers = Array.from({ length: BUFFERS }, () => Buffer.allocUnsafeSlow(CHUNK));
  const reads: Promise<Buffer>[] = [];
  let asked = 0;
  const readAhead = () => {
    const buffer = buffers[(asked / CHUNK) % BUFFERS]!;
    const size = Math.min(CHUNK, length - asked);
    reads.push(content.read(buffer.subarray(0, size), start + asked));
    asked += CHUNK;
  };
  try {
    for (let n = 1; n < BUFFERS && asked < length; n += 1) readAhead();
    for (let chunk = reads.shift(); chunk; chunk = reads.shift()) {
      const sent = write(raw, await chunk);
      if (asked < length) readAhead();
      await sent;
    }
  } finally {
    // A buffer may not be let go of while something is still read into it.
    await Promise.allSettled(reads);
  }
}

function write(raw: ServerResponse, chunk: Buffer): Promise<void> {
  return new Promise((resolve, reject) => {
    if (raw.destroyed) reject(new Error('The reader has gone away'));
    else raw.write(chunk, (error) => (error ? reject(error) : resolve()));
  });
}
