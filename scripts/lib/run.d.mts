export const root: string;
/** Whether a process of this id is there. */
export function alive(pid: number): boolean;
export function freePort(): Promise<number>;
export function run(
  command: string,
  args: readonly string[],
  options?: { cwd?: string },
): Promise<{ code: number; output: string }>;
/** What the server is started with. */
export function serverFlags(): string[];
