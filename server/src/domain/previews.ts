import type { Jobs } from '../platform/jobs.ts';

/** Of which contents something can be made to look at and to find them, and the queue for that. */

export const PREPARE = 'prepare';

/** Sends a content to be prepared. */
export async function sendToPrepare(jobs: Jobs | null, schoolId: string, hash: string) {
  await jobs?.send(PREPARE, { schoolId, hash }, `${schoolId} ${hash}`);
}

const OOXML = 'application/vnd.openxmlformats-officedocument';
const ODF = 'application/vnd.oasis.opendocument';

/** Files that LibreOffice reads, their templates too, with the extension by which they are converted. */
export const OFFICE: Record<string, string> = {
  [`${OOXML}.wordprocessingml.document`]: 'docx',
  [`${OOXML}.wordprocessingml.template`]: 'dotx',
  [`${OOXML}.spreadsheetml.sheet`]: 'xlsx',
  [`${OOXML}.spreadsheetml.template`]: 'xltx',
  [`${OOXML}.presentationml.presentation`]: 'pptx',
  [`${OOXML}.presentationml.template`]: 'potx',
  [`${OOXML}.presentationml.slideshow`]: 'ppsx',
  [`${ODF}.text`]: 'odt',
  [`${ODF}.text-template`]: 'ott',
  [`${ODF}.spreadsheet`]: 'ods',
  [`${ODF}.spreadsheet-template`]: 'ots',
  [`${ODF}.presentation`]: 'odp',
  [`${ODF}.presentation-template`]: 'otp',
  [`${ODF}.graphics`]: 'odg',
  [`${ODF}.graphics-template`]: 'otg',
  [`${ODF}.text-flat-xml`]: 'fodt',
  [`${ODF}.spreadsheet-flat-xml`]: 'fods',
  [`${ODF}.presentation-flat-xml`]: 'fodp',
  [`${ODF}.graphics-flat-xml`]: 'fodg',
  // What programs it holds is not run.
  'application/vnd.ms-word.document.macroenabled.12': 'docm',
  'application/vnd.ms-word.template.macroenabled.12': 'dotm',
  'application/vnd.ms-excel.sheet.macroenabled.12': 'xlsm',
  'application/vnd.ms-excel.template.macroenabled.12': 'xltm',
  'application/vnd.ms-powerpoint.presentation.macroenabled.12': 'pptm',
  'application/vnd.ms-powerpoint.slideshow.macroenabled.12': 'ppsm',
  'application/vnd.ms-powerpoint.template.macroenabled.12': 'potm',
  'application/msword': 'doc',
  'application/vnd.ms-excel': 'xls',
  'application/vnd.ms-powerpoint': 'ppt',
  'application/rtf': 'rtf',
  'text/rtf': 'rtf',
  'application/x-cfb': 'doc',
};
/** Those of cells: a small picture of them is one of the cells that are used, not of a sheet of paper. */
export const CELLS: ReadonlySet<string> = new Set([
  'xlsx',
  'xltx',
  'xlsm',
  'xltm',
  'xls',
  'ods',
  'ots',
  'fods',
]);
/** Pictures that are not made of pixels. */
export const DRAWN = 'image/svg+xml';
/** Pictures that browsers do not show themselves, or that we do not let them: they may hold programs. */
export const STRANGE_PICTURE = /^image\/(heic|heif|tiff|bmp|jp2|jxl|svg\+xml)/u;
export const PICTURE = /^image\/(png|jpeg|gif|webp|avif|heic|heif|tiff|bmp|jp2|jxl|svg\+xml)/u;
export const TEXT = /^(text\/|application\/(json|xml|yaml|x-tex))/u;

/** Whether a content of this type may name other files, which the program that reads it would then read as well. */
export function reachesOut(mediaType: string): boolean {
  return mediaType in OFFICE || mediaType === DRAWN || /^(audio|video)\//u.test(mediaType);
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
