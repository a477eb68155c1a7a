import type { FileKind } from '@sammlung/contract';

/** Kinds of files by their media types, as patterns that PostgreSQL reads alike. What fits none is `other`. */
export const FILE_KINDS: Record<Exclude<FileKind, 'other'>, string> = {
  pdf: '^application/pdf$',
  picture: '^image/',
  sound: '^audio/',
  video: '^video/',
  text: '^text/',
  office: 'officedocument|opendocument|msword|ms-excel|ms-powerpoint|rtf',
};

/** The kind of file that a media type belongs to. */
export function kindOf(mediaType: string): FileKind {
  const kinds = Object.keys(FILE_KINDS) as (keyof typeof FILE_KINDS)[];
  return kinds.find((kind) => new RegExp(FILE_KINDS[kind], 'u').test(mediaType)) ?? 'other';
}
