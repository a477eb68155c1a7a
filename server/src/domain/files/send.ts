import type { FastifyReply, FastifyRequest } from 'fastify';
import { disposition } from '../../platform/disposition.ts';
import { NEVER_RUN, sendStored } from '../../platform/send-stored.ts';
import type { ContentKey, Storage } from '../../platform/storage.ts';

/** Kinds that browsers show without running anything in them. All else is only downloaded. */
const SHOWN =
  /^(application\/pdf|image\/(png|jpeg|gif|webp|avif)|audio\/[\w.+-]+|video\/[\w.+-]+|text\/plain)$/u;

/**
 * Sends a file: by ranges where asked, under its own name, never to be run as a page of ours. What may be seen can change at any time, so
 * browsers may keep it but have to ask again. Throws `content-missing` and `range-not-there`.
 */
export function sendFile(
  request: FastifyRequest,
  reply: FastifyReply,
  storage: Storage,
  file: ContentKey & { readonly mediaType: string; readonly name: string },
  as: 'inline' | 'attachment',
): Promise<FastifyReply> {
  const inline = as === 'inline' && SHOWN.test(file.mediaType);
  return sendStored(request, reply, storage, file, {
    'content-type': inline ? shownType(file.mediaType) : file.mediaType,
    'content-disposition': disposition(file.name, inline ? 'inline' : 'attachment'),
    'cache-control': 'private, no-cache',
    ...NEVER_RUN,
  });
}

function shownType(mediaType: string): string {
  return mediaType === 'text/plain' ? 'text/plain; charset=utf-8' : mediaType;
}
