import { SAMPLE_PASSWORD } from '@sammlung/demo';

/** Signs one of the sample people in; resolves to the cookie header. */
export async function sampleCookie(address: string, email: string): Promise<string> {
  const reply = await fetch(`${address}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email, password: SAMPLE_PASSWORD }),
  });
  if (reply.status !== 204) throw new Error(`${email} could not sign in: ${reply.status}`);
  return reply.headers
    .getSetCookie()
    .map((c) => c.split(';')[0])
    .join('; ');
}
