import { fileTypeFromTokenizer } from 'file-type';
import mime from 'mime-types';
import { AbstractTokenizer, EndOfStreamError, type IReadChunkOptions } from 'strtok3';
import type { OpenContent } from '../../platform/storage.ts';

const UNKNOWN = 'application/octet-stream';
/** Types without a signature of their own, which a name may claim when the content is text. */
const TEXT =
  /^(text\/|application\/(json|xml|x-tex|rtf|javascript|yaml|geo\+json)|image\/svg\+xml)/u;

/**
 * The media type of a file by its content. What a name claims counts only for plain text; a name that claims a
 * type the content is not gets the type for unknown data, which is only ever downloaded.
 */
export async function mediaTypeOf(content: OpenContent, extension: string): Promise<string> {
  const found = await fileTypeFromTokenizer(new ContentTokenizer(content));
  if (found) return found.mime === 'application/xml' ? claimed(extension) : found.mime;
  const type = claimed(extension);
  if (type === UNKNOWN || !TEXT.test(type)) return UNKNOWN;
  return (await isText(content)) ? type : UNKNOWN;
}

function claimed(extension: string): string {
  return mime.lookup(extension) || UNKNOWN;
}

async function isText(content: OpenContent): Promise<boolean> {
  const beginning = Buffer.alloc(Math.min(8192, content.size));
  return !(await content.read(beginning, 0)).includes(0);
}

/** Lets file-type read in a content wherever it looks. */
class ContentTokenizer extends AbstractTokenizer {
  readonly fileInfo;
  readonly #content: OpenContent;

  constructor(content: OpenContent) {
    super();
    this.fileInfo = { size: content.size };
    this.#content = content;
  }

  override supportsRandomAccess() {
    return true;
  }

  setPosition(position: number) {
    this.position = position;
  }

  async peekBuffer(buffer: Uint8Array, options?: IReadChunkOptions) {
    const { position, length, mayBeLess } = this.normalizeOptions(buffer, options);
    const there = Math.max(0, Math.min(length, this.#content.size - position));
    if (there < length && !mayBeLess) throw new EndOfStreamError();
    const target = Buffer.from(buffer.buffer, buffer.byteOffset, there);
    await this.#content.read(target, position);
    return there;
  }

  async readBuffer(buffer: Uint8Array, options?: IReadChunkOptions) {
    if (options?.position !== undefined) this.position = options.position;
    const read = await this.peekBuffer(buffer, { ...options, position: this.position });
    this.position += read;
    return read;
  }
}
