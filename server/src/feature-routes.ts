import { accountRoutes } from './features/account/routes.ts';
import { archiveRoutes } from './features/archive/routes.ts';
import { audienceRoutes } from './features/audience/routes.ts';
import { beginRoutes } from './features/begin/routes.ts';
import { binRoutes } from './features/bin/routes.ts';
import { boardRoutes } from './features/board/routes.ts';
import { boxRoutes } from './features/box/routes.ts';
import { classPageRoutes } from './features/class-page/routes.ts';
import { consequenceRoutes } from './features/consequence/routes.ts';
import { deskRoutes } from './features/desk/routes.ts';
import { doorRoutes } from './features/door/routes.ts';
import { findRoutes } from './features/find/routes.ts';
import { intakeRoutes } from './features/intake/routes.ts';
import { keepRoutes } from './features/keep/routes.ts';
import { carryOverRoutes } from './features/carry-over/routes.ts';
import { layoutRoutes } from './features/layout/routes.ts';
import { libraryRoutes } from './features/library/routes.ts';
import { openApiRoutes } from './features/openapi/routes.ts';
import { noteRoutes } from './features/note/routes.ts';
import { pageRoutes } from './features/page/routes.ts';
import { logRoutes } from './features/log/routes.ts';
import { schoolRoutes } from './features/school/routes.ts';
import { peopleRoutes } from './features/people/routes.ts';
import { postRoutes } from './features/post/routes.ts';
import { previewRoutes } from './features/preview/routes.ts';
import { reachRoutes } from './features/reach/routes.ts';
import { readingRoutes } from './features/reading/routes.ts';
import { receiveRoutes } from './features/receive/routes.ts';
import { releaseRoutes } from './features/release/routes.ts';
import { remarkRoutes } from './features/remark/routes.ts';
import { rosterRoutes } from './features/roster/routes.ts';
import { requestRoutes } from './features/request/routes.ts';
import { sessionRoutes } from './features/session/routes.ts';
import { spaceRoutes } from './features/space/routes.ts';
import { programsRoutes } from './features/programs/routes.ts';
import { timetableRoutes } from './features/timetable/routes.ts';
import { todayRoutes } from './features/today/routes.ts';
import { trayRoutes } from './features/tray/routes.ts';
import { whyRoutes } from './features/why/routes.ts';
import { yearsRoutes } from './features/years/routes.ts';

/** The routes of every feature. */
export const FEATURE_ROUTES = [
  sessionRoutes,
  beginRoutes,
  libraryRoutes,
  binRoutes,
  carryOverRoutes,
  layoutRoutes,
  archiveRoutes,
  previewRoutes,
  findRoutes,
  spaceRoutes,
  readingRoutes,
  reachRoutes,
  pageRoutes,
  intakeRoutes,
  classPageRoutes,
  consequenceRoutes,
  boardRoutes,
  boxRoutes,
  audienceRoutes,
  releaseRoutes,
  remarkRoutes,
  rosterRoutes,
  noteRoutes,
  requestRoutes,
  whyRoutes,
  timetableRoutes,
  programsRoutes,
  todayRoutes,
  trayRoutes,
  logRoutes,
  schoolRoutes,
  peopleRoutes,
  accountRoutes,
  yearsRoutes,
  postRoutes,
  receiveRoutes,
  keepRoutes,
  deskRoutes,
  doorRoutes,
  openApiRoutes,
];
