import { COLOURS } from '../../ui/tabColour.ts';
import type {
  Colour,
  Consequences,
  CourseView,
  Member,
  MembersChange,
  MovedToClass,
  ImportList,
  ImportedList,
} from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { ask } from '../../app/shell/ask.ts';
import { useChanging } from '../../app/changing.ts';
import { useSentences } from '../../app/sentence.ts';
import { say } from '../../app/shell/toast.ts';

export function useCourses() {
  return useQuery({ key: ['courses'], query: () => api('GET /api/courses') });
}

export function useClassList(id: () => string) {
  return useQuery({
    key: () => ['courses', id()],
    query: () => api('GET /api/classes/:class', { params: { class: id() } }),
  });
}

/** The preview of a list: its bytes go to the server as they are. */
export function previewList(classId: string, list: Blob, order: 'first' | 'last') {
  return api('POST /api/classes/:class/list/preview', {
    params: { class: classId },
    query: { order },
    body: list,
  });
}

const courseRoutes = (course: string) => ({
  removal: () => api('GET /api/courses/:course/removal', { params: { course } }),
  remove: () => api('DELETE /api/courses/:course', { params: { course } }),
  restore: () => api('POST /api/courses/:course/restore', { params: { course } }),
});
const classRoutes = (id: string) => ({
  removal: () => api('GET /api/classes/:class/removal', { params: { class: id } }),
  remove: () => api('DELETE /api/classes/:class', { params: { class: id } }),
  restore: () => api('POST /api/classes/:class/restore', { params: { class: id } }),
});

type MemberDays = NonNullable<MembersChange['days']>;

/** What is done with courses, classes and their members; each change is told, with its Undo. */
export function useRoster() {
  const { t } = useI18n();
  const { describe } = useSentences();
  const { changed, withRefresh, attempt } = useChanging();
  const undoing = (undo: () => Promise<unknown>) => async () => {
    await undo();
    await changed();
  };

  const makeCourse = (course: {
    title: string;
    colour: Colour;
    yearId: string;
    classes: string[];
  }) => withRefresh(api('POST /api/courses', { body: course }));
  const makeClass = (courseId: string, code: string, colour: Colour) =>
    withRefresh(api('POST /api/classes', { body: { courseId, code, colour } }));

  /** Sends other facts; `before` holds the same ones as they were, for Undo. Throws what the server refuses. */
  async function change<F>(send: (facts: F) => Promise<null>, facts: F, before: F, text: string) {
    await withRefresh(send(facts));
    say({ text, undo: undoing(() => send(before)) });
  }

  /** Removes a course or class, with a question where somebody loses something by it. */
  const remove = (kind: 'courses' | 'classes', id: string, name: string) =>
    attempt(async () => {
      const { removal, remove, restore } = kind === 'courses' ? courseRoutes(id) : classRoutes(id);
      const consequences = await removal();
      const text = describe(consequences);
      const yes = t('roster.remove');
      if (consequences.asks && !(await ask({ title: t('consequence.title'), text, yes })))
        return false;
      await withRefresh(remove());
      say({
        text: t('roster.removed', { name }),
        undo: undoing(restore),
      });
      return true;
    });

  async function take(
    classId: string,
    rows: ImportList['rows'],
    leaving: string[],
  ): Promise<ImportedList> {
    return withRefresh(
      api('POST /api/classes/:class/list', { params: { class: classId }, body: { rows, leaving } }),
    );
  }
  const undoTaking = (classId: string, { undo }: MovedToClass) =>
    undoing(() =>
      api('POST /api/classes/:class/list/undo', { params: { class: classId }, body: undo }),
    );

  /** What members of a class would gain and lose by leaving it now, by other days, or in another class. */
  const previewMembers = (classId: string, change: MembersChange) =>
    api('POST /api/classes/:class/members/preview', { params: { class: classId }, body: change });
  const leaving = (classId: string, memberships: string[]) =>
    previewMembers(classId, { memberships });
  const saidOf = (done: string, consequences: Consequences) =>
    [done, describe(consequences)].filter(Boolean).join('. ');

  const leave = (classId: string, member: Member) =>
    attempt(async () => {
      const consequences = await leaving(classId, [member.membershipId]);
      const taken = await take(classId, [], [member.membershipId]);
      const left = t('roster.left', { name: member.name });
      say({ text: saidOf(left, consequences), undo: undoTaking(classId, taken) });
      return true;
    });

  const moveTo = (classId: string, member: Member, to: { id: string; code: string }) =>
    attempt(async () => {
      const { membershipId, name } = member;
      const consequences = await previewMembers(classId, {
        memberships: [membershipId],
        to: to.id,
      });
      const moved = await withRefresh(
        api('POST /api/memberships/:membership/move', {
          params: { membership: membershipId },
          body: { classId: to.id },
        }),
      );
      const text = saidOf(t('roster.moved', { name, code: to.code }), consequences);
      say({ text, undo: undoTaking(classId, moved) });
      return true;
    });

  /** Other days of joining and leaving; `before` is how they were. Throws what the server refuses. */
  async function changeDays(
    classId: string,
    { membershipId, name }: Member,
    days: MemberDays,
    before: MemberDays,
  ) {
    const consequences = await previewMembers(classId, { memberships: [membershipId], days });
    const text = saidOf(t('roster.days-saved', { name }), consequences);
    const send = (body: MemberDays) =>
      api('PATCH /api/memberships/:membership', { params: { membership: membershipId }, body });
    await change(send, days, before, text);
  }

  return {
    makeCourse,
    makeClass,
    change,
    changeDays,
    remove,
    take,
    undoTaking,
    leaving,
    leave,
    moveTo,
  };
}

/** The colour that the fewest courses have. */
export function freeColour(courses: readonly CourseView[]): Colour {
  const used = (colour: Colour) => courses.filter((c) => c.colour === colour).length;
  return COLOURS.reduce((best, colour) => (used(colour) < used(best) ? colour : best), 'leaf');
}
