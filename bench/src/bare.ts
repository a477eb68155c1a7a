// The yardstick of access_overhead: a bare Fastify route that reads one row by its key.
import Fastify from 'fastify';
import pg from 'pg';

const [, , url, port, folder] = process.argv;
const pool = new pg.Pool({ connectionString: url, max: 16 });
const app = Fastify();
app.get('/', async () => {
  const { rows } = await pool.query('select id, title from folders where id = $1', [folder]);
  return rows[0];
});
app.get('/none', async () => ({ ok: true }));
await app.listen({ port: Number(port), host: '127.0.0.1' });
process.send?.('ready');
process.on('disconnect', () => process.exit(0));
