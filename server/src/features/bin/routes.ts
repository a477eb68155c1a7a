import { Bin, Binned, EmptyBin, IntoBin, Nothing, OutOfBin, Restored } from '@sammlung/contract';
import { remove } from '../../domain/files/remove.ts';
import type { App } from '../../app-type.ts';
import { signedIn } from '../../platform/sessions.ts';
import { bin, emptyBin, emptyOverdue, outOfBin } from './service.ts';

export async function binRoutes(app: App) {
  const { services } = app;
  await services.jobs?.schedule('empty-bin', '20 2 * * *', () => emptyOverdue(services));

  app.get('/api/bin', { schema: { response: { 200: Bin } } }, (request) =>
    bin(services, signedIn(request)),
  );
  app.post('/api/bin', { schema: { body: IntoBin, response: { 200: Binned } } }, (request) =>
    remove(services, signedIn(request), request.body.things),
  );
  app.post(
    '/api/bin/restore',
    { schema: { body: OutOfBin, response: { 200: Restored } } },
    (request) => outOfBin(services, signedIn(request), request.body),
  );
  app.post(
    '/api/bin/empty',
    { schema: { body: EmptyBin, response: { 204: Nothing } } },
    async (request, reply) => {
      await emptyBin(services, signedIn(request), request.body);
      return reply.code(204).send(null);
    },
  );
}
