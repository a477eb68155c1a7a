import type { Release, Releasing, Thing } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { api } from '../../app/api/api.ts';
import { useChanging } from '../../app/changing.ts';

export const OUT: Release = { held: false, from: null, until: null };

export const timingOf = ({ kind, id }: Thing) =>
  kind === 'folder'
    ? api('GET /api/folders/:folder/timing', { params: { folder: id } })
    : api('GET /api/placements/:placement/timing', { params: { placement: id } });

export function useTiming(thing: () => Thing) {
  return useQuery({
    key: () => ['timing', thing().id],
    query: () => timingOf(thing()),
  });
}

/** Other releases for things, all at once; resolves to how to undo that, or to null when it was better not made. */
export function useReleasing() {
  const { changed, withRefresh, consent } = useChanging();

  async function release(
    things: readonly Thing[],
    rules: Releasing['rules'],
    yes: string,
  ): Promise<{ text: string; undo: () => Promise<void> } | null> {
    const asked: Releasing = { things: [...things], rules };
    const text = await consent({ do: 'release', ...asked }, yes);
    if (text === null) return null;
    const { before } = await withRefresh(api('POST /api/releases', { body: asked }));
    return {
      text,
      undo: async () => {
        await api('POST /api/releases/back', { body: { before } });
        await changed();
      },
    };
  }
  return { release };
}
