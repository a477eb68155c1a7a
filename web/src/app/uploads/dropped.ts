/** Files that came from outside, each with the folders it lay in; `folders` also has those without files. */
export interface Dropped {
  readonly files: readonly { readonly file: File; readonly path: readonly string[] }[];
  readonly folders: readonly (readonly string[])[];
}

/** What systems leave lying about in folders, and nobody means to hand out. */
const LITTER = /^(\.DS_Store|Thumbs\.db|desktop\.ini|\._.*)$/iu;

/** Reads what was dropped: files, and folders with everything below them. Has to be called while the drop is handled. */
export async function readDropped(items: readonly DataTransferItem[]): Promise<Dropped> {
  // The browser forgets the items as soon as the event is over: take all of them first.
  const entries = items
    .filter((item) => item.kind === 'file')
    .map((item) => ({ entry: item.webkitGetAsEntry(), file: item.getAsFile() }));
  const files: { file: File; path: string[] }[] = [];
  const folders: string[][] = [];
  const read = async (entry: FileSystemEntry, above: readonly string[]): Promise<void> => {
    if (isFile(entry)) {
      if (LITTER.test(entry.name)) return;
      const file = await new Promise<File>((resolve, reject) => entry.file(resolve, reject));
      files.push({ file, path: [...above] });
    } else if (isFolder(entry)) {
      const path = [...above, entry.name];
      folders.push(path);
      for (const child of await childrenOf(entry)) await read(child, path);
    }
  };
  for (const { entry, file } of entries)
    if (entry) await read(entry, []);
    else if (file) files.push({ file, path: [] });
  return { files, folders };
}

/** The same for files chosen with a picker, which names the folders of a file by its path. */
export function readPicked(picked: readonly File[]): Dropped {
  const files = picked
    .filter((file) => !LITTER.test(file.name))
    .map((file) => ({ file, path: file.webkitRelativePath.split('/').slice(0, -1) }));
  const known = new Map<string, string[]>();
  for (const { path } of files)
    for (let depth = 1; depth <= path.length; depth += 1)
      known.set(path.slice(0, depth).join('/'), path.slice(0, depth));
  return { files, folders: [...known.values()] };
}

const isFile = (entry: FileSystemEntry): entry is FileSystemFileEntry => entry.isFile;
const isFolder = (entry: FileSystemEntry): entry is FileSystemDirectoryEntry => entry.isDirectory;

/** All entries of a folder; a reader gives a hundred at a time. */
async function childrenOf(folder: FileSystemDirectoryEntry): Promise<FileSystemEntry[]> {
  const reader = folder.createReader();
  const found: FileSystemEntry[] = [];
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((resolve, reject) =>
      reader.readEntries(resolve, reject),
    );
    if (some.length === 0) return found;
    found.push(...some);
  }
}
