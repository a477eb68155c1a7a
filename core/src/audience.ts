import type { Audience, Id, Instant, Viewer } from './model.ts';
import { within } from './release.ts';

/**
 * One way in which a viewer may be reached. `reading` is the class whose releases count on that way, null for the
 * general ones; `exempt` is set for staff, to whom what is due never depends on release or a closed year.
 */
export interface Key extends Audience {
  readonly reading: Id | null;
  readonly exempt: boolean;
}

export function sameAudience(a: Audience, b: Audience): boolean {
  return a.kind === b.kind && a.id === b.id;
}

export function audienceName(a: Audience): string {
  return `${a.kind}:${a.id}`;
}

/** Every way in which `viewer` is reached at `t` (model.md, `audiences(v, t)`). */
export function keysOf(viewer: Viewer, t: Instant): Key[] {
  const keys: Key[] = [];
  const { person } = viewer;
  if (person) {
    keys.push({ kind: 'person', id: person.id, reading: null, exempt: person.staff });
    for (const m of person.memberships) {
      if (!within(m, t)) continue;
      keys.push({ kind: 'class', id: m.classId, reading: m.classId, exempt: false });
      keys.push({ kind: 'course', id: m.courseId, reading: m.classId, exempt: false });
    }
    if (person.staff)
      keys.push({ kind: 'staff', id: person.schoolId, reading: null, exempt: true });
    keys.push({ kind: 'school', id: person.schoolId, reading: null, exempt: false });
  }
  for (const door of viewer.doors) {
    if (door.kind === 'public' || person?.schoolId === door.schoolId)
      keys.push({ kind: 'door', id: door.id, reading: null, exempt: false });
  }
  return keys;
}
