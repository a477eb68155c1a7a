export interface ScratchPostgres {
  readonly data: string;
  url(database: string): string;
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
): Promise<{ address: string; web: string; stop(): Promise<void> }>;
