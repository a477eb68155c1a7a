import type { Point, Remark } from '@sammlung/contract';
import { useQuery, useQueryCache } from '@pinia/colada';
import { useIntervalFn } from '@vueuse/core';
import { computed, ref, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { useAction } from '../action.ts';
import { api } from '../api/api.ts';
import { BOXES_KEY } from '../box/boxes.ts';
import { say } from '../shell/toast.ts';

/** A remark with what answers it; numbered where it has a point. */
export interface RemarkThread extends Remark {
  readonly number: number | null;
  readonly answers: readonly Remark[];
}

/** A numbered point on a page. */
export interface Mark {
  readonly id: string;
  readonly number: number;
  readonly point: Point;
}

/** How often is looked for what others have written meanwhile. */
const AGAIN_MS = 20_000;

/** The remarks about a thing in a place of a hand-in box: read, written, answered, changed and removed. */
export function useRemarks(placementId: () => string) {
  const { t } = useI18n();
  const cache = useQueryCache();
  const query = useQuery({
    key: () => ['remarks', placementId()],
    query: () =>
      api('GET /api/placements/:placement/remarks', { params: { placement: placementId() } }),
    enabled: () => placementId() !== '',
    staleTime: 0,
  });
  useIntervalFn(() => placementId() !== '' && !document.hidden && void query.refetch(), AGAIN_MS);
  const threads = computed<RemarkThread[]>(() => {
    const all = query.data.value?.remarks ?? [];
    let number = 0;
    return all
      .filter(({ replyTo }) => replyTo === null)
      .map((remark) => ({
        ...remark,
        number: remark.point ? (number += 1) : null,
        answers: all.filter(({ replyTo }) => replyTo === remark.id),
      }));
  });
  /** Where the next remark is to point to. */
  const pending = ref<Point | null>(null);
  watch(placementId, () => (pending.value = null));
  const marks = computed<Mark[]>(() =>
    threads.value.flatMap(({ id, number, point }) =>
      point && number !== null ? [{ id, number, point }] : [],
    ),
  );

  const refresh = () =>
    Promise.all([
      query.refetch(),
      ...[BOXES_KEY, ['place']].map((key) => cache.invalidateQueries({ key })),
    ]);
  const attempt = useAction(refresh);
  // What is on the screen has been read; it stays marked as new until the page is left.
  const read = new Set<string>();
  watch(
    () => query.data.value,
    async (data) => {
      const fresh = (data?.remarks ?? []).filter((one) => one.fresh && !read.has(one.id));
      if (fresh.length === 0) return;
      fresh.forEach(({ id }) => read.add(id));
      const params = { placement: placementId() };
      await api('PUT /api/placements/:placement/remarks/read', { params });
      for (const key of [BOXES_KEY, ['place']]) void cache.invalidateQueries({ key });
    },
    { immediate: true },
  );

  /** Writes a remark at the point, where there is one, or an answer. */
  const write = (body: string, replyTo: string | null = null) =>
    attempt(async () => {
      const params = { placement: placementId() };
      const point = replyTo === null ? pending.value : null;
      const made = await api('POST /api/placements/:placement/remarks', {
        params,
        body: { body, point, replyTo },
      });
      if (replyTo === null) pending.value = null;
      say({
        text: t('remark.written'),
        undo: () =>
          api('DELETE /api/remarks/:remark', { params: { remark: made.id } }).then(refresh),
      });
    });
  const point = (at: Point | null) => (pending.value = at);
  const change = ({ id }: Remark, body: string) =>
    attempt(() => api('PATCH /api/remarks/:remark', { params: { remark: id }, body: { body } }));
  const remove = ({ id }: Remark) =>
    attempt(async () => {
      const params = { remark: id };
      await api('DELETE /api/remarks/:remark', { params });
      say({
        text: t('remark.removed'),
        undo: () => api('POST /api/remarks/:remark/back', { params }).then(refresh),
      });
    });
  return { query, threads, marks, pending, point, write, change, remove };
}
export type RemarksAbout = ReturnType<typeof useRemarks>;
