import type {
  FastifyBaseLogger,
  FastifyInstance,
  RawReplyDefaultExpression,
  RawRequestDefaultExpression,
  RawServerDefault,
} from 'fastify';
import type { ZodTypeProvider } from 'fastify-type-provider-zod';
import type { Services } from './services.ts';

declare module 'fastify' {
  interface FastifyInstance {
    services: Services;
    /** Method and address of every route. */
    routeList: readonly string[];
  }
}

/** The application as features see it: routes are typed by their Zod schemas. */
export type App = FastifyInstance<
  RawServerDefault,
  RawRequestDefaultExpression,
  RawReplyDefaultExpression,
  FastifyBaseLogger,
  ZodTypeProvider
>;
