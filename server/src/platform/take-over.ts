import type { ServerResponse } from 'node:http';
import type { FastifyReply } from 'fastify';

/** Takes a reply out of Fastify's hands, with the headers that it has so far. */
export function takeOver(reply: FastifyReply): ServerResponse {
  reply.hijack();
  for (const [name, value] of Object.entries(reply.getHeaders()))
    if (value !== undefined) reply.raw.setHeader(name, value);
  return reply.raw;
}
