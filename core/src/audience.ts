import type { Audience, Id, Instant, Span, Viewer } from './model.ts';
import { within } from './release.ts';

/**
 * One way in which a viewer may be reached. `reading` is the class whose releases count on that way, null for the
 * general ones; `exempt` is set for staff, to whom what is due never depends on release or a closed year.
 */
export interface WayIn extends Audience {
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
export function waysIn(viewer: Viewer, t: Instant): WayIn[] {
  return waysInOverTime(viewer).flatMap(({ key, span }) => (within(span, t) ? [key] : []));
}

const ALWAYS: Span = { from: null, until: null };

/** The same at any time, each with the span in which it reaches the viewer. */
export function waysInOverTime({ person, doors }: Viewer): { key: WayIn; span: Span }[] {
  const keys: { key: WayIn; span: Span }[] = [];
  const add = (audience: Audience, span = ALWAYS, reading: Id | null = null, exempt = false) =>
    keys.push({ key: { ...audience, reading, exempt }, span });
  if (person) {
    add({ kind: 'person', id: person.id }, ALWAYS, null, person.staff);
    for (const m of person.memberships) {
      add({ kind: 'class', id: m.classId }, m, m.classId);
      add({ kind: 'course', id: m.courseId }, m, m.classId);
    }
    for (const id of person.teaches ?? []) add({ kind: 'teachers', id }, ALWAYS, null, true);
    if (person.staff) add({ kind: 'staff', id: person.schoolId }, ALWAYS, null, true);
    add({ kind: 'school', id: person.schoolId });
  }
  for (const { id, kind, schoolId } of doors)
    if (kind === 'public' || person?.schoolId === schoolId) add({ kind: 'door', id });
  return keys;
}
