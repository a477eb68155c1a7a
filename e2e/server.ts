import { freePort } from '../scripts/lib/run.mjs';
import { startScratchPostgres, startServerProcess } from '../scripts/lib/scratch-server.mjs';

/** One more process on the same data, with other settings. It stops cleanly, so that it leaves no job behind. */
export const startSecondServer = (env: Record<string, string>) =>
  startServerProcess(
    { data: process.env.E2E_DATA!, url: () => process.env.E2E_DATABASE! },
    'postgres',
    env,
  );

/** Starts the real server with the sample school in a scratch folder; its address is in E2E_ADDRESS, that of the class website in E2E_WEBSITE. */
export default async function startServer() {
  const postgres = await startScratchPostgres('e2e');
  const website = await freePort();
  const server = await startServerProcess(postgres, 'postgres', {
    SAMMLUNG_UPLOAD_LIMIT: '20000000',
    SAMMLUNG_WEBSITE_PORT: String(website),
  });
  process.env.E2E_ADDRESS = server.address;
  process.env.E2E_DATA = postgres.data;
  process.env.E2E_DATABASE = postgres.url('postgres');
  process.env.E2E_WEBSITE = `http://localhost:${website}`;
  return async () => {
    await server.stop();
    await postgres.stop();
  };
}
