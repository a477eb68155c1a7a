import type { ThingCard } from '@sammlung/contract';
import { computed, ref, watch } from 'vue';
import { useUploads } from '../../app/uploads/uploads.ts';
import { isBusy, type IntoFolder } from '../../app/uploads/transfer.ts';

/** Files that are added to a folder for an entry: each becomes a thing of it as soon as it has arrived. */
export function useArriving(arrived: (thing: ThingCard) => void) {
  const uploads = useUploads();
  const mine = ref<ReadonlySet<File>>(new Set());
  const transfers = computed(() =>
    uploads.transfers.filter(({ file }) => file !== null && mine.value.has(file)),
  );
  const told = new Set<number>();
  watch(
    () => transfers.value.map(({ id, state }) => `${id} ${state}`).join(),
    () => {
      for (const { id, result, name } of transfers.value) {
        if (!result?.placementId || told.has(id)) continue;
        told.add(id);
        const dot = name.lastIndexOf('.');
        arrived({
          ...{ kind: 'placement', id: result.placementId, itemKind: 'file', url: null },
          title: result.name.replace(/\.[^.]+$/u, ''),
          extension: dot < 0 ? '' : name.slice(dot + 1).toLowerCase(),
          ...{ mark: null, colour: null },
        });
      }
    },
  );
  function add(files: readonly File[], folder: IntoFolder) {
    mine.value = new Set([...mine.value, ...files]);
    uploads.add(files.map((file) => ({ file, folder })));
  }
  return { add, busy: computed(() => transfers.value.filter(isBusy).length) };
}
