import { isDeepStrictEqual } from 'node:util';
import { Media, type Gives, type Reads, type Route, type RouteMap } from '@sammlung/contract';
import type { FastifyReply, FastifyRequest, HTTPMethods } from 'fastify';
import type { z } from 'zod';
import type { App } from '../app-type.ts';
import { Json } from './json.ts';

type Read<R, Name extends 'params' | 'query' | 'body'> = R extends {
  readonly [K in Name]: Gives<infer O>;
}
  ? O
  : unknown;

/** A request to a route, read by what its route says of it. */
export type RequestOf<R> = FastifyRequest<{
  Params: Read<R, 'params'>;
  Querystring: Read<R, 'query'>;
  Body: Read<R, 'body'>;
}>;

/** What a handler gives back: the reply. Other than JSON it sends by itself; where the answer is empty, it is dropped. */
export type Answer<R> = R extends { readonly reply: infer Z }
  ? Z extends Reads<infer I>
    ? I | Json<I>
    : FastifyReply | void
  : unknown;

/** What is done at each route of a map. */
export type Handlers<M extends RouteMap> = {
  [K in keyof M]: (
    request: RequestOf<M[K]>,
    reply: FastifyReply,
  ) => Answer<M[K]> | Promise<Answer<M[K]>>;
};

const JSON_TYPE = 'application/json; charset=utf-8';

/** Registers routes as the contract has them, with a handler for each. */
export function registerRoutes<M extends RouteMap>(app: App, routes: M, handlers: Handlers<M>) {
  for (const [key, route] of Object.entries(routes)) {
    const [method, url] = key.split(' ') as [HTTPMethods, string];
    const handle = handlers[key] as Handlers<RouteMap>[string];
    const { params, query, body, reply: replies, largest, status = 200 } = route;
    app.route({
      method,
      url,
      ...(largest && { bodyLimit: largest }),
      // Contents go out as they are kept, by ranges.
      ...(replies instanceof Media && { compress: false }),
      schema: {
        ...(params && { params }),
        ...(query && { querystring: query }),
        ...(body && !(body instanceof Media) && { body }),
        ...(replies && !(replies instanceof Media) && { response: { [status]: replies } }),
      },
      async handler(request, reply) {
        const answer = await handle(request, reply);
        if (replies instanceof Media) return answer;
        if (answer instanceof Json) {
          if (app.checksReplies) assertReply(replies, answer);
          return reply.code(status).type(JSON_TYPE).send(answer.text);
        }
        return replies && answer !== null
          ? reply.code(status).send(answer)
          : reply.code(204).send();
      },
    });
  }
}

/** Throws where what the database has put together is not exactly what the contract says. */
function assertReply(schema: Route['reply'], answer: Json<unknown>) {
  const read = answer.read();
  if (!isDeepStrictEqual((schema as z.ZodType).parse(read), read))
    throw new Error(`Not as the contract has it: ${answer.text}`);
}
