import type { FastifyInstance } from 'fastify';
import fp from 'fastify-plugin';
import { AppError } from './errors.ts';

/** Refuses what holds a NUL character anywhere, or half of a character: no text has one, and PostgreSQL keeps none. */
export const characters = fp(async (app: FastifyInstance) => {
  app.addHook('preValidation', ({ body, query, params }, _reply, done) =>
    done(holdsWrong([body, query, params]) ? new AppError('bad-request') : undefined),
  );
});

/** Half of a pair of code units that stand for one character. */
const HALF = /\p{Surrogate}/u;

/** Looks through all that a request says, however deep, without calling itself. */
function holdsWrong(given: unknown): boolean {
  const left: unknown[] = [given];
  while (left.length > 0) {
    const value = left.pop();
    if (typeof value === 'string') {
      if (value.includes('\0') || HALF.test(value)) return true;
    } else if (typeof value === 'object' && value !== null && !Buffer.isBuffer(value))
      for (const key of Object.keys(value)) left.push(key, (value as Record<string, unknown>)[key]);
  }
  return false;
}
