import { z } from 'zod';
import { Id, Instant } from './common.ts';
import type { RouteMap } from './route.ts';

/** A browser in which somebody has signed in. */
export const OwnSession = z.object({
  id: Id,
  /** What the browser calls itself, as far as it is known: `Firefox 130`, `Linux`. */
  browser: z.string(),
  system: z.string(),
  since: Instant,
  until: Instant,
  /** Whether it is the one that asks. */
  here: z.boolean(),
});
export type OwnSession = z.infer<typeof OwnSession>;

/** The second step of signing in: a code that an app on a phone makes (TOTP, RFC 6238), or a recovery code in its place. */
export const SecondStep = z.object({
  on: z.boolean(),
  /** How many recovery codes have not been used. */
  recoveryCodes: z.number().int(),
});

/** A device or a program that somebody signs in with (WebAuthn). */
export const OwnPasskey = z.object({
  id: Id,
  /** What its owner calls it. */
  name: z.string(),
  since: Instant,
  /** When it was used for the last time; null if never. */
  used: Instant.nullable(),
});
export type OwnPasskey = z.infer<typeof OwnPasskey>;

const Base64Url = (length: number) =>
  z
    .string()
    .max(length)
    .regex(/^[\w-]*$/u);
const Transports = z.array(z.string().max(20)).max(10);
/** What a browser is asked to make a passkey by (WebAuthn, `PublicKeyCredentialCreationOptionsJSON`). */
export const NewPasskey = z.object({
  challenge: z.string(),
  rp: z.object({ id: z.string(), name: z.string() }),
  user: z.object({ id: z.string(), name: z.string(), displayName: z.string() }),
  pubKeyCredParams: z.array(z.object({ type: z.literal('public-key'), alg: z.number().int() })),
  timeout: z.number().int(),
  excludeCredentials: z.array(
    z.object({ type: z.literal('public-key'), id: z.string(), transports: Transports }),
  ),
  authenticatorSelection: z.object({
    residentKey: z.literal('required'),
    requireResidentKey: z.literal(true),
    userVerification: z.literal('required'),
  }),
  attestation: z.literal('none'),
});
export type NewPasskey = z.infer<typeof NewPasskey>;

const Answer = z.object({
  id: Base64Url(1400),
  rawId: Base64Url(1400),
  type: z.literal('public-key'),
});
/** What a browser answers once it has made a passkey (`RegistrationResponseJSON`). */
export const MadePasskey = Answer.extend({
  response: z.object({
    clientDataJSON: Base64Url(4000),
    attestationObject: Base64Url(20_000),
    transports: Transports.default([]),
  }),
});
/** What a browser answers by a passkey that it has (`AuthenticationResponseJSON`). */
export const PasskeyAnswer = Answer.extend({
  response: z.object({
    clientDataJSON: Base64Url(4000),
    authenticatorData: Base64Url(4000),
    signature: Base64Url(4000),
  }),
});
export type MadePasskey = z.infer<typeof MadePasskey>;
export type PasskeyAnswer = z.input<typeof PasskeyAnswer>;

/** One’s own account. */
export const Account = z.object({
  name: z.string(),
  /** Names of students are those of the class lists. */
  mayRename: z.boolean(),
  email: z.string().nullable(),
  signInName: z.string().nullable(),
  /** The address that waits to be confirmed. */
  newEmail: z.string().nullable(),
  /** Whether mails go out: else no address can be confirmed. */
  mails: z.boolean(),
  /** Null for those who are not offered one. */
  secondStep: SecondStep.nullable(),
  /** Null for those who are not offered any. */
  passkeys: z.array(OwnPasskey).nullable(),
  /** Whether a mail tells each day what is new. */
  digest: z.boolean(),
  sessions: z.array(OwnSession),
});
export type Account = z.infer<typeof Account>;

const Password = z.string().min(1).max(256);
/** Digits from an app, or a recovery code; what stands between its groups is the reader’s. */
export const StepCode = z
  .string()
  .max(40)
  .transform((code) => code.toLowerCase().replaceAll(/[\s-]/gu, ''))
  .pipe(z.string().min(6).max(20));

export const NewSecondStep = z.object({
  /** What an app takes in by a picture (`otpauth:`). */
  address: z.string(),
  /** It as a QR code, as an SVG. */
  picture: z.string(),
  /** The same to be typed in. */
  secret: z.string(),
  recoveryCodes: z.array(z.string()),
});
export type NewSecondStep = z.infer<typeof NewSecondStep>;

/** One’s own account: name, address, password, second step and sessions. */
export const ACCOUNT_ROUTES = {
  'GET /api/account': { summary: 'One’s own account.', reply: Account },
  'PATCH /api/account': {
    summary: 'Changes one’s own name.',
    body: z.object({ name: z.string().trim().min(1).max(120) }),
  },
  'PUT /api/account/password': {
    summary: 'Changes one’s own password. All other sessions end.',
    body: z.object({ current: Password, password: z.string().max(256) }),
    errors: ['wrong-password', 'password-short', 'too-many-tries'],
  },
  'PUT /api/account/email': {
    summary: 'Sends a mail to a new address of one’s own; it counts once its link was opened.',
    body: z.object({ email: z.email().max(254).toLowerCase(), password: Password }),
    errors: ['wrong-password', 'too-many-tries'],
  },
  'DELETE /api/account/email': { summary: 'Gives up a new address that has not been confirmed.' },
  'POST /api/account/email/confirmed': {
    summary: 'Confirms a new address, by the token of the mail.',
    body: z.object({ token: z.string().min(1).max(100) }),
    errors: ['link-used', 'email-taken'],
  },
  'DELETE /api/account/sessions/:session': {
    summary: 'Ends one of one’s own sessions.',
    params: z.object({ session: Id }),
  },
  'DELETE /api/account/sessions': { summary: 'Ends all sessions of one’s own but this one.' },
  'POST /api/account/second-step': {
    summary: 'Begins a second step: what the app takes in, and recovery codes, shown this once.',
    body: z.object({ password: Password }),
    reply: NewSecondStep,
    errors: ['wrong-password', 'too-many-tries', 'second-step-on'],
  },
  'PUT /api/account/second-step': {
    summary: 'Turns the second step on, by a first code from the app.',
    body: z.object({ code: StepCode }),
    errors: ['wrong-code', 'too-many-tries'],
  },
  'POST /api/account/second-step/off': {
    summary: 'Turns the second step off.',
    body: z.object({ password: Password }),
    errors: ['wrong-password', 'too-many-tries'],
  },
  'POST /api/account/recovery-codes': {
    summary: 'New recovery codes, shown this once; those from before are good for nothing.',
    body: z.object({ password: Password }),
    reply: z.object({ recoveryCodes: z.array(z.string()) }),
    errors: ['wrong-password', 'too-many-tries'],
  },
  'POST /api/account/passkeys': {
    summary: 'Begins a passkey: what the browser makes it by.',
    body: z.object({ password: Password }),
    reply: NewPasskey,
    errors: ['wrong-password', 'too-many-tries', 'passkeys-enough'],
  },
  'PUT /api/account/passkeys': {
    summary: 'Adds the passkey that the browser has made.',
    body: z.object({ name: z.string().trim().min(1).max(60), passkey: MadePasskey }),
    errors: ['wrong-passkey'],
  },
  'POST /api/account/passkeys/:passkey/removal': {
    summary: 'Removes a passkey.',
    params: z.object({ passkey: Id }),
    body: z.object({ password: Password }),
    errors: ['wrong-password', 'too-many-tries'],
  },
} as const satisfies RouteMap;
