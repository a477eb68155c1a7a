import { ACCOUNT_ROUTES } from './account.ts';
import { ARCHIVE_ROUTES, ARCHIVE_SCOPED } from './archive.ts';
import { AUDIENCE_ROUTES } from './audience.ts';
import { BEGIN_ROUTES } from './begin.ts';
import { BIN_ROUTES } from './bin.ts';
import { BOARD_ROUTES } from './board.ts';
import { BOX_ROUTES } from './box.ts';
import { CARRY_OVER_ROUTES } from './carry-over.ts';
import { CLASS_PAGE_ROUTES, CLASS_PAGE_SCOPED, CLASS_WEBSITE_SCOPED } from './class-page.ts';
import { CONSEQUENCE_ROUTES } from './consequence.ts';
import { DESK_ROUTES, DESK_SCOPED } from './desk.ts';
import { DOOR_ROUTES } from './door.ts';
import { FIND_ROUTES } from './find.ts';
import { INTAKE_ROUTES } from './intake.ts';
import { KEEP_ROUTES } from './keep.ts';
import { LAYOUT_ROUTES } from './layout.ts';
import { LIBRARY_ROUTES } from './library.ts';
import { NOTE_ROUTES } from './note.ts';
import { OPENAPI_ROUTES } from './openapi.ts';
import { PAGE_ROUTES, PAGE_SCOPED } from './page.ts';
import { SCHOOL_ROUTES } from './school.ts';
import { LOG_ROUTES } from './log.ts';
import { PEOPLE_ROUTES } from './people.ts';
import { POST_ROUTES } from './post.ts';
import { PREVIEW_SCOPED } from './preview.ts';
import { READING_LIVE, READING_OPENED, READING_ROUTES, READING_SCOPED } from './reading.ts';
import { REACH_ROUTES } from './reach.ts';
import { RECEIVE_ROUTES, RECEIVE_SCOPED, SEEN_AS_SCOPED } from './receive.ts';
import { REMARK_ROUTES } from './remark.ts';
import { RELEASE_ROUTES } from './release.ts';
import { REQUEST_ROUTES } from './request.ts';
import { ROSTER_ROUTES } from './roster.ts';
import { under } from './route.ts';
import { DOOR_PATH, OWN_PATH, SEEN_AS_PATH } from './scope.ts';
import { SESSION_ROUTES } from './session.ts';
import { SPACE_ROUTES } from './space.ts';
import { PROGRAMS_ROUTES } from './programs.ts';
import { TIMETABLE_ROUTES } from './timetable.ts';
import { TODAY_ROUTES } from './today.ts';
import { TRAY_ROUTES } from './tray.ts';
import { WHY_ROUTES } from './why.ts';
import { YEARS_ROUTES } from './years.ts';

/** Every route of the API. */
export const ROUTES = {
  ...ACCOUNT_ROUTES,
  ...ARCHIVE_ROUTES,
  ...AUDIENCE_ROUTES,
  ...BEGIN_ROUTES,
  ...BIN_ROUTES,
  ...BOARD_ROUTES,
  ...BOX_ROUTES,
  ...CARRY_OVER_ROUTES,
  ...CLASS_PAGE_ROUTES,
  ...CONSEQUENCE_ROUTES,
  ...DESK_ROUTES,
  ...DOOR_ROUTES,
  ...FIND_ROUTES,
  ...INTAKE_ROUTES,
  ...KEEP_ROUTES,
  ...LAYOUT_ROUTES,
  ...LIBRARY_ROUTES,
  ...NOTE_ROUTES,
  ...OPENAPI_ROUTES,
  ...PAGE_ROUTES,
  ...PEOPLE_ROUTES,
  ...LOG_ROUTES,
  ...SCHOOL_ROUTES,
  ...POST_ROUTES,
  ...REACH_ROUTES,
  ...READING_ROUTES,
  ...RECEIVE_ROUTES,
  ...RELEASE_ROUTES,
  ...REMARK_ROUTES,
  ...REQUEST_ROUTES,
  ...ROSTER_ROUTES,
  ...SESSION_ROUTES,
  ...SPACE_ROUTES,
  ...TIMETABLE_ROUTES,
  ...PROGRAMS_ROUTES,
  ...TODAY_ROUTES,
  ...TRAY_ROUTES,
  ...WHY_ROUTES,
  ...YEARS_ROUTES,
  ...under(OWN_PATH, CLASS_PAGE_SCOPED),
  ...under(SEEN_AS_PATH, CLASS_PAGE_SCOPED),
  ...under(DOOR_PATH, CLASS_WEBSITE_SCOPED),
  ...under(OWN_PATH, READING_SCOPED),
  ...under(DOOR_PATH, READING_SCOPED),
  ...under(SEEN_AS_PATH, READING_SCOPED),
  ...under(OWN_PATH, ARCHIVE_SCOPED),
  ...under(DOOR_PATH, ARCHIVE_SCOPED),
  ...under(SEEN_AS_PATH, ARCHIVE_SCOPED),
  ...under(OWN_PATH, PREVIEW_SCOPED),
  ...under(DOOR_PATH, PREVIEW_SCOPED),
  ...under(SEEN_AS_PATH, PREVIEW_SCOPED),
  ...under(OWN_PATH, PAGE_SCOPED),
  ...under(DOOR_PATH, PAGE_SCOPED),
  ...under(SEEN_AS_PATH, PAGE_SCOPED),
  ...under(OWN_PATH, READING_LIVE),
  ...under(OWN_PATH, READING_OPENED),
  ...under(DOOR_PATH, READING_LIVE),
  ...under(DOOR_PATH, READING_OPENED),
  ...under(OWN_PATH, DESK_SCOPED),
  ...under(DOOR_PATH, DESK_SCOPED),
  ...under(OWN_PATH, RECEIVE_SCOPED),
  ...under(SEEN_AS_PATH, RECEIVE_SCOPED),
  ...under(SEEN_AS_PATH, SEEN_AS_SCOPED),
} as const;
export type Routes = typeof ROUTES;

/** What may be read in some scope; which ones, `ROUTES` says. */
export type ScopedRoutes = typeof READING_SCOPED &
  typeof CLASS_PAGE_SCOPED &
  typeof ARCHIVE_SCOPED &
  typeof PREVIEW_SCOPED &
  typeof PAGE_SCOPED &
  typeof READING_LIVE &
  typeof READING_OPENED &
  typeof DESK_SCOPED &
  typeof RECEIVE_SCOPED &
  typeof SEEN_AS_SCOPED;
