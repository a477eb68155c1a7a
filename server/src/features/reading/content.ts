import type { Readable } from 'node:stream';
import type { ContentQuery } from '@sammlung/contract';
import type { FastifyReply, FastifyRequest } from 'fastify';
import type { z } from 'zod';
import { pageAsMarkdown, pageDocument, type NameThings } from '../../domain/pages/document.ts';
import { disposition } from '../../platform/disposition.ts';
import { AppError } from '../../platform/errors.ts';
import { NEVER_RUN } from '../../platform/send-stored.ts';
import type { Services } from '../../services.ts';
import type { OpenedFile } from '../../domain/files/open.ts';
import { sendFile } from '../../domain/files/send.ts';

type As = z.infer<typeof ContentQuery>['as'];

/** Whether a request begins a download; later ranges of the same one do not. */
export const beginsDownload = (as: As, range: string | undefined) =>
  as === 'attachment' && (range === undefined || /^bytes=0-/u.test(range));

/**
 * Sends a file's content: by ranges where asked, under its own name, never to be run as a page of ours. What may be
 * seen can change at any time, so browsers may keep it but have to ask again. Throws `content-missing` and
 * `range-not-there`.
 */
export async function sendContent(
  request: FastifyRequest,
  reply: FastifyReply,
  { storage, workers }: Pick<Services, 'storage' | 'workers'>,
  content: OpenedFile,
  { as, form, name }: Pick<z.infer<typeof ContentQuery>, 'as' | 'form'> & { name: NameThings },
) {
  if (content.page) {
    const title = content.name.replace(/\.html$/u, '');
    return form === 'markdown'
      ? sendDocument(
          reply,
          `${title}.md`,
          'text/markdown',
          await pageAsMarkdown({ storage, workers }, { ...content, title }, name),
        )
      : sendDocument(
          reply,
          content.name,
          'text/html',
          await pageDocument(storage, { ...content, title }, name),
        );
  }
  return sendFile(request, reply, storage, content, as);
}

/** A page as one document, to take along. */
function sendDocument(
  reply: FastifyReply,
  name: string,
  mediaType: string,
  content: Readable | null,
) {
  if (!content) throw new AppError('content-missing');
  return reply
    .headers({
      'content-type': `${mediaType}; charset=utf-8`,
      'content-disposition': disposition(name, 'attachment'),
      'cache-control': 'private, no-cache',
      ...NEVER_RUN,
    })
    .send(content);
}
