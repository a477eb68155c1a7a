import type { Jobs } from '../platform/jobs.ts';

/** Of which contents something can be made to look at and to find them, and the queue for that. */

export const PREPARE = 'prepare';

/** Sends a content to be prepared. */
export async function sendToPrepare(jobs: Jobs | null, schoolId: string, hash: string) {
  await jobs?.send(PREPARE, { schoolId, hash }, `${schoolId} ${hash}`);
}

/** Office files, with the extension by which they are converted. */
export const OFFICE: Record<string, string> = {
  'application/vnd.openxmlformats-officedocument.wordprocessingml.document': 'docx',
  'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet': 'xlsx',
  'application/vnd.openxmlformats-officedocument.presentationml.presentation': 'pptx',
  'application/vnd.oasis.opendocument.text': 'odt',
  'application/vnd.oasis.opendocument.spreadsheet': 'ods',
  'application/vnd.oasis.opendocument.presentation': 'odp',
  'application/msword': 'doc',
  'application/vnd.ms-excel': 'xls',
  'application/vnd.ms-powerpoint': 'ppt',
  'application/rtf': 'rtf',
  'text/rtf': 'rtf',
  'application/x-cfb': 'doc',
};
/** Pictures that browsers do not show themselves. */
export const STRANGE_PICTURE = /^image\/(heic|heif|tiff|bmp|jp2|jxl)/u;
export const PICTURE = /^image\/(png|jpeg|gif|webp|avif|heic|heif|tiff|bmp|jp2|jxl)/u;
export const TEXT = /^(text\/|application\/(json|xml|yaml|x-tex))/u;

/** Whether a content of this type may name other files, which the program that reads it would then read as well. */
export function reachesOut(mediaType: string): boolean {
  return mediaType in OFFICE || /^(audio|video)\//u.test(mediaType);
}

/** Whether anything can be made of a content of this type. */
export function isPreparable(mediaType: string): boolean {
  return (
    mediaType === 'application/pdf' ||
    mediaType in OFFICE ||
    PICTURE.test(mediaType) ||
    TEXT.test(mediaType) ||
    /^(audio|video)\//u.test(mediaType)
  );
}
