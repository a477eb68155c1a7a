import type { KeptThing } from '@sammlung/contract';
import { useQuery, useQueryCache } from '@pinia/colada';
import { useI18n } from 'vue-i18n';
import { address } from './api/addresses.ts';
import { api } from './api/api.ts';
import { useAction } from './action.ts';
import { useDevice } from './device/device.ts';
import { useInitial } from './api/initial-state.ts';
import { say } from './shell/toast.ts';

/** Where a thing is that can be kept: one of the three, and the door it is seen through. */
type Placed = Pick<KeptThing, 'folderId' | 'placementId' | 'classId' | 'token'>;

/** What a student keeps at hand. */
export function useKept() {
  const key = ['kept'];
  useInitial(useQueryCache(), key, address('GET /api/kept'));
  return useQuery({ key, query: () => api('GET /api/kept'), staleTime: 10_000 });
}

let last: Promise<unknown> = Promise.resolve();

/** Runs one request after the other, so that what is kept has the order in which it was chosen. */
function inOrder<T>(run: () => Promise<T>): Promise<T> {
  const next = last.then(run);
  last = next.catch(() => undefined);
  return next;
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

  const drop = (id: string) => api('DELETE /api/kept/:kept', { params: { kept: id } });
  const put = ({ folderId, placementId, classId, token }: Placed) => {
    const kind = folderId ? 'folder' : classId ? 'class' : 'placement';
    const body = { kind, id: (folderId ?? classId ?? placementId)! } as const;
    return token
      ? api('POST /api/open/:token/kept', { params: { token }, body })
      : api('POST /api/kept', { body });
  };
  const arrange = (ids: readonly string[]) =>
    attempt(() => api('PUT /api/kept/order', { body: { ids } }));

  const keep = (what: Placed, title: string): Promise<void> =>
    attempt(async () => {
      const { id } = await inOrder(() => put(what));
      say({ text: t('keep.done', { title }), undo: () => drop(id).then(refresh) });
    });

  /** `order`: the ids of all that is kept, so that Undo puts it back where it was. */
  const stopKeeping = (thing: KeptThing, order: readonly string[]): Promise<void> =>
    attempt(async () => {
      await drop(thing.id);
      const back = async () => {
        const { id } = await put(thing);
        await arrange(order.map((one) => (one === thing.id ? id : one)));
      };
      // What cannot be seen cannot be kept again.
      const there = thing.folderId ?? thing.placementId ?? thing.classId;
      say({ text: t('keep.gone', { title: thing.title }), ...(there && { undo: back }) });
    });

  return { keep, stopKeeping, arrange };
}
