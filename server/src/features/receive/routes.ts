import { DigestChoice, MyClasses, NewThings, Nothing, SeenAs, StaffRoom } from '@sammlung/contract';
import type { App } from '../../platform/app-type.ts';
import { signedIn } from '../../platform/sessions.ts';
import { chooseDigest, sendDigests } from './digest.ts';
import { OWN, SEEN_AS } from '../../platform/visiting.ts';
import { myClasses, newThings, seenAs, staffRoom } from './service.ts';

export async function receiveRoutes(app: App) {
  const { services } = app;
  await services.jobs?.daily('digest', '5 * * * *', async () => void (await sendDigests(services)));
  app.put(
    '/api/new/digest',
    { schema: { body: DigestChoice, response: { 204: Nothing } } },
    async (request, reply) => {
      await chooseDigest(services, signedIn(request), request.body.digest);
      return reply.code(204).send(null);
    },
  );
  for (const { prefix, params, visit } of [OWN, SEEN_AS]) {
    app.get(
      `${prefix}/new`,
      { schema: { params, response: { 200: NewThings } } },
      async (request) => {
        const { asker, services: here } = await visit(services, request);
        return newThings(here, asker);
      },
    );
    app.get(
      `${prefix}/classes`,
      { schema: { params, response: { 200: MyClasses } } },
      async (request) => {
        const { asker, services: here } = await visit(services, request);
        return myClasses(here, asker);
      },
    );
    app.get(
      `${prefix}/staff-room`,
      { schema: { params, response: { 200: StaffRoom } } },
      async (request) => {
        const { asker, services: here } = await visit(services, request);
        return staffRoom(here, asker);
      },
    );
  }
  app.get(
    `${SEEN_AS.prefix}/name`,
    { schema: { params: SEEN_AS.params, response: { 200: SeenAs } } },
    async (request) => {
      const { asker } = await SEEN_AS.visit(services, request);
      return seenAs(services.db, asker);
    },
  );
}
