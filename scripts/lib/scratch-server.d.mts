export interface ScratchPostgres {
  readonly data: string;
  url(database: string): string;
  stop(): Promise<void>;
}
export interface ServerProcess {
  readonly address: string;
  /** The folder of the built web application. */
  readonly web: string;
  readonly pid: number;
  /** Ends it as a crash would. */
  kill(): Promise<void>;
  stop(): Promise<void>;
}
export function startScratchPostgres(
  name: string,
  options?: { scratch?: boolean },
): Promise<ScratchPostgres>;
export function startServerProcess(
  postgres: Pick<ScratchPostgres, 'data' | 'url'>,
  database?: string,
  env?: Record<string, string>,
): Promise<ServerProcess>;
