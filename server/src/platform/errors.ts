import { STATUS_CODES } from 'node:http';
import { ERRORS, type ErrorCode, type Problem } from '@sammlung/contract';
import type { FastifyError, FastifyInstance, FastifyReply } from 'fastify';
import { hasZodFastifySchemaValidationErrors } from 'fastify-type-provider-zod';
import fp from 'fastify-plugin';
import pg from 'pg';

/** An error that is answered as it stands. */
export class AppError extends Error {
  constructor(
    readonly code: ErrorCode,
    readonly more: { faults?: Problem['faults']; headers?: Record<string, string> } = {},
  ) {
    super(ERRORS[code][1]);
  }
}

/** The problem details of an error code. */
export function problem(code: ErrorCode, more: Partial<Problem> = {}): Problem {
  const [status, detail] = ERRORS[code];
  return {
    type: 'about:blank',
    title: STATUS_CODES[status] ?? 'Error',
    status,
    code,
    detail,
    ...more,
  };
}

/** Database rules that people can run into, and what to tell them. */
const RULES: Record<string, ErrorCode> = {
  folders_sibling_name: 'name-taken',
  folders_top_name: 'name-taken',
  placements_sibling_name: 'name-taken',
  placements_once: 'already-here',
  box_copies_once: 'already-here',
  grants_folder_once: 'already-handed-out',
  grants_item_once: 'already-handed-out',
  doors_folder_once: 'already-handed-out',
  doors_item_once: 'already-handed-out',
  doors_class_once: 'already-handed-out',
  people_email: 'account-taken',
  people_sign_in_name: 'account-taken',
  people_sign_in_key: 'account-taken',
  people_external_id: 'account-taken',
  years_schoolId_label_unique: 'year-taken',
  classes_code: 'code-taken',
  folders_path: 'too-deep',
  folders_no_knot: 'into-itself',
  places_are_private: 'place-private',
};

/** Which of our errors a rule of the database means that was run into. */
export function ruleBroken(error: unknown): ErrorCode | undefined {
  const cause =
    error instanceof Error && error.cause instanceof pg.DatabaseError ? error.cause : error;
  if (!(cause instanceof pg.DatabaseError)) return undefined;
  // Two changes waited for each other, and one of them had to give way.
  if (cause.code === DEADLOCK) return 'changed-since';
  if (cause.constraint && RULES[cause.constraint]) return RULES[cause.constraint];
  if (cause.code !== REFERENCE) return undefined;
  if (cause.table === 'grants') return 'audience-unknown';
  // What is spoken of has been deleted meanwhile; or it has been put to use while it was to be deleted.
  return cause.message.startsWith('insert') ? 'not-found' : 'changed-since';
}

const DEADLOCK = '40P01';
const REFERENCE = '23503';

export interface ErrorOptions {
  /** Is told of each error that is answered, with the method and path of its route. */
  readonly onProblem?: ((route: string, code: ErrorCode) => void) | undefined;
}

/** Answers every error as problem details and notes the ones that are the server's own. */
export const errors = fp(async (app: FastifyInstance, { onProblem }: ErrorOptions) => {
  app.setErrorHandler((error: FastifyError, request, reply) => {
    if (error instanceof AppError) {
      return send(
        reply.headers(error.more.headers ?? {}),
        problem(error.code, pick(error.more.faults)),
      );
    }
    if (hasZodFastifySchemaValidationErrors(error)) {
      const faults = error.validation.map((v) => ({
        field: v.instancePath.replace(/^\//u, '').replaceAll('/', '.'),
        fault: v.message ?? v.keyword,
      }));
      return send(reply, problem('bad-request', { faults }));
    }
    const rule = ruleBroken(error);
    if (rule) return send(reply, problem(rule));
    const status = error.statusCode ?? 500;
    if (status >= 400 && status < 500)
      return send(
        reply,
        problem('bad-request', { status, title: STATUS_CODES[status] ?? 'Error' }),
      );
    request.log.error(error);
    return send(reply, problem('internal'));
  });
  app.setNotFoundHandler((_, reply) => send(reply, problem('not-found')));

  function send(reply: FastifyReply, body: Problem) {
    const { method, url } = reply.request.routeOptions;
    if (url) onProblem?.(`${String(method)} ${url}`, body.code as ErrorCode);
    return reply
      .code(body.status)
      .header('cache-control', 'no-store')
      .type('application/problem+json; charset=utf-8')
      .serializer(JSON.stringify)
      .send(body);
  }
});

function pick(faults: Problem['faults']): Partial<Problem> {
  return faults ? { faults } : {};
}
