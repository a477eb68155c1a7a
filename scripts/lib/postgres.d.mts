export function startPostgres(
  data: string,
  options?: { scratch?: boolean },
): Promise<{ url(database: string): string; stop(): Promise<void> }>;
