import { desc } from 'drizzle-orm';
import type { Queries } from '../../db/database.ts';
import { postRoom } from '../../db/schema/index.ts';

const SHOWN = 200;

/** What the stand-in of the mail server has received, the newest first. */
export function newestLetters(db: Queries) {
  return db.select().from(postRoom).orderBy(desc(postRoom.receivedAt)).limit(SHOWN);
}
