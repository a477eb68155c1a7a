// What session_overhead is measured on: the application with one more route, which answers a constant to whoever has signed in.
import { buildApp } from '../../server/src/app.ts';
import { openDatabase } from '../../server/src/db/database.ts';
import { signedIn } from '../../server/src/platform/sessions.ts';
import { readSettings } from '../../server/src/settings.ts';

const [, , secret = ''] = process.argv;
const settings = readSettings(process.env);
const { db, pool } = openDatabase(settings.databaseUrl);
const app = await buildApp({ settings, db, pool, secret });
app.get('/api/constant', (request, reply) => {
  signedIn(request);
  return reply.send({ ok: true });
});
await app.listen({ port: settings.port, host: settings.host });
process.send?.('ready');
process.on('disconnect', () => process.exit(0));
