/** SHA-256 of a file in hexadecimal, computed in a worker; null when the file cannot be read. */
export function hashFile(file: File): Promise<string | null> {
  worker ??= start();
  count += 1;
  const id = count;
  worker.postMessage({ id, file });
  return new Promise((resolve) => waiting.set(id, resolve));
}

let worker: Worker | null = null;
let count = 0;
const waiting = new Map<number, (hash: string | null) => void>();

function start(): Worker {
  const made = new Worker(new URL('./hash.worker.ts', import.meta.url), { type: 'module' });
  made.addEventListener(
    'message',
    ({ data }: MessageEvent<{ id: number; hash: string | null }>) => {
      waiting.get(data.id)?.(data.hash);
      waiting.delete(data.id);
    },
  );
  return made;
}
