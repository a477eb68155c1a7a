import { CLASS_PAGE_ROUTES, CLASS_PAGE_SCOPED, CLASS_WEBSITE_SCOPED } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { AT_DOOR, OWN, registerScoped, SEEN_AS } from '../../domain/access/scopes.ts';
import { keepUpToDate } from '../../domain/live/watching.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { signedIn } from '../../platform/sessions.ts';
import { entryConsequences } from './consequences.ts';
import { addHeadingTo, editHeading, placeHeading, setHeading, setPage } from './headings.ts';
import { earlierEntries, editedPage, pageOf } from './reading.ts';
import {
  appearOn,
  editAppearance,
  editEntry,
  editEverywhere,
  makeEntry,
  placeAppearance,
  restoreAppearance,
  takeBackAppearance,
  takeBackEverywhere,
} from './service.ts';
import { changeWebsite, editedWebsite, websiteClass, websiteOf } from './website.ts';

/** The pages of classes: for those who belong to them, and for those who make them. */
export async function classPageRoutes(app: App) {
  const { services } = app;
  registerScoped(app, [OWN, SEEN_AS], CLASS_PAGE_SCOPED, {
    'GET /class-pages/:class': (request, { viewer }) =>
      pageOf(services.db, viewer, request.params.class),
  });
  registerScoped(app, [AT_DOOR], CLASS_WEBSITE_SCOPED, {
    'GET /website': (_, scoped) => websiteOf(services.db, scoped),
    'GET /website/live': (request, scoped, reply) => {
      websiteClass(scoped);
      const { schoolId } = scoped.door!;
      return keepUpToDate(services.live, scoped, request, reply, {
        schoolId,
        folderId: null,
        news: null,
      });
    },
  });
  registerRoutes(app, CLASS_PAGE_ROUTES, {
    'GET /api/class-pages/:class/edited': (request) =>
      editedPage(services, signedIn(request), request.params.class),
    'GET /api/class-pages/:class/earlier': (request) =>
      earlierEntries(services, signedIn(request), request.params.class, request.query.words),
    'PATCH /api/class-pages/:class': (request) =>
      setPage(services, signedIn(request), request.params.class, request.body),
    'GET /api/class-pages/:class/website': (request) =>
      editedWebsite(services, signedIn(request), request.params.class),
    'PUT /api/class-pages/:class/website': (request) =>
      changeWebsite(services, signedIn(request), request.params.class, request.body),
    'POST /api/class-pages/:class/headings': (request) =>
      addHeadingTo(services, signedIn(request), request.params.class, request.body),
    'PATCH /api/headings/:heading': (request) =>
      editHeading(services, signedIn(request), request.params.heading, request.body),
    'POST /api/headings/:heading/move': (request) =>
      placeHeading(services, signedIn(request), request.params.heading, request.body.before),
    'DELETE /api/headings/:heading': (request) =>
      setHeading(services, signedIn(request), request.params.heading, 'removed'),
    'POST /api/headings/:heading/restore': (request) =>
      setHeading(services, signedIn(request), request.params.heading, 'there'),
    'POST /api/entries': (request) => makeEntry(services, signedIn(request), request.body),
    'POST /api/entries/consequences': (request) =>
      entryConsequences(services, signedIn(request), request.body),
    'PATCH /api/entries/:entry': (request) =>
      editEntry(services, signedIn(request), request.params.entry, request.body),
    'POST /api/entries/:entry/appearances': (request) =>
      appearOn(services, signedIn(request), request.params.entry, request.body.on),
    'PATCH /api/entries/:entry/appearances': (request) =>
      editEverywhere(services, signedIn(request), request.params.entry, request.body),
    'DELETE /api/entries/:entry/appearances': (request) =>
      takeBackEverywhere(services, signedIn(request), request.params.entry),
    'PATCH /api/appearances/:appearance': (request) =>
      editAppearance(services, signedIn(request), request.params.appearance, request.body),
    'POST /api/appearances/:appearance/move': (request) =>
      placeAppearance(services, signedIn(request), request.params.appearance, request.body),
    'DELETE /api/appearances/:appearance': (request) =>
      takeBackAppearance(services, signedIn(request), request.params.appearance),
    'POST /api/appearances/:appearance/restore': (request) =>
      restoreAppearance(services, signedIn(request), request.params.appearance),
  });
}
