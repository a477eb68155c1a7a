import type { Why, WhyQuery } from '@sammlung/contract';
import { explain, within, type Obstacle, type Viewer as CoreViewer } from '@sammlung/core';
import type { z } from 'zod';
import { toIso, type Queries } from '../../db/database.ts';
import type { Viewer } from '../../domain/access/access-sql.ts';
import { viewerAs } from '../../domain/access/see-as.ts';
import { loadPeople } from '../../domain/access/load-world.ts';
import { loadLibrary } from '../../domain/access/load-library.ts';
import { whence } from '../../domain/access/folders.ts';
import { Rights } from '../../domain/access/rights.ts';
import { audienceNames } from '../../domain/access/tabs.ts';
import type { Services } from '../../services.ts';
import { classById } from '../../domain/courses.ts';
import { codesOf } from './queries.ts';
import type { SignedIn } from '../../platform/sessions.ts';

/** Explains, from the handings out and releases as they are, what the access rule answers for somebody. */
export async function why(
  { db, now }: Pick<Services, 'db' | 'now'>,
  person: SignedIn,
  { kind, id, as, at }: z.infer<typeof WhyQuery>,
): Promise<Why> {
  const t = at === undefined ? now() : Date.parse(at);
  const rights = new Rights(db, person, now());
  const placement = kind === 'placement' ? (await rights.placements([id]))[0]! : null;
  const folder = placement?.folder ?? (await rights.folder(id, 'manage'));
  const viewer = await toCoreViewer(db, await viewerAs(db, person, as, t), folder.schoolId);

  const library = await loadLibrary(db, {
    folderIds: [folder.id],
    itemIds: placement ? [placement.itemId] : [],
  });
  const target = { folderId: folder.id, placementId: placement?.id ?? null };
  const { sees, owns, reasons } = explain(library, viewer, target, t);
  const names = await audienceNames(db, library.data.handingsOut);
  const named = whence(folder, library.titles.folders);
  const told = (obstacle: Obstacle) => ({
    kind: obstacle.kind,
    folder:
      (obstacle.kind === 'folder' || obstacle.kind === 'year') && obstacle.id !== id
        ? named(obstacle.id)
        : null,
    state: obstacle.state,
    from: toIso(obstacle.from),
  });
  const handedTo = new Set(library.data.handingsOut.map((h) => h.audience.id));
  const former = (viewer.person?.memberships ?? []).filter(
    (m) => !within(m, t) && (handedTo.has(m.classId) || handedTo.has(m.courseId)),
  );
  return {
    sees,
    owns,
    reasons: reasons.map(({ handing, obstacle }) => {
      const { audience, target: through } = handing;
      const name = names.get(audience.id);
      return {
        audience: {
          kind: name?.kind ?? (audience.kind as 'staff' | 'school'),
          // Whoever asks about a person knows whom they mean: no id is made a name here.
          label: audience.kind === 'person' ? '' : (name?.label ?? ''),
          colour: name?.colour ?? null,
        },
        through: through.kind === 'folder' ? named(through.id) : null,
        obstacle: obstacle && told(obstacle),
      };
    }),
    formerClasses: await codesOf(
      db,
      former.map((m) => m.classId),
    ),
  };
}

/** The same viewer in the words of core. */
async function toCoreViewer(db: Queries, viewer: Viewer, schoolId: string): Promise<CoreViewer> {
  if (viewer.asClass !== undefined) {
    const { courseId } = (await classById(db, viewer.asClass))!;
    const membership = {
      classId: viewer.asClass,
      courseId,
      from: null,
      until: null,
    };
    return {
      person: { id: 'anybody', schoolId, staff: false, memberships: [membership] },
      doors: [],
    };
  }
  if (viewer.personId === null) {
    return {
      person: null,
      doors: viewer.doorIds.map((id) => ({ id, kind: 'public', schoolId })),
    };
  }
  const [person] = await loadPeople(db, [viewer.personId]);
  return { person: person!, doors: [] };
}
