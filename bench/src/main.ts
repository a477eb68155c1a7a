// npm run bench [name …]: all figures, or only the groups named (pages, screens, archive, upload, download, listing).
import {
  startScratchPostgres,
  startServerProcess,
  type ScratchPostgres,
  type ServerProcess,
} from '../../scripts/lib/scratch-server.mjs';
import { benchArchive } from './archive.ts';
import { benchDownload } from './download.ts';
import { benchListing } from './listing.ts';
import { benchPages } from './pages.ts';
import { benchScreens } from './screens.ts';
import { benchUpload } from './upload.ts';

/** Those that need the server with the sample school. Each gets one of its own. */
const WITH_SERVER: Record<
  string,
  (postgres: ScratchPostgres, server: ServerProcess) => Promise<void>
> = {
  pages: benchPages,
  screens: benchScreens,
  archive: benchArchive,
  upload: benchUpload,
  download: benchDownload,
};
const wanted = process.argv.slice(2);
const runs = (name: string) => wanted.length === 0 || wanted.includes(name);

/** Runs `work` with a database of its own: a real one, since one that skips safety would flatter the figures. */
async function withPostgres(work: (postgres: ScratchPostgres) => Promise<void>) {
  const postgres = await startScratchPostgres('bench', { scratch: false });
  await work(postgres).finally(() => postgres.stop());
}

for (const [name, bench] of Object.entries(WITH_SERVER))
  if (runs(name))
    await withPostgres(async (postgres) => {
      const server = await startServerProcess(postgres, 'postgres');
      await bench(postgres, server).finally(() => server.stop());
    });
if (runs('listing')) await withPostgres(benchListing);
