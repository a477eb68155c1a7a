<script setup lang="ts">
import type { ImportedRoster } from '@sammlung/contract';
import { ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { useChanging } from '../../app/changing.ts';
import { say } from '../../app/shell/toast.ts';
import AppButton from '../../ui/AppButton.vue';
import ModalSheet from '../../ui/ModalSheet.vue';

/** Takes in courses, classes and people from the school's system (OneRoster CSV): looked at first, then taken. */
const emit = defineEmits<{ close: [] }>();
const { t } = useI18n();
const { withRefresh, attempt } = useChanging();
const archive = ref<Blob | null>(null);
const result = ref<ImportedRoster | null>(null);
const leave = ref(false);

const send = (take: 'yes' | 'no') =>
  api('POST /api/oneroster', {
    query: { take, leave: leave.value ? 'yes' : 'no' },
    body: archive.value!,
  });
async function look(file: File | undefined) {
  if (!file) return;
  archive.value = new Blob([await file.arrayBuffer()]);
  await tell();
}
const tell = () =>
  attempt(async () => {
    result.value = null;
    result.value = await send('no');
    return true;
  });
const take = () =>
  attempt(async () => {
    const taken = await withRefresh(send('yes'));
    say({ text: t('roster.system.taken', { joined: taken.joined, left: taken.left }) });
    emit('close');
    return true;
  });
const lines = ({ courses, classes, people, joined, left }: ImportedRoster) => [
  t('roster.system.courses', { made: courses.made, known: courses.known }),
  t('roster.system.classes', { made: classes.made, known: classes.known }),
  t('roster.system.people', { made: people.made, known: people.known }),
  t('roster.system.members', { joined, left }),
];
</script>

<template>
  <ModalSheet :title="t('roster.system.title')" @close="emit('close')">
    <p class="mt-1 text-soft">{{ t('roster.system.text') }}</p>
    <label class="mt-4 block">
      <span class="font-semibold">{{ t('roster.system.file') }}</span>
      <input
        type="file"
        accept=".zip,application/zip"
        class="mt-1 block"
        @change="look(($event.target as HTMLInputElement).files?.[0])"
      />
    </label>
    <div v-if="result" class="mt-4" role="status">
      <ul class="border-y border-line">
        <li
          v-for="line in lines(result)"
          :key="line"
          class="border-t border-line py-1.5 first:border-t-0"
        >
          {{ line }}
        </li>
      </ul>
      <template v-if="result.faultCount > 0">
        <h3 class="mt-4 text-[17px]">{{ t('roster.system.faults', result.faultCount) }}</h3>
        <ul class="mt-1 max-h-40 overflow-y-auto text-meta" tabindex="0">
          <li v-for="fault in result.faults" :key="`${fault.file} ${fault.line} ${fault.what}`">
            {{ fault.file }}.csv, {{ fault.line }}: {{ t(`roster.system.fault.${fault.fault}`) }}
            {{ fault.what }}
          </li>
        </ul>
      </template>
      <label class="mt-3 flex min-h-9 items-center gap-2">
        <input v-model="leave" type="checkbox" class="size-5 accent-(--action)" @change="tell" />
        {{ t('roster.system.leave') }}
      </label>
    </div>
    <div class="mt-5 flex gap-2">
      <AppButton tone="main" :disabled="!result" @click="take">{{
        t('roster.system.take')
      }}</AppButton>
      <AppButton @click="emit('close')">{{ t('common.cancel') }}</AppButton>
    </div>
  </ModalSheet>
</template>
