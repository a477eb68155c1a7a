export function storedContents(data: string): string;
export function startNginx(
  folder: string,
  locations: string,
): Promise<{ port: number; stop(): Promise<void> }>;
