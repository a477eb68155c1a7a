<script setup lang="ts">
import type { TaughtBox } from '@sammlung/contract';
import { useQueryCache } from '@pinia/colada';
import { computed, defineAsyncComponent, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import AppButton from '../../ui/AppButton.vue';
import RowMenu from '../../ui/RowMenu.vue';
import { useAction } from '../action.ts';
import { api } from '../api/api.ts';
import { say } from '../shell/toast.ts';
import BoxForm from './BoxForm.vue';
import { BOXES_KEY, useBoxes, useBoxWords } from './boxes.ts';

/** The hand-in boxes of a class, or of all classes of a teacher; made, changed, closed and removed here. */
const { classId = null } = defineProps<{ classId?: string | null }>();
/** Whether a new box is being made. */
const making = defineModel<boolean>('making', { default: false });
const { t } = useI18n();
const boxes = useBoxes();
const cache = useQueryCache();
const { until } = useBoxWords();
const shown = computed(() =>
  (boxes.data.value?.taught ?? []).filter((box) =>
    classId === null ? box.state !== 'closed' : box.classId === classId,
  ),
);
const changing = ref('');
const CopiesSheet = defineAsyncComponent(() => import('./CopiesSheet.vue'));
const giving = ref<TaughtBox | null>(null);
const refresh = () => cache.invalidateQueries({ key: BOXES_KEY });
const attempt = useAction(refresh);

const actions = (box: TaughtBox) => () => [
  { name: 'change', text: t('taught-box.change') },
  { name: 'copies', text: t('taught-box.copies') },
  box.state === 'closed'
    ? { name: 'open', text: t('taught-box.reopen') }
    : { name: 'close', text: t('taught-box.close') },
  ...(box.handedIn === 0 ? [{ name: 'remove', text: t('taught-box.remove') }] : []),
];
const setClosed = (box: TaughtBox, closed: boolean) =>
  api('PATCH /api/boxes/:box', { params: { box: box.id }, body: { closed } });
function act(name: string, box: TaughtBox) {
  const params = { box: box.id };
  const { title } = box;
  if (name === 'change') changing.value = box.id;
  if (name === 'copies') giving.value = box;
  if (name === 'remove')
    void attempt(async () => {
      await api('DELETE /api/boxes/:box', { params });
      say({
        text: t('taught-box.removed', { title }),
        undo: () => api('POST /api/boxes/:box/back', { params }).then(refresh),
      });
    });
  if (name === 'open' || name === 'close')
    void attempt(async () => {
      const closed = name === 'close';
      await setClosed(box, closed);
      say({
        text: t(closed ? 'taught-box.closed' : 'taught-box.opened', { title }),
        undo: () => setClosed(box, !closed).then(refresh),
      });
    });
}
</script>

<template>
  <section
    v-if="shown.length > 0 || making || (classId === null && boxes.data.value)"
    aria-labelledby="taught-boxes"
  >
    <div class="flex flex-wrap items-center gap-3">
      <h2 id="taught-boxes" class="flex-1 text-[19px]">{{ t('taught-box.title') }}</h2>
      <AppButton v-if="!making && classId === null" @click="making = true">{{
        t('taught-box.new')
      }}</AppButton>
    </div>
    <BoxForm
      v-if="making"
      class="mt-2"
      :classes="classId === null ? [] : [classId]"
      @done="refresh"
      @close="making = false"
    />
    <ul v-if="shown.length > 0" class="mt-2 border-b border-line">
      <li v-for="box in shown" :key="box.id" class="border-t border-line">
        <BoxForm
          v-if="changing === box.id"
          class="my-2"
          :box="box"
          @done="refresh"
          @close="changing = ''"
        />
        <div v-else class="flex items-center gap-3">
          <RouterLink
            :to="{ name: 'box', params: { box: box.id } }"
            class="group flex min-h-14 min-w-0 flex-1 flex-wrap items-center gap-x-4 gap-y-0.5 py-2"
          >
            <span
              v-if="classId === null"
              class="inline-flex h-[22px] items-center rounded-[4px] px-2 font-code text-[12px] font-semibold text-white"
              :style="{ background: `var(--${box.colour})` }"
              >{{ box.code }}</span
            >
            <span class="min-w-40 flex-1">
              <span class="block font-semibold wrap-anywhere group-hover:text-petrol">{{
                box.title
              }}</span>
              <span class="block text-meta text-soft">{{ until(box) }}</span>
            </span>
            <span class="text-meta whitespace-nowrap text-soft"
              >{{ t('taught-box.in', { n: box.handedIn, of: box.students })
              }}<span v-if="box.fresh > 0" class="font-semibold text-saffron-ink">
                · {{ t('taught-box.fresh', box.fresh) }}</span
              ></span
            >
          </RouterLink>
          <RowMenu
            :label="t('taught-box.actions', { title: box.title })"
            :actions="actions(box)"
            @act="act($event, box)"
          />
        </div>
      </li>
    </ul>
    <RouterLink
      :to="{ name: 'handed-in' }"
      class="mt-1 inline-flex min-h-9 items-center text-meta text-petrol underline underline-offset-2 pointer-coarse:min-h-11"
      >{{ t('taught-box.closed-title') }}</RouterLink
    >
    <CopiesSheet v-if="giving" :box="giving" @close="giving = null" />
  </section>
</template>
