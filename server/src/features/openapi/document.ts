import * as contract from '@sammlung/contract';
import type { Route } from '@sammlung/contract';
import { z } from 'zod';
import { createDocument, type ZodOpenApiOperationObject } from 'zod-openapi';

const { COMMON_ERRORS, ERRORS, Media, Problem, ROUTES } = contract;

type Responses = ZodOpenApiOperationObject['responses'];

/** The API as OpenAPI 3.1, from the route map. */
export function openApiDocument() {
  const paths: Record<string, Record<string, ZodOpenApiOperationObject>> = {};
  for (const [key, route] of Object.entries<Route>(ROUTES)) {
    const [method, path] = key.split(' ') as [string, string];
    const at = path.replaceAll(/:(\w+)/gu, '{$1}');
    paths[at] = { ...paths[at], [method.toLowerCase()]: operation(path, route) };
  }
  return createDocument({
    openapi: '3.1.0',
    info: {
      title: 'Sammlung API',
      version: '1',
      description:
        'Requests are authorised by the session cookie. Errors are problem details (RFC 9457) with a code.',
    },
    paths,
    components: { schemas: named() },
  });
}

/** What bodies and replies are made of, by the names that the contract has for it. */
function named() {
  const schemas = Object.entries(contract).filter(
    ([name, value]) => value instanceof z.ZodObject && !/(?:Params|Query)$/u.test(name),
  );
  return Object.fromEntries(schemas) as Record<string, z.ZodType>;
}

function operation(path: string, { summary, params, query, body, ...route }: Route) {
  return {
    summary,
    tags: [path.split('/')[2]!],
    requestParams: { ...(params && { path: params }), ...(query && { query }) },
    ...(body && { requestBody: { required: true, content: content(body) } }),
    responses: { ...answer(route), ...refusals(route.errors) },
  };
}

function answer({ reply, status }: Pick<Route, 'reply' | 'status'>): Responses {
  const empty = { 204: { description: 'Done' } };
  if (!reply) return empty;
  return {
    [status ?? 200]: { description: 'What was asked for', content: content(reply) },
    ...(!(reply instanceof Media) && reply.safeParse(null).success && empty),
  };
}

/** The errors of a route by their status. */
function refusals(errors: Route['errors'] = []): Responses {
  const responses: Responses = {};
  for (const code of [...COMMON_ERRORS, ...errors]) {
    const [status, text] = ERRORS[code];
    const line = `\`${code}\`: ${text}`;
    const before = responses[`${status}`]?.description;
    responses[`${status}`] = {
      description: before ? `${before}\n\n${line}` : line,
      content: { 'application/problem+json': { schema: Problem } },
    };
  }
  return responses;
}

function content(what: NonNullable<Route['reply']>) {
  if (!(what instanceof Media)) return { 'application/json': { schema: what } };
  return Object.fromEntries(what.types.map((type) => [type, {}]));
}
