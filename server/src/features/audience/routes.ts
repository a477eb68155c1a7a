import {
  AudienceChoices,
  AudienceQuery,
  FolderAudience,
  FolderParams,
  GrantChange,
  GrantParams,
  Grants,
  HandedOut,
  HandOut,
  Nothing,
} from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { viewerOf } from '../../domain/access/viewer.ts';
import { signedIn } from '../../platform/sessions.ts';
import { audienceChoices } from './choices.ts';
import { folderAudience } from './panel.ts';
import { changeGrant, handOut, handOutAgain, takeBack } from './service.ts';

export async function audienceRoutes(app: App) {
  const { services } = app;
  const several = { body: Grants, response: { 204: Nothing } };

  app.get(
    '/api/folders/:folder/audience',
    { schema: { params: FolderParams, response: { 200: FolderAudience } } },
    (request) =>
      folderAudience(services, viewerOf(signedIn(request), services.now()), request.params.folder),
  );
  app.get(
    '/api/audiences',
    { schema: { querystring: AudienceQuery, response: { 200: AudienceChoices } } },
    (request) => audienceChoices(services, signedIn(request), request.query.words),
  );
  app.post(
    '/api/grants',
    { schema: { body: HandOut, response: { 201: HandedOut } } },
    async (request, reply) =>
      reply.code(201).send(await handOut(services, signedIn(request), request.body)),
  );
  app.put(
    '/api/grants/:grant',
    { schema: { params: GrantParams, body: GrantChange, response: { 200: GrantChange } } },
    (request) => changeGrant(services, signedIn(request), request.params.grant, request.body),
  );
  app.post('/api/grants/take-back', { schema: several }, async (request, reply) => {
    await takeBack(services, signedIn(request), request.body.grants);
    return reply.code(204).send(null);
  });
  app.post('/api/grants/restore', { schema: several }, async (request, reply) => {
    await handOutAgain(services, signedIn(request), request.body.grants);
    return reply.code(204).send(null);
  });
}
