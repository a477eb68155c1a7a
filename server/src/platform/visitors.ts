import { createHash } from 'node:crypto';
import type { FastifyRequest } from 'fastify';
import { isbot } from 'isbot';

/**
 * What tells the sender of a request from others who have no account, made of their network address and browser; null for programs
 * that look at pages by themselves, and for pages that a browser loads before anybody wants them. It is not kept as it is: see
 * `noteOpenings`.
 */
export function visitorOf({ headers, ip }: Pick<FastifyRequest, 'headers' | 'ip'>): string | null {
  const browser = headers['user-agent']?.slice(0, 500);
  // Nobody who reads comes without a browser.
  if (!browser || isbot(browser)) return null;
  const purpose = headers['sec-purpose'] ?? headers.purpose ?? '';
  if (/prefetch|prerender/u.test(String(purpose))) return null;
  return createHash('sha256').update(`${ip}\n${browser}`).digest('base64url');
}
