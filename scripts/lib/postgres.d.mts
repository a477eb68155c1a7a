export interface Postgres {
  readonly pid: number;
  /** Resolves when the server has ended, by whomever. */
  readonly ended: Promise<unknown>;
  url(database: string): string;
  /** Ends the server, at once where it does not end cleanly within `patience` milliseconds. */
  stop(patience?: number): Promise<void>;
}
export function startPostgres(data: string, options?: { scratch?: boolean }): Promise<Postgres>;
export function runningPostgres(data: string): Promise<Pick<Postgres, 'url'>>;
