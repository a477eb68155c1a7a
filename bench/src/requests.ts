import { spawn } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import autocannon from 'autocannon';
import { freePort, run } from '../../scripts/lib/run.mjs';
import { median } from './report.ts';

/** A process of the bench that listens; `address` is where. */
export interface Listener {
  readonly address: string;
  readonly pid: number;
  stop(): void;
}

/** Starts one of the files beside this one with a free port in its arguments, or in PORT; resolves once it listens. */
export async function startListener(
  file: string,
  args: (port: number) => string[],
  env: Record<string, string> = {},
): Promise<Listener> {
  const port = await freePort();
  const path = fileURLToPath(new URL(file, import.meta.url));
  const child = spawn(process.execPath, ['--import', 'tsx', path, ...args(port)], {
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    env: { ...process.env, ...env, PORT: String(port) },
  });
  await new Promise((resolve, reject) => {
    child.once('message', resolve);
    child.once('close', (code) => reject(new Error(`${file} ended with ${code}`)));
  });
  return {
    address: `http://127.0.0.1:${port}`,
    pid: child.pid!,
    stop: () => child.disconnect(),
  };
}

/** The bare Fastify of bare.ts. */
export const startBare = (url: string, folder: string, files?: string) =>
  startListener('./bare.ts', (port) => [url, String(port), folder, ...(files ? [files] : [])]);

/** Who signs in with which password; resolves to the cookie header. */
export async function signInAs(address: string, email: string, password: string): Promise<string> {
  const reply = await fetch(`${address}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email, password }),
  });
  if (reply.status !== 204) throw new Error(`${email} could not sign in: ${reply.status}`);
  return reply.headers
    .getSetCookie()
    .map((c) => c.split(';')[0])
    .join('; ');
}

const ROUNDS = 7;
const SECONDS = 2;

/** A way to ask one address over and over with eight connections; resolves to milliseconds a request. */
type Tool = (url: string, cookie: string | undefined) => Promise<number>;

const withAutocannon: Tool = async (url, cookie) => {
  const headers = cookie ? { cookie } : {};
  const result = await autocannon({ url, connections: 8, duration: SECONDS, headers });
  if (result.non2xx > 0 || result.errors > 0)
    throw new Error(`${url}: ${result.non2xx} refused, ${result.errors} failed`);
  return (result.duration * 1000) / result.requests.total;
};

/** For replies that take less to make than autocannon takes to read them. */
export const withWrk: Tool = async (url, cookie) => {
  const headers = cookie ? ['-H', `cookie: ${cookie}`] : [];
  const { code, output } = await run('wrk', ['-t1', '-c8', `-d${SECONDS}s`, ...headers, url]);
  const found = /^ *(\d+) requests in ([\d.]+)s/mu.exec(output);
  if (code !== 0 || !found || /Non-2xx|Socket errors/u.test(output))
    throw new Error(`${url}: ${code} ${output}`);
  return (Number(found[2]) * 1000) / Number(found[1]);
};

/**
 * Milliseconds a request, for several in turn so that all are measured in the same minutes; the median of six rounds, after
 * one to warm up. Throws when one is refused.
 */
export async function perRequest<Name extends string>(
  asked: Record<Name, { url: string; cookie?: string }>,
  tool: Tool = withAutocannon,
): Promise<Record<Name, number>> {
  const times = new Map<string, number[]>();
  for (let round = 0; round < ROUNDS; round += 1)
    for (const [name, { url, cookie }] of Object.entries<{ url: string; cookie?: string }>(asked)) {
      const each = await tool(url, cookie);
      if (round > 0) times.set(name, [...(times.get(name) ?? []), each]);
    }
  return Object.fromEntries([...times].map(([name, all]) => [name, median(all)])) as Record<
    Name,
    number
  >;
}
