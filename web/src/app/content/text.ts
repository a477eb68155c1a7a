import { ApiError } from '../api/api.ts';

const SHOWN_BYTES = 1_000_000;

/** The beginning of a text file, and whether more follows. Throws ApiError. */
export async function fetchText(address: string): Promise<{ text: string; cut: boolean }> {
  const reply = await fetch(address, { headers: { range: `bytes=0-${SHOWN_BYTES - 1}` } });
  if (!reply.ok) throw new ApiError(await reply.json());
  const total = Number(reply.headers.get('content-range')?.split('/')[1] ?? 0);
  return { text: await reply.text(), cut: total > SHOWN_BYTES };
}
