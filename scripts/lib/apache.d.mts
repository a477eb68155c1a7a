export function startApacheDav(
  home: string,
  account: { name: string; hash: string },
): Promise<{ address: string; files: string; stop(): Promise<void> }>;
