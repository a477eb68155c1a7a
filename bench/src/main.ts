// npm run bench [name …]: all figures, or only the groups named (pages, screens, steps, typing, live, archive, upload, download, webdav,
// handing, boxes, people, carry, reach, tray, panel, morning, listing). Exits 1 where a bar is missed.
import {
  startScratchPostgres,
  startServerProcess,
  type ScratchPostgres,
  type ServerProcess,
} from '../../scripts/lib/scratch-server.mjs';
import { sql } from 'drizzle-orm';
import { openDatabase, rows } from '../../server/src/db/database.ts';
import { benchArchive } from './archive.ts';
import { benchBoxes } from './boxes.ts';
import { benchCarry } from './carry.ts';
import { benchPeople } from './people.ts';
import { benchReach } from './reach.ts';
import { benchDownload } from './download.ts';
import { benchHanding } from './handing.ts';
import { benchListing } from './listing.ts';
import { benchLive } from './live.ts';
import { benchMorning } from './morning.ts';
import { benchPages } from './pages.ts';
import { benchPanel } from './panel.ts';
import { benchScreens } from './screens.ts';
import { benchSteps } from './steps.ts';
import { benchTray } from './tray.ts';
import { benchTyping } from './typing.ts';
import { benchUpload } from './upload.ts';
import { benchWebdav } from './webdav.ts';

/** Those that need the server with the sample school. Each gets one of its own. */
const WITH_SERVER: Record<
  string,
  (postgres: ScratchPostgres, server: ServerProcess) => Promise<void>
> = {
  pages: benchPages,
  screens: benchScreens,
  steps: benchSteps,
  typing: benchTyping,
  live: benchLive,
  archive: benchArchive,
  upload: benchUpload,
  download: benchDownload,
  webdav: benchWebdav,
};
const wanted = process.argv.slice(2);
const runs = (name: string) => wanted.length === 0 || wanted.includes(name);

/** Runs `work` with a database of its own: a real one, since one that skips safety would flatter the figures. */
async function withPostgres(work: (postgres: ScratchPostgres) => Promise<void>) {
  const postgres = await startScratchPostgres('bench', { scratch: false });
  await work(postgres).finally(() => postgres.stop());
}

/** Waits until the previews of the sample school are made: they would take the processors from what is measured. */
async function prepared(postgres: ScratchPostgres) {
  const { db, close } = openDatabase(postgres.url('postgres'));
  const waiting = sql`select 1 from previews where state = 'waiting' limit 1`;
  while ((await rows(db, waiting)).length > 0)
    await new Promise((resolve) => setTimeout(resolve, 1000));
  await close();
}

for (const [name, bench] of Object.entries(WITH_SERVER))
  if (runs(name))
    await withPostgres(async (postgres) => {
      const server = await startServerProcess(postgres, 'postgres');
      await prepared(postgres);
      await bench(postgres, server).finally(() => server.stop());
    });
if (runs('handing')) await withPostgres(benchHanding);
if (runs('boxes')) await withPostgres(benchBoxes);
if (runs('people')) await withPostgres(benchPeople);
if (runs('carry')) await withPostgres(benchCarry);
if (runs('reach')) await withPostgres(benchReach);
if (runs('tray')) await withPostgres(benchTray);
if (runs('panel')) await withPostgres(benchPanel);
if (runs('morning')) await withPostgres(benchMorning);
if (runs('listing')) await withPostgres(benchListing);
