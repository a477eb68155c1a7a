import type {
  AppearanceChange,
  EditedEntry,
  EditedPage,
  EntryChange,
  EntryStep,
  Release,
  ThingCard,
} from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { useChanging } from '../../app/changing.ts';
import { say } from '../../app/shell/toast.ts';

/** What is put together for a new entry, or changed on one. */
export interface EntryDraft {
  title: string;
  text: string;
  things: readonly ThingCard[];
  on: {
    classId: string;
    headingId: string | null;
    keepOnTop: boolean;
    release: Release;
    people: string[] | null;
  }[];
  /** A new page among the things, which is to be written next. */
  write?: string | null;
}

/** Where a new entry is to appear, when, and for whom; `people` is null for whole classes. */
export interface EntryPlaces {
  readonly classIds: string[];
  readonly headingId: string | null;
  readonly keepOnTop: boolean;
  readonly release: Release;
  readonly people: string[] | null;
}

/** What something done with an entry would do, before it is done. */
export const previewEntry = (step: EntryStep) =>
  api('POST /api/entries/consequences', { body: step });

export const editedKey = (classId: string) => ['class-page', classId];

/** The page of a class for those who make it, with what they do to it: at once, and with Undo. */
export function useEditedPage(classId: () => string) {
  const { t } = useI18n();
  const { agree, attempt, changed } = useChanging();
  const page = useQuery({
    key: () => editedKey(classId()),
    query: () => api('GET /api/class-pages/:class/edited', { params: { class: classId() } }),
  });
  const asThings = (things: readonly ThingCard[]) => things.map(({ kind, id }) => ({ kind, id }));

  /** Does something to the page, and says so; resolves to whether it was done. */
  const act = (text: string, run: () => Promise<(() => Promise<unknown>) | undefined>) =>
    attempt(async () => {
      const undo = await run();
      await page.refetch();
      void changed();
      say({
        text,
        undo:
          undo &&
          (async () => {
            await undo();
            await page.refetch();
            void changed();
          }),
      });
      return true;
    });

  /** Whether something is to be done that may take something from people: they are named first where it does. */
  const agreed = (step: EntryStep, yes: string) =>
    attempt(async () => (await agree(await previewEntry(step), yes)) !== null);

  const takeBack = (appearance: string) =>
    api('DELETE /api/appearances/:appearance', { params: { appearance } });

  const add = ({ things, write: _, ...draft }: EntryDraft) =>
    act(t('entry.added', { title: draft.title }), async () => {
      const made = await api('POST /api/entries', { body: { ...draft, things: asThings(things) } });
      return () => Promise.all(made.appearances.map(takeBack));
    });

  const change = async (entry: EditedEntry, { title, text, things }: EntryDraft) =>
    (await agreed(
      { do: 'things', entry: entry.entryId, things: asThings(things) },
      t('entry.save'),
    )) &&
    act(t('entry.changed', { title }), async () => {
      const put = (body: EntryChange) =>
        api('PATCH /api/entries/:entry', { params: { entry: entry.entryId }, body });
      await put({ title, text, things: asThings(things) });
      const before = { title: entry.title, text: entry.text, things: asThings(entry.things) };
      return () => put(before);
    });

  /** Changes when, for whom, or where an entry appears; `before` is what it was. */
  const set = async (
    entry: EditedEntry,
    after: AppearanceChange,
    before: AppearanceChange,
    text: string,
  ) =>
    (!after.release ||
      (await agreed(
        { do: 'set', appearance: entry.appearanceId, change: after },
        t('entry.save'),
      ))) &&
    act(text, async () => {
      const params = { appearance: entry.appearanceId };
      await api('PATCH /api/appearances/:appearance', { params, body: after });
      return () => api('PATCH /api/appearances/:appearance', { params, body: before });
    });

  const remove = async (entry: EditedEntry) =>
    (await agreed({ do: 'take-back', appearance: entry.appearanceId }, t('entry.menu.remove'))) &&
    act(t('entry.taken-back', { title: entry.title }), async () => {
      await takeBack(entry.appearanceId);
      return () =>
        api('POST /api/appearances/:appearance/restore', {
          params: { appearance: entry.appearanceId },
        });
    });

  /** The same on all pages of the person on which the entry is. */
  const setEverywhere = async (entry: EditedEntry, release: Release, text: string) =>
    (await agreed(
      { do: 'set-everywhere', entry: entry.entryId, change: { release } },
      t('entry.save'),
    )) &&
    act(text, async () => {
      const params = { entry: entry.entryId };
      const { before } = await api('PATCH /api/entries/:entry/appearances', {
        params,
        body: { release },
      });
      return async () => {
        for (const one of before)
          await api('PATCH /api/appearances/:appearance', {
            params: { appearance: one.appearanceId },
            body: { release: one.release },
          });
      };
    });

  const removeEverywhere = async (entry: EditedEntry) =>
    (await agreed(
      { do: 'take-back-everywhere', entry: entry.entryId },
      t('entry.menu.remove-all', { n: entry.alsoOn.length + 1 }),
    )) &&
    act(t('entry.taken-all', { title: entry.title }), async () => {
      const params = { entry: entry.entryId };
      const { appearances } = await api('DELETE /api/entries/:entry/appearances', { params });
      return async () => {
        for (const appearance of appearances)
          await api('POST /api/appearances/:appearance/restore', { params: { appearance } });
      };
    });

  /** Moves an entry under a heading, before another one there (null: after all). */
  const move = (entry: EditedEntry, headingId: string | null, before: string | null) =>
    act(t('entry.moved', { title: entry.title }), async () => {
      const to = (body: { headingId: string | null; before: string | null }) =>
        api('POST /api/appearances/:appearance/move', {
          params: { appearance: entry.appearanceId },
          body,
        });
      const was = { headingId: entry.headingId, before: behind(page.data.value!, entry) };
      await to({ headingId, before });
      return () => to(was);
    });

  return { page, act, add, change, set, setEverywhere, remove, removeEverywhere, move };
}

/** What follows an entry under its heading; null for the last one. */
export function behind({ entries }: EditedPage, entry: EditedEntry): string | null {
  const there = entries.filter((one) => one.headingId === entry.headingId);
  const at = there.findIndex((one) => one.appearanceId === entry.appearanceId);
  return there[at + 1]?.appearanceId ?? null;
}
