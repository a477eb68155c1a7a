import { DigestChoice, MyClasses, NewThings, Nothing } from '@sammlung/contract';
import type { App } from '../../platform/app-type.ts';
import { askerOf } from '../../platform/asking.ts';
import { signedIn } from '../../platform/sessions.ts';
import { chooseDigest, sendDigests } from './digest.ts';
import { myClasses, newThings } from './service.ts';

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
  app.get('/api/new', { schema: { response: { 200: NewThings } } }, (request) =>
    newThings(services, askerOf(request)),
  );
  app.get('/api/classes', { schema: { response: { 200: MyClasses } } }, (request) =>
    myClasses(services, askerOf(request)),
  );
}
