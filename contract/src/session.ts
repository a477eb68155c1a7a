import { z } from 'zod';
import { PasskeyAnswer, StepCode } from './account.ts';
import { Id } from './common.ts';
import { media, type RouteMap } from './route.ts';

export const SignIn = z.object({
  email: z.string().trim().min(1).max(254),
  password: z.string().min(1).max(256),
});

/** What comes before somebody is signed in. */
export const NextStep = z.discriminatedUnion('step', [
  /** The word of a printed slip was given: with this token a password is chosen (`NewPassword`), then one signs in. */
  z.object({ step: z.literal('password'), token: z.string() }),
  /** The password was right: now a code from an app, or a recovery code. */
  z.object({ step: z.literal('code') }),
]);
export type NextStep = z.infer<typeof NextStep>;

export const Language = z.enum(['en', 'de']);
export type Language = z.infer<typeof Language>;
export const LanguageChoice = z.object({ language: Language });

export const Person = z.object({
  id: Id,
  name: z.string(),
  kind: z.enum(['teacher', 'student', 'office']),
  /** The chosen language; null leaves it to the browser. */
  language: Language.nullable(),
  school: z.object({ id: Id, name: z.string(), timeZone: z.string(), sample: z.boolean() }),
});
export type Person = z.infer<typeof Person>;

export const Session = z.object({ person: Person.nullable() });
export type Session = z.infer<typeof Session>;

/** The ready sign-ins of the sample school; empty when it is not loaded. */
export const SampleSignIns = z.object({
  signIns: z.array(
    z.object({
      name: z.string(),
      kind: z.enum(['teacher', 'student', 'office']),
      about: z.string(),
      email: z.string(),
      password: z.string(),
    }),
  ),
});
export type SampleSignIns = z.infer<typeof SampleSignIns>;

/** Asks for a mail by which a password can be set. The reply is the same whether anybody has the address. */
export const Forgotten = z.object({ email: z.string().trim().min(1).max(254) });

/** A new password, by the token of a mail. */
export const NewPassword = z.object({
  token: z.string().min(1).max(100),
  password: z.string().max(256),
});

/** Signing in and out, passwords, and the language. */
export const SESSION_ROUTES = {
  'GET /api/session': {
    summary: 'Who is signed in.',
    reply: Session,
  },
  'POST /api/session': {
    summary: 'Signs in.',
    body: SignIn,
    reply: NextStep.nullable(),
    errors: ['wrong-sign-in', 'too-many-tries'],
  },
  'POST /api/session/code': {
    summary: 'The second step of signing in: a code from an app, or a recovery code.',
    body: z.object({ code: StepCode }),
    errors: ['wrong-code', 'sign-in-again', 'too-many-tries'],
  },
  'POST /api/session/passkey': {
    summary: 'Begins signing in by a passkey: what the browser asks for one by.',
    reply: z.object({
      challenge: z.string(),
      rpId: z.string(),
      timeout: z.number().int(),
      userVerification: z.literal('required'),
    }),
  },
  'PUT /api/session/passkey': {
    summary: 'Signs in by a passkey, without a password or a code.',
    body: PasskeyAnswer,
    errors: ['wrong-passkey', 'too-many-tries'],
  },
  'GET /api/session/ways': {
    summary: 'How people can sign in here.',
    reply: z.object({
      /** What the provider is called at which people can sign in instead; null where there is none. */
      outside: z.string().nullable(),
      /** Who can sign in by a password. */
      passwords: z.enum(['all', 'office']),
    }),
  },
  'POST /api/session/outside': {
    summary: 'Begins signing in at the provider: the address to go to.',
    body: z.object({
      /** Where in the application to come back to. */
      to: z
        .string()
        .max(2000)
        .regex(/^\/([^/\\].*)?$/u),
    }),
    reply: z.object({ address: z.url() }),
    errors: ['not-found', 'provider-silent', 'too-many-tries'],
  },
  'GET /api/session/outside/callback/school': {
    summary: 'Where the provider sends the browser back to.',
    reply: media('text/html'),
    errors: ['not-found'],
  },
  'PUT /api/session/language': {
    summary: 'Chooses the language of the screens.',
    body: LanguageChoice,
  },
  'POST /api/session/forgotten': {
    summary: 'Asks for an email with a link to a new password.',
    body: Forgotten,
    errors: ['too-many-tries'],
  },
  'POST /api/session/password': {
    summary: 'Sets a new password by such a link.',
    body: NewPassword,
    errors: ['link-used', 'password-short'],
  },
  'DELETE /api/session': {
    summary: 'Signs out.',
  },
  'GET /api/sample': {
    summary: 'The sign-ins of the sample school, where it is on.',
    reply: SampleSignIns,
  },
} as const satisfies RouteMap;
