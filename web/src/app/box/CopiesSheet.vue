<script setup lang="ts">
import type { GivenCopies, Hit, TaughtBox } from '@sammlung/contract';
import { useQuery, useQueryCache } from '@pinia/colada';
import { computed, onMounted, ref, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import AppButton from '../../ui/AppButton.vue';
import KindMark from '../../ui/KindMark.vue';
import ModalSheet from '../../ui/ModalSheet.vue';
import { useAction } from '../action.ts';
import { api } from '../api/api.ts';
import { useFormat } from '../format.ts';
import { say } from '../shell/toast.ts';
import { useSubmit } from '../submit.ts';
import ThingField from '../ThingField.vue';
import { BOXES_KEY } from './boxes.ts';

/** Gives every student of a box a copy of a file or page, and shows what they have been given. */
const { box } = defineProps<{ box: TaughtBox }>();
const emit = defineEmits<{ close: [] }>();
const { t } = useI18n();
const { moment } = useFormat();
const cache = useQueryCache();
const query = useQuery({
  key: () => [...BOXES_KEY, box.id, 'copies'],
  query: () => api('GET /api/boxes/:box/copies', { params: { box: box.id } }),
  staleTime: 0,
});
const field = useTemplateRef('field');
onMounted(() => field.value?.focus());
const chosen = ref<Hit | null>(null);
const named = ref(false);
const NAMED = '{title}, {student}';
/** What the first copy would be called. */
const example = computed(() => {
  const title = chosen.value?.title ?? '';
  return named.value ? t('taught-box.copy-named', { title }) : title;
});
const refresh = () => Promise.all([query.refetch(), cache.invalidateQueries({ key: BOXES_KEY })]);
const { fault, busy, tried } = useSubmit();
function pick(hit: Hit) {
  fault.value = '';
  if (hit.kind === 'placement' && hit.itemKind !== 'link') chosen.value = hit;
  else fault.value = t('taught-box.copy-kinds');
}
const takeBack = async (id: string) => {
  const { kept } = await api('DELETE /api/copies/:copies', { params: { copies: id } });
  await refresh();
  say({ text: t('taught-box.copies-back', kept) });
};
async function give() {
  const thing = chosen.value;
  if (!thing || busy.value) return;
  await tried(async () => {
    const made = await api('POST /api/boxes/:box/copies', {
      params: { box: box.id },
      body: { placement: thing.id, ...(named.value && { pattern: NAMED }) },
    });
    chosen.value = null;
    await refresh();
    say({
      text: t('taught-box.copies-given', { title: thing.title, n: made.given }, made.given),
      undo: () => takeBack(made.id),
    });
  });
}
const attempt = useAction();
const takeBackOld = (copies: GivenCopies) => attempt(() => takeBack(copies.id));
</script>

<template>
  <ModalSheet :title="t('taught-box.copies-title', { title: box.title })" @close="emit('close')">
    <div class="mt-4">
      <ThingField ref="field" :label="t('taught-box.copy-which')" @pick="pick" />
    </div>
    <template v-if="chosen">
      <p class="mt-3 flex min-h-11 items-center gap-3 border border-line bg-raised px-3">
        <KindMark :kind="chosen.itemKind ?? 'file'" :extension="chosen.extension" />
        <span class="min-w-0 flex-1 font-semibold wrap-anywhere">{{ example }}</span>
      </p>
      <label class="mt-1 flex min-h-10 items-center gap-2 text-[15px] pointer-coarse:min-h-11">
        <input v-model="named" type="checkbox" class="size-5 accent-(--action)" />{{
          t('taught-box.copy-name')
        }}
      </label>
      <p class="text-[15px]" role="status">
        {{ t('taught-box.copies-say', { code: box.code, n: box.students }, box.students) }}
      </p>
    </template>
    <p role="alert" class="mt-2 text-meta font-medium text-brick-ink empty:hidden">{{ fault }}</p>
    <div class="mt-4 flex flex-wrap gap-2">
      <AppButton tone="main" :disabled="busy || !chosen" @click="give">{{
        t('taught-box.copies-give')
      }}</AppButton>
      <AppButton :disabled="busy" @click="emit('close')">{{ t('common.close') }}</AppButton>
    </div>
    <ul v-if="query.data.value?.copies.length" class="mt-5 border-b border-line">
      <li
        v-for="copies in query.data.value.copies"
        :key="copies.id"
        class="flex items-center gap-3 border-t border-line py-2"
      >
        <span class="min-w-0 flex-1">
          <span class="block font-semibold wrap-anywhere">{{
            copies.title ?? t('taught-box.copy-gone')
          }}</span>
          <span class="block text-meta text-soft"
            >{{ moment(copies.at) }} ·
            {{ t('taught-box.copies-opened', { n: copies.opened, of: copies.given }) }}</span
          >
        </span>
        <AppButton @click="takeBackOld(copies)">{{ t('taught-box.copies-take-back') }}</AppButton>
      </li>
    </ul>
  </ModalSheet>
</template>
