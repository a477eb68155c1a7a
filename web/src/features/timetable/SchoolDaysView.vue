<script setup lang="ts">
import type { SchoolDay } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { Trash2 } from 'lucide-vue-next';
import { computed, ref, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { useAction } from '../../app/action.ts';
import { useFormat } from '../../app/format.ts';
import PageState from '../../app/PageState.vue';
import { say } from '../../app/shell/toast.ts';
import AppButton from '../../ui/AppButton.vue';
import { FIELD } from '../../ui/field.ts';

/** The terms and days off of a school, for the office: typed one by one, or read from a calendar. */
const { t } = useI18n();
const { day } = useFormat();
const attempt = useAction();
const query = useQuery({
  key: ['school-days'],
  query: () => api('GET /api/school-days'),
  staleTime: 0,
});
const days = computed(() => query.data.value?.days ?? []);

/** Sets all of them; Undo brings back what there was. */
const put = (wanted: readonly SchoolDay[], text: string) =>
  attempt(async () => {
    const before = days.value;
    const set = async (all: readonly SchoolDay[]) => {
      await api('PUT /api/school-days', { body: { days: [...all] } });
      await query.refetch();
    };
    await set(wanted);
    say({ text, undo: () => set(before) });
  });

const kind = ref<SchoolDay['kind']>('off');
const title = ref('');
const firstDay = ref('');
const lastDay = ref('');
const whole = computed(
  () =>
    title.value.trim() !== '' &&
    firstDay.value !== '' &&
    (lastDay.value === '' || lastDay.value >= firstDay.value),
);
async function add() {
  if (!whole.value) return;
  const one: SchoolDay = {
    ...{ kind: kind.value, title: title.value.trim(), firstDay: firstDay.value },
    lastDay: lastDay.value || firstDay.value,
  };
  await put([...days.value, one], t('timetable.added', { title: one.title }));
  title.value = firstDay.value = lastDay.value = '';
}
const remove = (gone: SchoolDay) =>
  put(
    days.value.filter((one) => one !== gone),
    t('timetable.removed', { title: gone.title }),
  );

const picker = useTemplateRef<HTMLInputElement>('picker');
const read = (event: Event) =>
  attempt(async () => {
    const field = event.target as HTMLInputElement;
    const [file] = field.files ?? [];
    field.value = '';
    if (!file) return;
    const found = await api('POST /api/school-days/calendar', {
      body: { text: await file.text() },
    });
    const keyOf = (one: SchoolDay) => `${one.firstDay} ${one.lastDay} ${one.title}`;
    const known = new Set(days.value.map(keyOf));
    const fresh = found.days.filter((one) => !known.has(keyOf(one)));
    await put([...days.value, ...fresh], t('timetable.read-days', fresh.length));
  });
const spanOf = (one: SchoolDay) =>
  [...new Set([one.firstDay, one.lastDay])].map((at) => day(`${at}T12:00:00Z`)).join(' – ');
</script>

<template>
  <div class="mx-auto w-full max-w-3xl px-5 py-7 sm:px-10">
    <h1 class="text-[28px]">{{ t('shell.school-days') }}</h1>
    <p class="mt-1 text-soft">{{ t('timetable.office-text') }}</p>
    <form
      class="mt-5 grid items-end gap-3 sm:grid-cols-[8rem_1fr_auto_auto_auto]"
      @submit.prevent="add"
    >
      <label class="block"
        ><span class="block text-meta text-soft">{{ t('timetable.kind') }}</span
        ><select v-model="kind" :class="FIELD">
          <option value="off">{{ t('timetable.off') }}</option>
          <option value="term">{{ t('timetable.term') }}</option>
        </select></label
      >
      <label class="block"
        ><span class="block text-meta text-soft">{{ t('timetable.name') }}</span
        ><input v-model="title" maxlength="60" required :class="FIELD"
      /></label>
      <label class="block"
        ><span class="block text-meta text-soft">{{ t('timetable.first') }}</span
        ><input v-model="firstDay" type="date" required max="2199-12-31" :class="FIELD"
      /></label>
      <label class="block"
        ><span class="block text-meta text-soft">{{ t('timetable.last') }}</span
        ><input v-model="lastDay" type="date" :min="firstDay" max="2199-12-31" :class="FIELD"
      /></label>
      <AppButton tone="main" submits :disabled="!whole">{{ t('timetable.add') }}</AppButton>
    </form>
    <p class="mt-3">
      <AppButton @click="picker?.click()">{{ t('timetable.read') }}</AppButton>
      <input ref="picker" type="file" accept=".ics,text/calendar" class="hidden" @change="read" />
    </p>
    <PageState v-if="!query.data.value" :error="query.error.value" @again="query.refetch()" />
    <p v-else-if="days.length === 0" class="mt-6 text-soft">{{ t('timetable.none') }}</p>
    <ul v-else class="mt-6 border-b border-line">
      <li
        v-for="one in days"
        :key="`${one.firstDay} ${one.lastDay} ${one.title}`"
        class="flex min-h-11 items-center gap-4 border-t border-line"
      >
        <span class="w-44 shrink-0 text-meta text-soft max-sm:w-28">{{ spanOf(one) }}</span>
        <span class="min-w-0 flex-1" :class="one.kind === 'term' ? 'font-semibold' : ''">{{
          one.title
        }}</span>
        <span class="text-meta text-soft">{{ t(`timetable.${one.kind}`) }}</span>
        <button
          type="button"
          class="grid size-9 place-items-center rounded-edge text-soft hover:bg-mark hover:text-ink pointer-coarse:size-11"
          :aria-label="t('timetable.remove', { title: one.title })"
          @click="remove(one)"
        >
          <Trash2 :size="17" aria-hidden="true" />
        </button>
      </li>
    </ul>
  </div>
</template>
