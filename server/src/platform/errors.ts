import { STATUS_CODES } from 'node:http';
import type { Problem } from '@sammlung/contract';
import type { FastifyError, FastifyInstance, FastifyReply } from 'fastify';
import { hasZodFastifySchemaValidationErrors } from 'fastify-type-provider-zod';
import fp from 'fastify-plugin';
import pg from 'pg';

/** Every error the server answers with: its status and the sentence that explains it. */
export const ERRORS = {
  'bad-request': [400, 'The request could not be read.'],
  'sign-in-needed': [401, 'Please sign in.'],
  'wrong-sign-in': [401, 'Mail address and password do not fit together.'],
  'too-many-tries': [429, 'Too many tries. Please wait before the next one.'],
  busy: [503, 'Very much is going on at the moment. Please try again in a few seconds.'],
  'wrong-origin': [403, 'This request came from another site.'],
  'not-allowed': [403, 'You can look at this, but not change it.'],
  'not-found': [404, 'There is nothing here for you.'],
  'name-not-allowed': [422, 'This name cannot be used.'],
  'name-taken': [409, 'Something of this name is here already.'],
  'already-here': [409, 'It is here already.'],
  'already-handed-out': [409, 'This audience has it already.'],
  'audience-unknown': [422, 'There is no such audience at this school.'],
  'level-not-possible': [
    422,
    'Only colleagues can be given more than looking, and only in folders.',
  ],
  'ends-before-start': [422, 'It would end before it begins.'],
  'list-binary': [422, 'This is no list of people: it is not a text.'],
  'list-empty': [422, 'There is nobody in this list.'],
  'list-too-long': [422, 'This list is longer than a class can be.'],
  'too-slow': [422, 'This file takes too long to read. Is it what it should be?'],
  'account-taken': [
    409,
    'Somebody has this email address, sign-in name or number already. Check the list again.',
  ],
  'code-taken': [409, 'Another class of this year has this code.'],
  'asked-enough': [429, 'You have asked for enough today. Ask in person, or tomorrow.'],
  'answered-already': [409, 'This request has been answered.'],
  'no-such-address': [404, 'There is no such short address.'],
  'wrong-word': [403, 'That is not the word.'],
  'link-used': [410, 'This link has been used, or is too old. Ask for a new one.'],
  'password-short': [422, 'A password has at least 10 signs.'],
  'into-itself': [422, 'A folder cannot lie in itself.'],
  'other-library': [422, 'This belongs to another library and stays there.'],
  'no-items-on-top': [422, 'At the top of the library there are only folders.'],
  'place-gone': [409, 'The place where it lay is gone.'],
  'changed-since': [409, 'It has been changed since.'],
  'layout-faults': [422, 'Some of the names cannot be used.'],
  'too-deep': [422, 'Folders can lie 64 deep, no deeper.'],
  'empty-file': [422, 'The file is empty, so there is nothing to add.'],
  'file-name-empty': [422, 'The file has no name that can be kept.'],
  'file-too-large': [413, 'The file is larger than this server takes.'],
  'upload-unfinished': [409, 'The upload is not complete yet.'],
  'upload-refused': [400, 'The upload could not be taken.'],
  'disk-full': [507, 'The server has no room left for this file.'],
  'too-many-words': [422, 'Fewer words, please: twelve different ones at most.'],
  'too-many-folders': [422, 'That is more folders than can be made at once. Take it in parts.'],
  'too-many': [422, 'That is more than can be copied at once. Choose fewer.'],
  'too-many-uploads': [
    429,
    'Too many uploads are under way. Finish or give up some of them first.',
  ],
  'quota-full': [413, 'Your room for files is used up.'],
  'range-not-there': [416, 'The file is not that long.'],
  'content-missing': [500, 'The content of this file is missing on the server.'],
  internal: [500, 'Something went wrong on the server. It has been noted.'],
} as const satisfies Record<string, readonly [number, string]>;

export type ErrorCode = keyof typeof ERRORS;

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
  grants_folder_once: 'already-handed-out',
  grants_item_once: 'already-handed-out',
  doors_folder_once: 'already-handed-out',
  doors_item_once: 'already-handed-out',
  people_email: 'account-taken',
  people_sign_in_name: 'account-taken',
  people_sign_in_key: 'account-taken',
  people_external_id: 'account-taken',
  folders_path: 'too-deep',
  folders_no_knot: 'into-itself',
};

function ruleBroken(error: unknown): ErrorCode | undefined {
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

/** Answers every error as problem details and notes the ones that are the server's own. */
export const errors = fp(async (app: FastifyInstance) => {
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
});

function pick(faults: Problem['faults']): Partial<Problem> {
  return faults ? { faults } : {};
}

function send(reply: FastifyReply, body: Problem) {
  return reply
    .code(body.status)
    .header('cache-control', 'no-store')
    .type('application/problem+json; charset=utf-8')
    .serializer(JSON.stringify)
    .send(body);
}
