import type { PlacedUpload } from '@sammlung/contract';
import type { TestServer, Who } from './harness.ts';

/** The steps of a resumable upload, one by one and all together. */
export function uploader({ call }: Pick<TestServer, 'call'>) {
  const tus = { 'tus-resumable': '1.0.0' };
  const base64 = (text: string) => Buffer.from(text).toString('base64');

  const begin = (who: Who, folderId: string, name: string, size: number) =>
    call(who, 'POST', '/api/uploads', undefined, {
      ...tus,
      'upload-length': String(size),
      'upload-metadata': `filename ${base64(name)},folderId ${base64(folderId)}`,
    });

  /** Begins an upload of `size` bytes and sends `bytes`; resolves to its id. */
  async function send(
    who: Who,
    folderId: string,
    name: string,
    bytes: string | Uint8Array,
    size: number,
  ): Promise<string> {
    const begun = await begin(who, folderId, name, size);
    const id = begun.headers.get('location')?.split('/').at(-1);
    if (begun.status !== 201 || !id)
      throw new Error(`not begun: ${begun.status} ${await begun.text()}`);
    if (bytes.length > 0)
      await call(who, 'PATCH', `/api/uploads/${id}`, bytes, {
        ...tus,
        'content-type': 'application/offset+octet-stream',
        'upload-offset': '0',
      });
    return id;
  }

  const place = (who: Who, folderId: string, uploadId: string) =>
    call(who, 'POST', `/api/folders/${folderId}/files`, { uploadId });

  const add = (who: Who, folderId: string, name: string, content: string) =>
    addBytes(who, folderId, name, content);

  /** A whole upload until it lies in the folder. */
  async function addBytes(who: Who, folderId: string, name: string, bytes: Uint8Array | string) {
    const id = await send(who, folderId, name, bytes, Buffer.byteLength(bytes));
    const reply = await place(who, folderId, id);
    if (reply.status !== 200) throw new Error(`not placed: ${reply.status} ${await reply.text()}`);
    return (await reply.json()) as PlacedUpload;
  }

  return { begin, send, place, add, addBytes };
}
