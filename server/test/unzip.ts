import yauzl from 'yauzl';

/** Names and contents in an archive, as another program reads it; a folder has none. */
export async function unzipped(bytes: Buffer): Promise<Map<string, Buffer>> {
  const zip = await yauzl.fromBufferPromise(bytes);
  const found = new Map<string, Buffer>();
  for await (const entry of zip.eachEntry()) {
    const chunks: Buffer[] = [];
    if (!entry.fileName.endsWith('/'))
      for await (const chunk of await zip.openReadStreamPromise(entry))
        chunks.push(chunk as Buffer);
    found.set(entry.fileName, Buffer.concat(chunks));
  }
  return found;
}
