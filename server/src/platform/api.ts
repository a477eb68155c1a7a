import type { FastifyRequest } from 'fastify';

/** Whether a route of the API answers the request. The matched route decides: an address can be written in many ways. */
export function isApi({ routeOptions }: Pick<FastifyRequest, 'routeOptions'>): boolean {
  return routeOptions.url?.startsWith('/api/') ?? false;
}
