// npm run school -- COMMAND: begins the school of a data folder, and loads or removes the sample beside it.
import { mkdirSync } from 'node:fs';
import { resolve } from 'node:path';
import { failWith, root } from './lib/run.mjs';
import { runWithDatabase } from './lib/with-database.mjs';

const data = resolve(root, process.env.SAMMLUNG_DATA || 'data');

try {
  mkdirSync(data, { recursive: true });
  process.exitCode = await runWithDatabase(data, 'school.js');
} catch (error) {
  failWith(error);
}
