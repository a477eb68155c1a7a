import { startScratchPostgres, startServerProcess } from '../scripts/lib/scratch-server.mjs';

/** Starts the real server with the sample school in a scratch folder; its address is in E2E_ADDRESS. */
export default async function startServer() {
  const postgres = await startScratchPostgres('e2e');
  const server = await startServerProcess(postgres, 'postgres', {
    SAMMLUNG_UPLOAD_LIMIT: '20000000',
  });
  process.env.E2E_ADDRESS = server.address;
  return async () => {
    await server.stop();
    await postgres.stop();
  };
}
