// npm run bench [name …]: all figures, or only the groups named (listing, download, pages).
import { startScratchPostgres, startServerProcess } from '../../scripts/lib/scratch-server.mjs';
import { benchDownload } from './download.ts';
import { benchListing } from './listing.ts';
import { benchPages } from './pages.ts';

const wanted = process.argv.slice(2);
const runs = (name: string) => wanted.length === 0 || wanted.includes(name);

// A real one: a scratch server that skips safety would flatter the figures.
const postgres = await startScratchPostgres('bench', { scratch: false });
try {
  if (runs('download') || runs('pages')) {
    const server = await startServerProcess(postgres, 'postgres');
    if (runs('pages')) await benchPages(postgres, server.address, server.web);
    if (runs('download')) await benchDownload(postgres, server.address);
    await server.stop();
  }
  if (runs('listing')) await benchListing(postgres);
} finally {
  await postgres.stop();
}
