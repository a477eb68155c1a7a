import { open } from 'node:fs/promises';
import { fileTypeFromFile } from 'file-type';
import mime from 'mime-types';

const UNKNOWN = 'application/octet-stream';
/** Types without a signature of their own, which a name may claim when the content is text. */
const TEXT =
  /^(text\/|application\/(json|xml|x-tex|rtf|javascript|yaml|geo\+json)|image\/svg\+xml)/u;

/**
 * The media type of a file by its content. What a name claims counts only for plain text; a name that claims a
 * type the content is not gets the type for unknown data, which is only ever downloaded.
 */
export async function mediaTypeOf(path: string, extension: string): Promise<string> {
  const found = await fileTypeFromFile(path);
  if (found) return found.mime === 'application/xml' ? claimed(extension) : found.mime;
  const type = claimed(extension);
  if (type === UNKNOWN || !TEXT.test(type)) return UNKNOWN;
  return (await isText(path)) ? type : UNKNOWN;
}

function claimed(extension: string): string {
  return mime.lookup(extension) || UNKNOWN;
}

async function isText(path: string): Promise<boolean> {
  const file = await open(path);
  try {
    const { bytesRead, buffer } = await file.read(Buffer.alloc(8192), 0, 8192, 0);
    return !buffer.subarray(0, bytesRead).includes(0);
  } finally {
    await file.close();
  }
}
