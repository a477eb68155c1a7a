import { PEOPLE_ROUTES } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { signedIn } from '../../platform/sessions.ts';
import { erase, erasure } from './erase.ts';
import { handOver, personThings, undoHandOver } from './hand-over.ts';
import { merge, merging } from './merge.ts';
import {
  addPerson,
  changePerson,
  deactivate,
  endSecondStep,
  findPeople,
  invitePeople,
  personOf,
  printPeopleSlips,
  reactivate,
} from './service.ts';

/** The people of a school, for the office. */
export async function peopleRoutes(app: App) {
  const { services } = app;
  registerRoutes(app, PEOPLE_ROUTES, {
    'GET /api/people': (request) => findPeople(services, signedIn(request), request.query),
    'GET /api/people/:person': (request) =>
      personOf(services, signedIn(request), request.params.person),
    'POST /api/people': (request) => addPerson(services, signedIn(request), request.body),
    'PATCH /api/people/:person': (request) =>
      changePerson(services, signedIn(request), request.params.person, request.body),
    'POST /api/people/invitations': (request) =>
      invitePeople(services, signedIn(request), request.body.people),
    'POST /api/people/slips': (request) =>
      printPeopleSlips(services, signedIn(request), request.body.people),
    'PUT /api/people/:person/deactivated': (request) =>
      deactivate(services, signedIn(request), request.params.person),
    'DELETE /api/people/:person/second-step': (request) =>
      endSecondStep(services, signedIn(request), request.params.person),
    'GET /api/people/:person/things': (request) =>
      personThings(services, signedIn(request), request.params.person),
    'POST /api/people/:person/hand-over': (request) =>
      handOver(services, signedIn(request), request.params.person, request.body.to),
    'GET /api/people/:person/erasure': (request) =>
      erasure(services, signedIn(request), request.params.person),
    'DELETE /api/people/:person': (request) =>
      erase(services, signedIn(request), request.params.person),
    'GET /api/people/:person/merge': (request) =>
      merging(services, signedIn(request), request.params.person, request.query.other),
    'POST /api/people/:person/merge': (request) =>
      merge(services, signedIn(request), request.params.person, request.body.other),
    'DELETE /api/hand-overs/:handOver': (request) =>
      undoHandOver(services, signedIn(request), request.params.handOver),
    'DELETE /api/people/:person/deactivated': (request) =>
      reactivate(services, signedIn(request), request.params.person),
  });
}
