import { fileTypeFromTokenizer } from 'file-type';
import mime from 'mime-types';
import { AbstractTokenizer, EndOfStreamError, type IReadChunkOptions } from 'strtok3';
import type { OpenContent } from '../../platform/storage.ts';

const UNKNOWN = 'application/octet-stream';
/** Types without a signature of their own, which a name may claim when the content is text. */
const TEXT =
  /^(text\/|application\/(json|xml|x-tex|rtf|javascript|yaml|geo\+json)|image\/svg\+xml)/u;

const FLAT_ODF =
  /office:mimetype="(application\/vnd\.oasis\.opendocument\.(?:text|spreadsheet|presentation|graphics))"/u;

/**
 * The media type of a file by its content. What a name claims counts only for plain text; a name that claims a
 * type the content is not gets the type for unknown data, which is only ever downloaded.
 */
export async function mediaTypeOf(content: OpenContent, extension: string): Promise<string> {
  const found = await fileTypeFromTokenizer(new ContentTokenizer(content));
  if (found?.mime === 'application/xml') return (await flatOdf(content)) ?? claimed(extension);
  if (found) return found.mime;
  const type = claimed(extension);
  if (type === UNKNOWN || !TEXT.test(type)) return UNKNOWN;
  return (await isText(content)) ? type : UNKNOWN;
}

function claimed(extension: string): string {
  return mime.lookup(extension) || UNKNOWN;
}

/** An OpenDocument that is one XML file says in its first element what it is; null for other XML. */
async function flatOdf(content: OpenContent): Promise<string | null> {
  const [, type] = FLAT_ODF.exec((await beginning(content)).toString('latin1')) ?? [];
  return type ? `${type}-flat-xml` : null;
}

async function isText(content: OpenContent): Promise<boolean> {
  return !(await beginning(content)).includes(0);
}

function beginning(content: OpenContent): Promise<Buffer> {
  return content.read(Buffer.alloc(Math.min(8192, content.size)), 0);
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
