// The yardsticks of requests: a bare Fastify with a route that answers a constant, one that reads one row by its key, and the
// files of a folder.
import fastifyStatic from '@fastify/static';
import Fastify from 'fastify';
import pg from 'pg';

const [, , url, port, folder, files] = process.argv;
const pool = new pg.Pool({ connectionString: url, max: 16 });
const app = Fastify();
app.get('/constant', (_request, reply) => reply.send({ ok: true }));
app.get('/row', async () => {
  const { rows } = await pool.query('select id, title from folders where id = $1', [folder]);
  return rows[0];
});
if (files) await app.register(fastifyStatic, { root: files, prefix: '/files/' });
await app.listen({ port: Number(port), host: '127.0.0.1' });
process.send?.('ready');
process.on('disconnect', () => process.exit(0));
