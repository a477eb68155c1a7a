import { ROSTER_FILES } from '@sammlung/core';
import yauzl from 'yauzl';

/** How large one file of a roster may be when it is unpacked, in bytes: more is no list of a school. */
const FILE_BYTES = 50_000_000;
/** The same for all of its files together, and how many files its archive may hold. */
const ALL_BYTES = 80_000_000;
const ENTRIES = 200;

/** An archive that is no roster, or none that is read. */
export class ArchiveError extends Error {
  constructor(readonly fault: 'binary' | 'empty' | 'too-long') {
    super(fault);
  }
}

/** The files of a roster out of its archive, by their names without ending. Throws `ArchiveError`. */
export async function unpackRoster(archive: Buffer): Promise<Record<string, string>> {
  let zip: yauzl.ZipFile;
  try {
    zip = await new Promise((resolve, reject) =>
      yauzl.fromBuffer(archive, { lazyEntries: true }, (error, file) =>
        error ? reject(error) : resolve(file),
      ),
    );
  } catch {
    throw new ArchiveError('binary');
  }
  if (zip.entryCount > ENTRIES) throw new ArchiveError('too-long');
  const found: Record<string, string> = {};
  const seen = new Set<string>();
  let bytes = 0;
  await new Promise<void>((resolve, reject) => {
    zip.on('entry', (entry: yauzl.Entry) => {
      const name = /^(?:[^/]+\/)?(\w+)\.csv$/u.exec(entry.fileName)?.[1];
      if (!name || !(ROSTER_FILES as readonly string[]).includes(name)) return zip.readEntry();
      bytes += entry.uncompressedSize;
      if (entry.uncompressedSize > FILE_BYTES || bytes > ALL_BYTES || seen.has(name))
        return reject(new ArchiveError('too-long'));
      seen.add(name);
      zip.openReadStream(entry, (error, stream) => {
        if (error) return reject(new ArchiveError('binary'));
        const parts: Buffer[] = [];
        stream.on('data', (part: Buffer) => parts.push(part));
        stream.on('error', () => reject(new ArchiveError('binary')));
        stream.on('end', () => {
          found[name] = Buffer.concat(parts).toString('utf8');
          zip.readEntry();
        });
      });
    });
    zip.on('end', resolve);
    zip.on('error', () => reject(new ArchiveError('binary')));
    zip.readEntry();
  });
  if (!found.classes && !found.users) throw new ArchiveError('empty');
  return found;
}
