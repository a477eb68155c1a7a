import type { People, PersonChange, PersonKind, PersonRow } from '@sammlung/contract';
import { useInfiniteQuery, useQueryCache } from '@pinia/colada';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { useAction } from '../../app/action.ts';
import { say } from '../../app/shell/toast.ts';

/** Which people are on the page: all who may come in, those of a kind, or those who may not any more. */
export type Shown = PersonKind | 'all' | 'ended';

/** The people of the school in whom these words are found, page after page. */
export function usePeople(words: () => string, shown: () => Shown) {
  return useInfiniteQuery<People, Error, string>({
    key: () => ['people', words(), shown()],
    initialPageParam: '',
    query: ({ pageParam }) => {
      const who = shown();
      return api('GET /api/people', {
        query: {
          words: words() || undefined,
          kind: who === 'all' || who === 'ended' ? undefined : who,
          ended: who === 'ended' ? 'true' : undefined,
          after: pageParam || undefined,
        },
      });
    },
    getNextPageParam: (page) => page.next,
    staleTime: 0,
    placeholderData: (before) => before,
  });
}

/** What the office does with a person; each change is told, with its Undo where it has one. */
export function usePersonChanges() {
  const { t } = useI18n();
  const cache = useQueryCache();
  const refresh = () =>
    Promise.all([['people'], ['courses']].map((key) => cache.invalidateQueries({ key })));
  const attempt = useAction(refresh);

  const write = (id: string, body: PersonChange) =>
    api('PATCH /api/people/:person', { params: { person: id }, body });
  const admit = (id: string, may: boolean) =>
    api(may ? 'DELETE /api/people/:person/deactivated' : 'PUT /api/people/:person/deactivated', {
      params: { person: id },
    });

  /** Throws what the form has to say. */
  async function change({ id, name, email, kind }: PersonRow, wanted: PersonChange) {
    await write(id, wanted);
    await refresh();
    const before = { name, email, ...(kind !== 'student' && { kind }) };
    say({
      text: t('people.changed', { name: wanted.name ?? name }),
      undo: async () => {
        await write(id, before);
        await refresh();
      },
    });
  }

  const letIn = ({ id, name }: PersonRow, may: boolean) =>
    attempt(async () => {
      await admit(id, may);
      say({
        text: t(may ? 'people.back' : 'people.ended', { name }),
        undo: async () => {
          await admit(id, !may);
          await refresh();
        },
      });
    });

  const sendInvitation = (id: string) =>
    api('POST /api/people/invitations', { body: { people: [id] } });
  const invite = ({ id, name }: PersonRow) =>
    attempt(async () => {
      await sendInvitation(id);
      say({ text: t('people.invitation-sent', { name }) });
    });

  /** Turns off the second step of somebody who has lost phone and recovery codes. */
  const endSecondStep = ({ id, name }: PersonRow) =>
    attempt(async () => {
      await api('DELETE /api/people/:person/second-step', { params: { person: id } });
      say({ text: t('people.step-off-done', { name }) });
    });

  /** A slip with a first password for this person. */
  async function slipFor(id: string) {
    const { slips } = await api('POST /api/people/slips', { body: { people: [id] } });
    await refresh();
    return slips;
  }

  /** Gives what a teacher has to a colleague. */
  const handOver = (from: PersonRow, to: PersonRow) =>
    attempt(async () => {
      const { id } = await api('POST /api/people/:person/hand-over', {
        params: { person: from.id },
        body: { to: to.id },
      });
      say({
        text: t('hand-over.done', { name: from.name, to: to.name }),
        undo: async () => {
          await api('DELETE /api/hand-overs/:handOver', { params: { handOver: id } });
          await refresh();
        },
      });
    });

  /** Makes two records of one person one; throws what the sheet has to say. */
  async function merge(into: PersonRow, other: PersonRow) {
    await api('POST /api/people/:person/merge', {
      params: { person: into.id },
      body: { other: other.id },
    });
    say({ text: t('merge.done', { name: into.name, other: other.name }) });
    await refresh();
  }

  /** Erases somebody; throws what the sheet has to say. */
  async function erase({ id, name }: PersonRow) {
    await api('DELETE /api/people/:person', { params: { person: id } });
    say({ text: t('erase.done', { name }) });
    await refresh();
  }

  return {
    merge,
    erase,
    attempt,
    refresh,
    change,
    letIn,
    sendInvitation,
    invite,
    slipFor,
    handOver,
    endSecondStep,
  };
}
