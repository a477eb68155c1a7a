<script setup lang="ts">
import type { EditedPage } from '@sammlung/contract';
import { useClipboard } from '@vueuse/core';
import { computed, defineAsyncComponent, ref, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { addressToSay } from '../../app/door/addresses.ts';
import PageState from '../../app/PageState.vue';
import AppButton from '../../ui/AppButton.vue';
import type { useEditedPage } from './entries.ts';
import { draftOf, shownBy, useWebsite, type WebsiteDraft } from './website.ts';
import WebsitePart from './WebsitePart.vue';

/** What is on the website of a class: nothing is open to visitors before the button is pressed below the sentence that says what will be. */
const { page, act } = defineProps<{
  page: EditedPage;
  act: ReturnType<typeof useEditedPage>['act'];
}>();
const emit = defineEmits<{ close: [] }>();
const { t } = useI18n();
const DoorSheet = defineAsyncComponent(() => import('../../app/door/DoorSheet.vue'));
const { copy, copied } = useClipboard({ legacy: true, copiedDuring: 4000 });
const { website, save, close } = useWebsite(page.id, page.code, act);
const data = computed(() => website.data.value);
const draft = ref<WebsiteDraft | null>(null);
watch(data, (found) => found && (draft.value = draftOf(found)), { immediate: true });
const changed = computed(
  () => data.value && JSON.stringify(draft.value) !== JSON.stringify(draftOf(data.value)),
);
const atDoor = ref(false);

const parts = computed(() => {
  if (!data.value) return [];
  const under = (id: string | null) => data.value!.entries.filter((e) => e.headingId === id);
  return [
    ...data.value.headings.map((heading) => ({ ...heading, entries: under(heading.id) })),
    { id: null, title: t('website.loose'), mark: null, colour: null, entries: under(null) },
  ].filter((part) => part.id !== null || part.entries.length > 0);
});
const sentence = computed(() => {
  if (!data.value || !draft.value) return '';
  const { open, kind } = draft.value;
  const titles = new Map(
    data.value.entries.flatMap(({ things }) => things.map(({ id, title }) => [id, title] as const)),
  );
  const whom = t(`website.whom.${kind}`, { school: data.value.schoolName });
  const names = open.map(({ id }) => `“${titles.get(id)}”`).join(', ');
  return [
    t('website.will', {
      entries: t('website.entries', shownBy(draft.value, data.value).length),
    }),
    ...(open.length > 0 ? [t('website.opens', { titles: names, whom }, open.length)] : []),
  ].join(' ');
});
async function store() {
  if (await save(draft.value!, data.value!)) emit('close');
}
async function shut() {
  if (await close(data.value!.door!.id)) emit('close');
}
async function afterDoor() {
  atDoor.value = false;
  await website.refetch();
}
</script>

<template>
  <form
    class="border border-line bg-raised px-5 py-4 shadow-md sm:px-6"
    :aria-label="t('website.title', { code: page.code })"
    @submit.prevent="store"
    @keydown.esc="emit('close')"
  >
    <PageState v-if="!data || !draft" :error="website.error.value" @again="website.refetch()" />
    <template v-else>
      <div class="flex flex-wrap items-baseline gap-x-3">
        <h2 class="text-[19px]">{{ t('website.title', { code: page.code }) }}</h2>
        <span
          v-if="data.door"
          class="rounded-[3px] bg-brick px-2 py-0.5 text-meta font-semibold text-white"
          >{{ t('website.on') }}</span
        >
      </div>
      <p class="mt-0.5 max-w-prose text-[15px] text-soft">{{ t('website.intro') }}</p>
      <div v-if="data.door" class="mt-3 flex flex-wrap items-center gap-2">
        <span class="mr-2 max-w-full truncate font-code text-[15px] font-semibold text-petrol">{{
          addressToSay(data.door)
        }}</span>
        <AppButton @click="copy(data.door.shortAddress ?? data.door.address)">{{
          t(copied ? 'audience.copied' : 'website.copy')
        }}</AppButton>
        <AppButton @click="atDoor = true">{{ t('website.door') }}</AppButton>
        <a
          :href="data.door.address"
          target="_blank"
          rel="noopener"
          class="inline-flex min-h-9 items-center font-semibold text-petrol hover:underline pointer-coarse:min-h-11"
          >{{ t('website.look') }}</a
        >
      </div>
      <fieldset v-else class="mt-3 flex flex-wrap items-center gap-x-5 gap-y-1">
        <legend class="float-left mr-4 text-[15px] text-soft">{{ t('website.for') }}</legend>
        <label
          v-for="kind in ['public', 'school'] as const"
          :key="kind"
          class="flex min-h-9 items-center gap-2 pointer-coarse:min-h-11"
        >
          <input v-model="draft.kind" type="radio" :value="kind" class="size-5 accent-(--action)" />
          {{ t(`website.kinds.${kind}`, { school: data.schoolName }) }}
        </label>
      </fieldset>
      <h3 class="mt-4 text-[16px]">{{ t('website.headings') }}</h3>
      <ul class="mt-1 border-b border-line">
        <WebsitePart
          v-for="part in parts"
          :key="part.id ?? ''"
          v-model="draft"
          :part="part"
          :colour="part.colour ?? page.colour"
        />
      </ul>
      <label class="mt-4 flex flex-wrap items-center gap-x-3 gap-y-1">
        <span>{{ t('website.tells') }}</span>
        <select
          v-model="draft.tells"
          class="h-10 rounded-edge border border-line bg-sheet px-2 pointer-coarse:h-11"
        >
          <option
            v-for="tells in ['nothing', 'number', 'titles'] as const"
            :key="tells"
            :value="tells"
          >
            {{ t(`website.tell.${tells}`) }}
          </option>
        </select>
      </label>
      <p class="mt-4 max-w-prose border-l-4 border-brick pl-3" role="status">{{ sentence }}</p>
      <div class="mt-4 flex flex-wrap gap-2">
        <AppButton tone="main" submits :disabled="data.door !== null && !changed">{{
          t(data.door ? 'website.save' : 'website.begin')
        }}</AppButton>
        <AppButton @click="emit('close')">{{ t('common.cancel') }}</AppButton>
        <span class="flex-1" />
        <AppButton v-if="data.door" @click="shut">{{ t('website.close') }}</AppButton>
      </div>
      <DoorSheet
        v-if="atDoor && data.door"
        :door="data.door"
        :title="data.title"
        @close="afterDoor"
      />
    </template>
  </form>
</template>
