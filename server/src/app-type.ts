import type {
  FastifyBaseLogger,
  FastifyInstance,
  RawReplyDefaultExpression,
  RawRequestDefaultExpression,
  RawServerDefault,
} from 'fastify';
import type { ZodTypeProvider } from 'fastify-type-provider-zod';
import type { Services } from './services.ts';

/** A route as it was registered. */
export interface RouteFacts {
  readonly method: string;
  readonly url: string;
}

declare module 'fastify' {
  interface FastifyInstance {
    services: Services;
    routeList: readonly RouteFacts[];
    /** Whether replies that the database has made are held against the contract, as in tests. */
    checksReplies: boolean;
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
