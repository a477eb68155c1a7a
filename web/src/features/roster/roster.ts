import type {
  ClassList,
  Colour,
  Consequences,
  Courses,
  CourseView,
  ListPreview,
  Made,
  Member,
  MembersForetold,
  MovedToClass,
  TakenList,
} from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api.ts';
import { ask } from '../../app/ask.ts';
import { useChanging } from '../../app/changing.ts';
import { useSentences } from '../../app/sentence.ts';
import { say } from '../../app/toast.ts';

export const COLOURS: readonly Colour[] = [
  'leaf',
  'plum',
  'lake',
  'bark',
  'rose',
  'slate',
  'moss',
  'clay',
];

export function useCourses() {
  return useQuery({ key: ['courses'], query: () => api<Courses>('GET', '/api/courses') });
}

export function useClassList(id: () => string) {
  return useQuery({
    key: () => ['courses', id()],
    query: () => api<ClassList>('GET', `/api/classes/${id()}`),
  });
}

/** The preview of a list: its bytes go to the server as they are. */
export function previewList(classId: string, list: Blob, order: 'first' | 'last') {
  return api<ListPreview>('POST', `/api/classes/${classId}/list/preview?order=${order}`, list);
}

type MemberDays = NonNullable<MembersForetold['days']>;

/** What is done with courses, classes and their members; each change is told, with its Undo. */
export function useRoster() {
  const { t } = useI18n();
  const { told } = useSentences();
  const { changed, withRefresh, attempt } = useChanging();
  const undoing =
    (method: 'POST' | 'PATCH' | 'DELETE', path: string, body?: object) => async () => {
      await api<unknown>(method, path, body);
      await changed();
    };

  const makeCourse = (course: {
    title: string;
    colour: Colour;
    yearId: string;
    classes: string[];
  }) => withRefresh(api<Made>('POST', '/api/courses', course));
  const makeClass = (courseId: string, code: string, colour: Colour) =>
    withRefresh(api<Made>('POST', '/api/classes', { courseId, code, colour }));

  async function change(path: string, facts: object, before: object, text: string) {
    await withRefresh(api<null>('PATCH', path, facts));
    say({ text, undo: undoing('PATCH', path, before) });
  }

  /** Removes a course or class, with a question where somebody loses something by it. */
  const remove = (kind: 'courses' | 'classes', id: string, name: string) =>
    attempt(async () => {
      const path = `/api/${kind}/${id}`;
      const consequences = await api<Consequences>('GET', `${path}/removal`);
      const text = told(consequences);
      const yes = t('roster.remove');
      if (consequences.asks && !(await ask({ title: t('consequence.title'), text, yes })))
        return false;
      await withRefresh(api<null>('DELETE', path));
      say({
        text: t('roster.removed', { name }),
        undo: undoing('POST', `${path}/restore`),
      });
      return true;
    });

  async function take(classId: string, rows: object[], leaving: string[]): Promise<TakenList> {
    return withRefresh(api<TakenList>('POST', `/api/classes/${classId}/list`, { rows, leaving }));
  }
  const undoTaking = (classId: string, { undo }: MovedToClass) =>
    undoing('POST', `/api/classes/${classId}/list/undo`, undo);

  /** What members of a class would gain and lose by leaving it now, by other days, or in another class. */
  const foretold = (classId: string, change: MembersForetold) =>
    api<Consequences>('POST', `/api/classes/${classId}/members/foretold`, change);
  const leaving = (classId: string, memberships: string[]) => foretold(classId, { memberships });
  const saidOf = (done: string, consequences: Consequences) =>
    [done, told(consequences)].filter(Boolean).join('. ');

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
      const consequences = await foretold(classId, { memberships: [membershipId], to: to.id });
      const path = `/api/memberships/${membershipId}/move`;
      const moved = await withRefresh(api<MovedToClass>('POST', path, { classId: to.id }));
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
    const consequences = await foretold(classId, { memberships: [membershipId], days });
    const text = saidOf(t('roster.days-saved', { name }), consequences);
    await change(`/api/memberships/${membershipId}`, days, before, text);
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
