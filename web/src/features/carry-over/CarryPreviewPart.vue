<script setup lang="ts">
import type { CarryOver, CarryPlan, CarryPreview } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { refDebounced } from '@vueuse/core';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { useFormat } from '../../app/format.ts';
import IndexTab from '../../app/IndexTab.vue';
import PageState from '../../app/PageState.vue';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';
import { useCarryOvers } from './carry-over.ts';
import CarryTree from './CarryTree.vue';

/** What carrying over will make: both trees side by side, what changes in words and dates, and who will see it. */
const plan = defineModel<CarryPlan>({ required: true });
const emit = defineEmits<{ begun: [running: CarryOver] }>();
const { t } = useI18n();
const { moment } = useFormat();
const { madeWords } = useCarryOvers();
const { fault, busy, tried } = useSubmit();
// Whoever types a name, or ticks several things, is not asked for each.
const settled = refDebounced(plan, 300);
const query = useQuery({
  key: () => ['carry-over', 'preview', JSON.stringify(settled.value)],
  query: () => api('POST /api/carry-over/preview', { body: settled.value }),
  placeholderData: (before: CarryPreview | undefined) => before,
  staleTime: 0,
});
const preview = computed(() => query.data.value);
const much = computed(() => (preview.value ? madeWords({ made: preview.value.counts }) : ''));

function rename(folder: string, key: string, title: string) {
  const others = plan.value.names.filter((one) => one.folder !== folder || one.key !== key);
  const named = title.trim() === '' ? [] : [{ folder, key, title: title.trim() }];
  plan.value = { ...plan.value, names: [...others, ...named] };
}
function begin() {
  return tried(async () => {
    const { id } = await api('POST /api/carry-over', { body: plan.value });
    emit('begun', await api('GET /api/carry-over/:carryOver', { params: { carryOver: id } }));
  });
}
</script>

<template>
  <section :aria-label="t('carry-over.preview')" :aria-busy="query.isLoading.value">
    <PageState v-if="!preview" :error="query.error.value" @again="query.refetch()" />
    <template v-else>
      <div class="mb-5 flex flex-wrap items-center gap-x-5 gap-y-2">
        <AppButton tone="main" :disabled="busy || much === ''" @click="begin">{{
          much === '' ? t('carry-over.make-none') : t('carry-over.make', { what: much })
        }}</AppButton>
        <div role="status" class="min-w-60 flex-1 text-[15px]">
          <p v-for="one in preview.sight" :key="one.id">
            {{
              t('carry-over.sees', {
                code: one.code,
                students: t('count.students', one.students),
                now: t('count.things', one.now),
              })
            }}
            <template v-if="one.later + one.held > 0">{{
              t('carry-over.sees-later', one.later + one.held)
            }}</template>
          </p>
          <p v-if="preview.sight.length === 0 && preview.seenBy.length === 0">
            {{ t('carry-over.nobody') }}
          </p>
          <p v-if="preview.seenBy.length > 0" class="font-semibold">
            {{ t('carry-over.reaches') }}
            <IndexTab
              v-for="tab in preview.seenBy"
              :key="`${tab.kind} ${tab.id}`"
              :tab="tab"
              class="mr-1"
            />
          </p>
        </div>
        <p role="alert" class="w-full font-medium text-brick-ink empty:hidden">{{ fault }}</p>
      </div>
      <p v-if="preview.there + preview.removed + preview.leftOut > 0" class="mb-4 text-soft">
        <template v-if="preview.there > 0">{{ t('carry-over.there', preview.there) }} </template>
        <template v-if="preview.removed > 0"
          >{{ t('carry-over.removed', preview.removed) }}
        </template>
        <template v-if="preview.leftOut > 0">{{
          t('carry-over.left-out', preview.leftOut)
        }}</template>
      </p>
      <CarryTree
        v-for="tree in preview.trees"
        :key="`${tree.folder} ${tree.key}`"
        :tree="tree"
        class="mb-6"
        @rename="rename(tree.folder, tree.key, $event)"
      />
      <section v-if="preview.ends.length > 0" class="mb-6">
        <h2 class="text-[19px]">{{ t('carry-over.ends') }}</h2>
        <ul>
          <li
            v-for="(end, n) in preview.ends"
            :key="n"
            class="grid gap-x-4 border-t border-line py-1.5 sm:grid-cols-3"
          >
            <span>{{ end.title }}</span><span class="text-soft">{{ moment(end.before) }}</span
            ><span>→ {{ moment(end.after) }}</span>
          </li>
        </ul>
      </section>
      <section v-if="preview.words.length > 0">
        <h2 class="text-[19px]">{{ t('carry-over.words') }}</h2>
        <ul>
          <li
            v-for="(one, n) in preview.words"
            :key="n"
            class="grid gap-x-4 border-t border-line py-1.5 sm:grid-cols-2"
          >
            <span class="line-clamp-3 text-soft">{{ one.before }}</span><span class="line-clamp-3"
              >→ {{ one.after }}</span
            >
          </li>
        </ul>
      </section>
    </template>
  </section>
</template>
