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
  stop(): Promise<void>;
}
export function startScratchPostgres(
  name: string,
  options?: { scratch?: boolean },
): Promise<ScratchPostgres>;
export function startServerProcess(
  postgres: ScratchPostgres,
  database?: string,
  env?: Record<string, string>,
): Promise<ServerProcess>;
