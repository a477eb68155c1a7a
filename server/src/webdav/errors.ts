import { ERRORS } from '@sammlung/contract';
import { AppError } from '../platform/errors.ts';

/** What a request of a program is refused with: a status of HTTP or WebDAV, and the reason in words. */
export class DavError extends Error {
  constructor(
    readonly status: number,
    reason: string,
    readonly more: {
      readonly headers?: Readonly<Record<string, string>>;
      /** A condition of RFC 4918 that does not hold, as an element of `DAV:`. */
      readonly condition?: string;
    } = {},
  ) {
    super(reason);
  }
}

export const REASONS = {
  readOnly: 'You can look at this, but not change it from here.',
  notHere: 'There is nothing here for you.',
  noParent: 'The folder for this is not there.',
  fixed: 'This folder is part of every library, and stays as it is.',
  locked: 'Another program is working on this.',
  taken: 'There is something of this name already.',
} as const;

export const notHere = () => new DavError(404, REASONS.notHere);
export const readOnly = () => new DavError(403, REASONS.readOnly);

/** Statuses of WebDAV for what the API says with others. */
const STATUS: Partial<Record<AppError['code'], number>> = {
  'name-not-allowed': 403,
  'name-taken': 403,
  'file-name-empty': 403,
  'into-itself': 403,
  'other-library': 403,
  'no-items-on-top': 403,
  'too-deep': 403,
  'quota-full': 507,
};

/** The same refusal, as a program is told it. */
export function asDavError(error: AppError): DavError {
  const [status, reason] = ERRORS[error.code];
  return new DavError(STATUS[error.code] ?? status, reason, {
    ...(error.more.headers && { headers: error.more.headers }),
  });
}
