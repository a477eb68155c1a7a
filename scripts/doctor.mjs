// npm run doctor [-- --deep]: holds the file contents of a data folder and the records of its database against each other.
import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import { failWith, root, Stop } from './lib/run.mjs';
import { runWithDatabase } from './lib/with-database.mjs';

const data = resolve(root, process.env.SAMMLUNG_DATA || 'data');

try {
  if (!existsSync(data)) throw new Stop(`There is no data folder ${data}.`);
  process.exitCode = await runWithDatabase(data, 'doctor.js');
} catch (error) {
  failWith(error);
}
