<script setup lang="ts">
import type { ListedDoor } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { computed, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import { api } from '../../app/api/api.ts';
import { useFormat } from '../../app/format.ts';
import AppButton from '../../ui/AppButton.vue';
import PageState from '../../app/PageState.vue';
import { codeAddress, addressToSay } from '../../app/door/addresses.ts';
import DoorSheet from '../../app/door/DoorSheet.vue';

/** Every door that stands open, and a card to print with some of them. */
const { t } = useI18n();
const { moment } = useFormat();
const doors = useQuery({
  key: ['doors'],
  query: () => api('GET /api/doors'),
  staleTime: 0,
});
const list = computed(() => doors.data.value?.doors ?? []);
const chosen = ref<string[]>([]);
const open = ref<ListedDoor | null>(null);
const card = computed(() => list.value.filter((door) => chosen.value.includes(door.id)));
const facts = (door: ListedDoor) =>
  [
    t(`door.kind.${door.kind}`),
    door.until ? t('audience.terms.till', { when: moment(door.until) }) : '',
    door.hasWord ? t('door.with-word') : '',
  ]
    .filter(Boolean)
    .join(' · ');
const print = () => window.print();
async function close() {
  open.value = null;
  await doors.refetch();
}
</script>

<template>
  <div class="mx-auto w-full max-w-5xl px-5 py-7 sm:px-10">
    <div class="flex flex-wrap items-end gap-3">
      <div class="flex-1">
        <h1 class="text-[28px]">{{ t('door.all') }}</h1>
        <p class="mt-0.5 text-meta text-soft">{{ t('door.all-text') }}</p>
      </div>
      <AppButton :disabled="card.length === 0" @click="print">{{
        t('door.print', card.length)
      }}</AppButton>
    </div>
    <PageState v-if="!doors.data.value" :error="doors.error.value" @again="doors.refetch()" />
    <p v-else-if="list.length === 0" class="mt-5 border-t border-line py-8 text-soft">
      {{ t('door.none') }}
    </p>
    <ul v-else class="mt-4 border-b border-line">
      <li
        v-for="door in list"
        :key="door.id"
        class="flex min-h-16 items-center gap-4 border-t border-line py-2"
      >
        <input
          v-model="chosen"
          type="checkbox"
          :value="door.id"
          class="size-5 accent-(--action)"
          :aria-label="t('door.on-card', { title: door.title })"
        />
        <span
          class="w-1.5 self-stretch rounded-[2px]"
          :class="door.kind === 'public' ? 'bg-brick' : 'bg-[#665e4c]'"
          aria-hidden="true"
        />
        <span class="min-w-0 flex-1">
          <RouterLink
            :to="
              door.classId
                ? { name: 'class-page', params: { class: door.classId } }
                : door.folderId
                  ? { name: 'folder', params: { folder: door.folderId } }
                  : { name: 'item', params: { placement: door.placementId ?? '' } }
            "
            class="block truncate text-[17px] font-semibold hover:text-petrol hover:underline"
            >{{ door.title }}</RouterLink
          >
          <span class="block text-meta text-soft">{{ facts(door) }}</span>
        </span>
        <span class="w-80 truncate font-code text-[13px] text-soft">{{ addressToSay(door) }}</span>
        <AppButton @click="open = door">{{ t('door.open-sheet') }}</AppButton>
      </li>
    </ul>
    <DoorSheet v-if="open" :door="open" :title="open.title" @close="close" />
    <Teleport to="body">
      <div class="print-only door-card">
        <div v-for="door in card" :key="door.id" class="door-on-card">
          <img :src="codeAddress(door, 'svg')" alt="" />
          <p class="door-title">{{ door.title }}</p>
          <p class="font-code">{{ addressToSay(door) }}</p>
          <p v-if="door.hasWord">{{ t('door.with-word') }}</p>
        </div>
      </div>
    </Teleport>
  </div>
</template>

<style scoped>
.door-card {
  display: none;
}
@media print {
  .door-card {
    display: grid;
    grid-template-columns: 1fr 1fr;
    color: black;
  }
  .door-on-card {
    break-inside: avoid;
    border: 1px dashed #999;
    padding: 8mm;
    text-align: center;
    font-size: 11pt;
    overflow-wrap: anywhere;
  }
  .door-on-card img {
    width: 50mm;
    margin: 0 auto;
  }
  .door-title {
    font-family: var(--font-title);
    font-size: 16pt;
  }
}
</style>
