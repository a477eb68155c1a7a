import { POST_ROUTES } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { AppError } from '../../platform/errors.ts';
import { newestLetters } from './queries.ts';

/** The post room of the sample school. There is none where mails go to a real mail server. */
export async function postRoutes(app: App) {
  const { db, settings } = app.services;

  registerRoutes(app, POST_ROUTES, {
    'GET /api/post-room': async () => {
      if (!settings.postRoom) throw new AppError('not-found');
      const letters = await newestLetters(db);
      return {
        letters: letters.map((l) => ({ ...l, receivedAt: l.receivedAt.toISOString() })),
      };
    },
  });
}
