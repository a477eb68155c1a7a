import type { EditedWebsite, Routes, Sent } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import type { useEditedPage } from './entries.ts';

/** What the website of a class is to be like: as the route takes it. */
export type WebsiteDraft = Required<Sent<Routes['PUT /api/class-pages/:class/website']>['body']>;

/** What the website is like now. */
export const draftOf = (website: EditedWebsite): WebsiteDraft => ({
  kind: website.door?.kind ?? 'public',
  headings: website.headings.filter((one) => one.onWebsite).map(({ id }) => id),
  loose: website.loose,
  texts: website.entries.filter((one) => one.openText).map(({ appearanceId }) => appearanceId),
  tells: website.tells,
  open: [],
});

type Entry = EditedWebsite['entries'][number];

/** Whether an entry is under what a draft has chosen. */
export const isChosen = ({ headings, loose }: WebsiteDraft, { headingId }: Entry): boolean =>
  headingId === null ? loose : headings.includes(headingId);

/** The entries that visitors would see of a draft: of which something is open, or will be, or the words are. */
export const shownBy = (draft: WebsiteDraft, { entries }: EditedWebsite): Entry[] =>
  entries.filter(
    (entry) =>
      isChosen(draft, entry) &&
      ((entry.text !== '' && draft.texts.includes(entry.appearanceId)) ||
        entry.things.some(
          ({ id, state }) => state === 'open' || draft.open.some((one) => one.id === id),
        )),
  );

/** The website of a class for those who make it, with what they do to it: with Undo. */
export function useWebsite(
  classId: string,
  code: string,
  act: ReturnType<typeof useEditedPage>['act'],
) {
  const { t } = useI18n();
  const params = { class: classId };
  const website = useQuery({
    key: ['class-page', classId, 'website'],
    query: () => api('GET /api/class-pages/:class/website', { params }),
    staleTime: 0,
  });
  const closeDoor = (door: string) => api('DELETE /api/doors/:door', { params: { door } });
  const put = (body: WebsiteDraft) => api('PUT /api/class-pages/:class/website', { params, body });

  const save = (draft: WebsiteDraft, before: EditedWebsite) =>
    act(t(before.door ? 'website.saved' : 'website.opened', { code }), async () => {
      const { door, opened } = await put(draft);
      await website.refetch();
      return async () => {
        await Promise.all(opened.map(closeDoor));
        await put(draftOf(before));
        if (!before.door) await closeDoor(door.id);
        await website.refetch();
      };
    });
  const close = (door: string) =>
    act(t('website.closed', { code }), async () => {
      await closeDoor(door);
      await website.refetch();
      return async () => {
        await api('POST /api/doors/:door/reopen', { params: { door } });
        await website.refetch();
      };
    });
  return { website, save, close };
}
