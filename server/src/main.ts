import { randomBytes } from 'node:crypto';
import { chmodSync, existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { buildApp } from './app.ts';
import { migrateDatabase, openDatabase } from './db/database.ts';
import { seedApart } from './db/seed.ts';
import { sampleId } from './domain/schools.ts';
import { beginAddress } from './features/begin/service.ts';
import { sampleSignIns } from './features/session/queries.ts';
import { startClassWebsite } from './standin/class-website.ts';
import { startSignInProvider } from './standin/sign-in-provider.ts';
import { startMailServer } from './standin/mail-server.ts';
import type { Registry } from 'prom-client';
import { startJobs } from './platform/jobs.ts';
import { openLog } from './platform/log.ts';
import { readSettings } from './settings.ts';
import { startMetrics } from './watching/metrics-server.ts';

/** The secret that signs session cookies: made once, kept in the data folder. */
function secretIn(data: string): string {
  const path = join(data, 'secret');
  if (!existsSync(path))
    writeFileSync(path, randomBytes(32).toString('base64url'), { mode: 0o600, flag: 'wx' });
  return readFileSync(path, 'utf8');
}

/** The folders in which contents lie, whole or on their way: nobody else on this machine may look into them. */
function closeFolders(data: string): void {
  for (const name of ['files', 'made', 'uploads', 'work']) {
    mkdirSync(join(data, name), { recursive: true, mode: 0o700 });
    chmodSync(join(data, name), 0o700);
  }
}

async function main() {
  const given = readSettings(process.env);
  closeFolders(given.data);
  await migrateDatabase(given.databaseUrl);
  const { db, pool, close } = openDatabase(given.databaseUrl);
  const log = openLog(given.log);
  const note = (error: unknown) => log.error(error);
  // The sample school has a mail server of its own, whose post everybody can read.
  const mailServer = given.postRoom ? await startMailServer(db, note) : null;
  let application = '';
  // And a place of its own where its people can sign in, so that this can be tried: on this machine, where it listens.
  const standIn =
    given.sample && !given.provider && given.address === null
      ? await startSignInProvider(() => application, given.providerPort, note)
      : null;
  const settings = {
    ...given,
    smtp: mailServer?.url ?? given.smtp,
    provider: standIn?.provider ?? given.provider,
  };
  if (settings.sample && (await sampleId(db)) === null) {
    console.log('Filling in the sample school …');
    await seedApart(import.meta.url);
  }

  const jobs = await startJobs(pool, note);
  const secret = secretIn(settings.data);
  let registry: Registry | null = null;
  const app = await buildApp({
    ...{ settings, db, pool, secret, jobs, log },
    ...(settings.metrics && { onFigures: (made) => (registry = made) }),
  });
  let metrics: Awaited<ReturnType<typeof startMetrics>> | null = null;
  let website: Awaited<ReturnType<typeof startClassWebsite>> | null = null;
  let stopping: Promise<void> | undefined;
  const stop = () => (stopping ??= end());
  async function end() {
    await metrics?.stop();
    await website?.stop();
    await standIn?.stop();
    await app.close();
    await jobs.stop();
    await mailServer?.stop();
    await close();
    process.exit(0);
  }
  process.on('SIGTERM', stop);
  process.on('SIGINT', stop);
  // The starter that gave us the channel is gone: nobody would end us.
  process.on('disconnect', stop);
  // What fails without anybody waiting for it is one page or one piece of work: it must not end the server for all others.
  process.on('unhandledRejection', (error) => app.log.error(error));
  await app.listen({ port: settings.port, host: settings.host });
  application = app.services.address();
  if (registry && settings.metrics)
    metrics = await startMetrics(registry, { ...settings.metrics, note });
  if (settings.postRoom)
    website = await startClassWebsite(db, app.services.address, settings.websitePort);

  console.log(`\nSammlung is ready: ${app.services.address()}\n`);
  const signIns = await sampleSignIns(app.services);
  if (signIns.length > 0) {
    console.log('Sign-ins of the sample school (one click on the sign-in page):');
    for (const s of signIns)
      console.log(`  ${s.email.padEnd(34)} ${s.password.padEnd(12)} ${s.about}`);
    if (website) console.log(`\nA class website that shows a folder:  ${website.address}`);
    if (mailServer)
      console.log(`What would have been sent by mail:    ${app.services.address()}/post-room`);
    console.log('\nCtrl C stops it.');
  }
  const begin = settings.sample ? null : await beginAddress(app.services);
  if (begin)
    console.log(`There is no school yet. Begin here, once and within a day:\n\n  ${begin}\n`);
  process.send?.('ready');
}

main().catch((error: unknown) => {
  const inUse = error instanceof Error && 'code' in error && error.code === 'EADDRINUSE';
  console.error(inUse ? 'PORT: another program uses this port. Set PORT to a free one.' : error);
  process.exit(1);
});
