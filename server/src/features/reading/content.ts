import { join } from 'node:path';
import send from '@fastify/send';
import type { FastifyReply, FastifyRequest } from 'fastify';
import { disposition } from '../../platform/disposition.ts';
import { sendFileRange } from '../../platform/send-file-range.ts';
import { AppError } from '../../platform/errors.ts';
import type { Storage } from '../../platform/storage.ts';
import type { As } from './queries.ts';

/** Kinds that browsers show without running anything in them. All else is only downloaded. */
const SHOWN =
  /^(application\/pdf|image\/(png|jpeg|gif|webp|avif)|audio\/[\w.+-]+|video\/[\w.+-]+|text\/plain)$/u;

/** From this length on a content is pumped, not streamed. */
const PUMPED = 4 << 20;

/** A file as it goes out. */
export interface Content {
  readonly schoolId: string;
  readonly hash: string;
  readonly mediaType: string;
  readonly name: string;
}

/**
 * Sends a file's content: by ranges where asked, under its own name, never to be run as a page of ours. What may be
 * seen can change at any time, so browsers may keep it but have to ask again. Throws `content-missing` and
 * `range-not-there`.
 */
export async function sendContent(
  request: FastifyRequest,
  reply: FastifyReply,
  storage: Storage,
  content: Content,
  as: As,
) {
  const { root, file } = storage.locate(content.schoolId, content.hash);
  const result = await send(request.raw, file, {
    root,
    cacheControl: false,
    contentType: false,
    highWaterMark: 1 << 20,
  });
  if (result.type === 'error') {
    if (result.statusCode !== 416) throw new AppError('content-missing');
    throw new AppError('range-not-there', {
      headers: { 'content-range': String(result.headers['Content-Range']) },
    });
  }
  const inline = as === 'inline' && SHOWN.test(content.mediaType);
  reply
    .code(result.statusCode)
    .headers(result.headers)
    .headers({
      'content-type': inline ? shownType(content.mediaType) : content.mediaType,
      'content-disposition': disposition(content.name, inline ? 'inline' : 'attachment'),
      'cache-control': 'private, no-cache',
      'x-content-type-options': 'nosniff',
      'content-security-policy': "sandbox; default-src 'none'; style-src 'unsafe-inline'",
      'cross-origin-resource-policy': 'same-origin',
    });
  const length = Number(result.headers['Content-Length'] ?? 0);
  if (length < PUMPED || request.method === 'HEAD') return reply.send(result.stream);
  result.stream.destroy();
  const start = Number(/^bytes (\d+)-/u.exec(String(result.headers['Content-Range']))?.[1] ?? 0);
  return sendFileRange(reply, join(root, file), start, length);
}

function shownType(mediaType: string): string {
  return mediaType === 'text/plain' ? 'text/plain; charset=utf-8' : mediaType;
}
