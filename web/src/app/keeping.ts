import type { Kept, KeptThing } from '@sammlung/contract';
import { useQuery, useQueryCache } from '@pinia/colada';
import { useI18n } from 'vue-i18n';
import { api } from './api.ts';
import { useAction } from './action.ts';
import { useDevice } from './device/device.ts';
import { drawAtOnce } from './initial-state.ts';
import { say } from './toast.ts';

/** What a student keeps at hand. */
export function useKept() {
  const key = ['kept'];
  drawAtOnce(useQueryCache(), key, '/api/kept');
  return useQuery({ key, query: () => api<Kept>('GET', '/api/kept'), staleTime: 10_000 });
}

/** Keeping things and letting them go; both can be undone. */
export function useKeeping() {
  const { t } = useI18n();
  const cache = useQueryCache();
  const device = useDevice();
  function refresh() {
    void device.update();
    return cache.invalidateQueries({ key: ['kept'] });
  }

  const attempt = useAction(refresh);

  const drop = (id: string) => api<null>('DELETE', `/api/kept/${id}`);
  const put = (what: Pick<KeptThing, 'folderId' | 'placementId' | 'token'>) =>
    api<{ id: string }>(
      'POST',
      what.token ? `/api/open/${what.token}/kept` : '/api/kept',
      what.folderId
        ? { kind: 'folder', id: what.folderId }
        : { kind: 'placement', id: what.placementId },
    );
  const arrange = (ids: readonly string[]) =>
    attempt(() => api<null>('PUT', '/api/kept/order', { ids }));

  const keep = (
    what: Pick<KeptThing, 'folderId' | 'placementId' | 'token'>,
    title: string,
  ): Promise<void> =>
    attempt(async () => {
      const { id } = await put(what);
      say({ text: t('keep.done', { title }), undo: () => drop(id).then(refresh) });
    });

  /** `order`: the ids of all that is kept, so that Undo puts it back where it was. */
  const letGo = (thing: KeptThing, order: readonly string[]): Promise<void> =>
    attempt(async () => {
      await drop(thing.id);
      const back = async () => {
        const { id } = await put(thing);
        await arrange(order.map((one) => (one === thing.id ? id : one)));
      };
      // What cannot be seen cannot be kept again.
      const there = thing.folderId ?? thing.placementId;
      say({ text: t('keep.gone', { title: thing.title }), ...(there && { undo: back }) });
    });

  return { keep, letGo, arrange };
}
