import { MyClasses, NewThings } from '@sammlung/contract';
import type { App } from '../../platform/app-type.ts';
import { askerOf } from '../../platform/asking.ts';
import { myClasses, newThings } from './service.ts';

export async function receiveRoutes(app: App) {
  app.get('/api/new', { schema: { response: { 200: NewThings } } }, (request) =>
    newThings(app.services, askerOf(request)),
  );
  app.get('/api/classes', { schema: { response: { 200: MyClasses } } }, (request) =>
    myClasses(app.services, askerOf(request)),
  );
}
