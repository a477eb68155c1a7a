import pino, { type Logger } from 'pino';

export const LOG_LEVELS = ['error', 'warn', 'info'] as const;
export type LogLevel = (typeof LOG_LEVELS)[number];

/** The frames of a stack, without the message that comes before them. */
const frames = (stack = '') =>
  stack
    .split('\n')
    .filter((line) => line.startsWith('    at '))
    .join('\n');

/**
 * An error as it may be written down: what a statement was given (names, texts, addresses) is in the messages of database errors, and is left
 * out of them.
 */
export function loggedError(error: unknown): Record<string, unknown> {
  if (!(error instanceof Error)) return { type: typeof error };
  const code = 'code' in error ? { code: error.code } : {};
  const cause = error.cause === undefined ? {} : { cause: loggedError(error.cause) };
  const base = { type: error.name, ...code, stack: frames(error.stack), ...cause };
  // An error of PostgreSQL quotes values; one of drizzle has the statement and all that it was given.
  if ('severity' in error && 'routine' in error)
    return {
      ...base,
      ...('constraint' in error && { constraint: error.constraint }),
      routine: error.routine,
    };
  if ('params' in error && 'query' in error) return { ...base, query: error.query };
  return { ...base, message: error.message };
}

/** Lines of JSON. Requests are named by their route, not by their address, which may hold a token. */
export const openLog = (level: LogLevel, to?: pino.DestinationStream): Logger =>
  pino(
    {
      level,
      base: null,
      timestamp: pino.stdTimeFunctions.isoTime,
      hooks: {
        // An error by itself would be written with its own message beside what is left of it.
        logMethod([first, ...rest], write) {
          if (first instanceof Error && rest.length === 0) write.apply(this, [first, first.name]);
          else write.apply(this, [first, ...rest]);
        },
      },
      serializers: {
        err: loggedError,
        req: ({ method, routeOptions }: { method: string; routeOptions?: { url?: string } }) => ({
          method,
          route: routeOptions?.url,
        }),
      },
    },
    ...(to ? [to] : []),
  );
