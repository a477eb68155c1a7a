import type { FolderChange, PlacementChange, Thing } from '@sammlung/contract';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { useChanging } from '../../app/changing.ts';
import { say } from '../../app/shell/toast.ts';
import type { Row } from './library.ts';
import { changeThing, removeThings } from '../../app/things.ts';

const bare = ({ kind, id }: Thing): Thing => ({ kind, id });

/**
 * What a teacher does to the library. Each change first learns its consequence, asks where model.md wants a question,
 * and is told with its Undo; the screen is brought up to date by itself. What cannot be done is told, too.
 */
export function useLibraryChanges() {
  const { t } = useI18n();
  const { changed, withRefresh, consent, attempt } = useChanging();

  const named = (rows: readonly Row[]) =>
    rows.length === 1 ? rows[0]!.title : t('count.things', rows.length);
  const sentence = (...parts: string[]) => parts.filter(Boolean).join(' ');

  const move = (
    rows: readonly Row[],
    to: { id: string | null; title: string },
    before: Thing | null = null,
    within = false,
  ) =>
    attempt(async () => {
      const things = rows.map(bare);
      const text = within
        ? ''
        : await consent({ do: 'move', things, to: to.id }, t('library.move-yes'));
      if (text === null) return false;
      const { from } = await withRefresh(
        api('POST /api/moves', { body: { things, to: to.id, before: before && bare(before) } }),
      );
      const key = within ? 'library.ordered' : 'library.moved';
      say({
        text: sentence(t(key, { title: named(rows), folder: to.title }, rows.length), text),
        undo: () => withRefresh(api('POST /api/moves/back', { body: { from } })),
      });
      return true;
    });

  const place = (rows: readonly Row[], to: readonly { id: string; title: string }[]) =>
    attempt(async () => {
      const placements = rows.filter((row) => row.kind === 'placement').map((row) => row.id);
      const change = { placements, to: to.map((folder) => folder.id) };
      const text = await consent({ do: 'place', ...change }, t('library.put-yes'));
      if (text === null) return false;
      const { made } = await withRefresh(api('POST /api/placements', { body: change }));
      const folder = to.length === 1 ? to[0]!.title : t('count.folders', to.length);
      if (made.length === 0) say({ text: t('library.put-nothing', { folder }) });
      else
        say({
          text: sentence(t('library.put', { title: named(rows), folder }, rows.length), text),
          undo: () => withRefresh(removeThings('placement', made)),
        });
      return true;
    });

  const remove = (rows: readonly Row[]) =>
    attempt(async () => {
      const things = rows.map(bare);
      const text = await consent({ do: 'remove', things }, t('library.remove-yes'));
      if (text === null) return false;
      const { lastPlaces } = await withRefresh(api('POST /api/bin', { body: { things } }));
      const folders = rows.filter((row) => row.kind === 'folder').length;
      const key = lastPlaces + folders > 0 ? 'library.binned' : 'library.removed';
      say({
        text: sentence(t(key, { title: named(rows) }, rows.length), text),
        undo: () => withRefresh(api('POST /api/bin/restore', { body: { things } })),
      });
      return true;
    });

  /** Changes facts of a folder or item; `before` holds the same facts as they were, for Undo. */
  async function change(
    row: Thing,
    facts: FolderChange | PlacementChange,
    before: FolderChange | PlacementChange,
    text: string,
  ) {
    await withRefresh(changeThing(row, facts));
    say({ text, undo: () => withRefresh(changeThing(row, before)) });
  }

  /** Resolves to the placement of a new page; what it is to say (`html`) is its draft. */
  const makePage = (folderId: string, begun?: { title: string; html: string }) =>
    withRefresh(
      (async () => {
        const title = begun?.title ?? t('library.page-title');
        const made = await api('POST /api/pages', { body: { folderId, title } });
        if (begun)
          await api('PUT /api/placements/:placement/draft', {
            params: { placement: made.id },
            body: { html: begun.html, base: 0, after: null },
          });
        return made;
      })(),
    );

  const makeFolder = (parentId: string | null, title: string) =>
    withRefresh(api('POST /api/folders', { body: { parentId, title } }));
  const binFolders = (ids: readonly string[]) => withRefresh(removeThings('folder', ids));
  const addLink = (folderId: string, url: string, title?: string) =>
    withRefresh(api('POST /api/links', { body: { folderId, url, ...(title && { title }) } }));
  const takeAway = (placementId: string) => withRefresh(removeThings('placement', [placementId]));

  return {
    changed,
    attempt,
    move,
    place,
    remove,
    change,
    makeFolder,
    makePage,
    binFolders,
    addLink,
    takeAway,
  };
}
