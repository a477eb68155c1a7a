export const root: string;
export function freePort(): Promise<number>;
export function run(
  command: string,
  args: readonly string[],
  options?: { cwd?: string },
): Promise<{ code: number; output: string }>;
