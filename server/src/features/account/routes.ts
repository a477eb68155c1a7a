import { ACCOUNT_ROUTES } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { forgetEmailTokens } from '../../platform/passwords.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { signedIn } from '../../platform/sessions.ts';
import { beginPasskey, confirmPasskey, endPasskey } from './passkeys.ts';
import {
  beginSecondStep,
  confirmSecondStep,
  endSecondStep,
  newRecoveryCodes,
} from './second-step.ts';
import {
  askEmail,
  changePassword,
  confirmEmail,
  ownAccount,
  rename,
  signOutElsewhere,
} from './service.ts';

/** One’s own account. */
export async function accountRoutes(app: App) {
  const { services } = app;
  registerRoutes(app, ACCOUNT_ROUTES, {
    'GET /api/account': (request) => ownAccount(services, signedIn(request)),
    'PATCH /api/account': (request) => rename(services, signedIn(request), request.body.name),
    'PUT /api/account/password': async (request, reply) => {
      reply.header('set-cookie', await changePassword(services, request, request.body));
    },
    'PUT /api/account/email': (request) => askEmail(services, request, request.body),
    'DELETE /api/account/email': (request) => forgetEmailTokens(services.db, signedIn(request).id),
    'POST /api/account/email/confirmed': (request) => confirmEmail(services, request.body.token),
    'DELETE /api/account/sessions/:session': (request) =>
      signOutElsewhere(services, signedIn(request), request.params.session),
    'DELETE /api/account/sessions': (request) =>
      signOutElsewhere(services, signedIn(request), null),
    'POST /api/account/second-step': (request) =>
      beginSecondStep(services, request, request.body.password),
    'PUT /api/account/second-step': async (request, reply) => {
      reply.header('set-cookie', await confirmSecondStep(services, request, request.body.code));
    },
    'POST /api/account/second-step/off': async (request, reply) => {
      reply.header('set-cookie', await endSecondStep(services, request, request.body.password));
    },
    'POST /api/account/recovery-codes': (request) =>
      newRecoveryCodes(services, request, request.body.password),
    'POST /api/account/passkeys': (request) =>
      beginPasskey(services, request, request.body.password),
    'PUT /api/account/passkeys': (request) => confirmPasskey(services, request, request.body),
    'POST /api/account/passkeys/:passkey/removal': (request) =>
      endPasskey(services, request, request.params.passkey, request.body.password),
  });
}
