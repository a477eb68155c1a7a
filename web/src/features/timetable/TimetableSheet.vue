<script setup lang="ts">
import type { Lesson, Timetable } from '@sammlung/contract';
import { useQuery, useQueryCache } from '@pinia/colada';
import { computed, ref, useTemplateRef, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { useFormat } from '../../app/format.ts';
import PageState from '../../app/PageState.vue';
import { say } from '../../app/shell/toast.ts';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';
import ModalSheet from '../../ui/ModalSheet.vue';
import { toCells, toLessons, type Cells } from './cells.ts';

/** A teacher's week as a small table: which class there is on which day in which period; typed, or read from a calendar. */
const emit = defineEmits<{ close: [] }>();
const { t } = useI18n();
const { weekdayName, day } = useFormat();
const { fault, busy, tried } = useSubmit();
const cache = useQueryCache();
const timetable = useQuery({
  key: ['timetable'],
  query: () => api('GET /api/timetable'),
  staleTime: 0,
});
const data = computed(() => timetable.data.value);
const cells = ref<Cells>({});
watch(
  () => data.value?.classes,
  (classes) => classes && (cells.value = toCells(classes)),
  { immediate: true },
);
const used = computed(() => Object.keys(cells.value).map((key) => key.split(' ').map(Number)));
const weekdays = computed(() => {
  const last = Math.max(5, ...used.value.map(([weekday]) => weekday!));
  return Array.from({ length: last }, (_, n) => n + 1);
});
const periods = computed(() => {
  const last = Math.min(20, Math.max(7, ...used.value.map(([, period]) => period!)) + 1);
  return Array.from({ length: last }, (_, n) => n + 1);
});
function set(weekday: number, period: number, event: Event) {
  const { value } = event.target as HTMLSelectElement;
  const { [`${weekday} ${period}`]: _, ...others } = cells.value;
  cells.value = value === '' ? others : { ...others, [`${weekday} ${period}`]: value };
}
const colourOf = (id: string | undefined) => data.value?.classes.find((c) => c.id === id)?.colour;

const picker = useTemplateRef<HTMLInputElement>('picker');
const found = ref('');
const read = (event: Event) =>
  tried(async () => {
    const field = event.target as HTMLInputElement;
    const [file] = field.files ?? [];
    field.value = '';
    if (!file) return;
    const { classes, others } = await api('POST /api/timetable/calendar', {
      body: { text: await file.text() },
    });
    cells.value = toCells(classes);
    const lessons = classes.reduce((sum, one) => sum + one.lessons.length, 0);
    found.value = [t('timetable.found', lessons), others > 0 && t('timetable.others', others)]
      .filter(Boolean)
      .join(' ');
  });

const write = async (classes: Timetable['classes'], of: (id: string) => Lesson[]) => {
  for (const { id } of classes)
    await api('PUT /api/classes/:class/lessons', {
      params: { class: id },
      body: { lessons: of(id) },
    });
  await Promise.all(['timetable', 'tray'].map((key) => cache.invalidateQueries({ key: [key] })));
};
const save = () =>
  tried(async () => {
    const classes = data.value!.classes;
    const wanted = toLessons(cells.value);
    const changed = classes.filter(
      ({ id, lessons }) =>
        JSON.stringify(toCells([{ id, lessons }])) !==
        JSON.stringify(toCells([{ id, lessons: wanted.get(id) ?? [] }])),
    );
    await write(changed, (id) => wanted.get(id) ?? []);
    say({
      text: t('timetable.saved'),
      undo: () => write(changed, (id) => classes.find((one) => one.id === id)!.lessons),
    });
    emit('close');
  });
</script>

<template>
  <!-- Until it is there, nothing in the sheet could have the focus. -->
  <ModalSheet
    v-if="data || timetable.error.value"
    :title="t('timetable.title')"
    @close="emit('close')"
  >
    <p class="mt-1 text-soft">{{ t('timetable.text') }}</p>
    <PageState v-if="!data" :error="timetable.error.value" @again="timetable.refetch()" />
    <form v-else class="mt-4 space-y-4" @submit.prevent="save">
      <div
        class="-mx-2 overflow-x-auto px-2"
        tabindex="0"
        :aria-label="t('timetable.title')"
        role="region"
      >
        <table class="w-full border-separate border-spacing-1 text-[14px] max-sm:table-fixed">
          <thead>
            <tr>
              <th class="w-7">
                <span class="sr-only">{{ t('timetable.period') }}</span>
              </th>
              <th
                v-for="weekday in weekdays"
                :key="weekday"
                scope="col"
                class="pb-1 text-left text-meta font-semibold text-soft"
              >
                {{ weekdayName(weekday, 'short') }}
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="period in periods" :key="period">
              <th scope="row" class="text-meta font-semibold text-soft">{{ period }}</th>
              <td v-for="weekday in weekdays" :key="weekday">
                <select
                  :value="cells[`${weekday} ${period}`] ?? ''"
                  class="h-9 w-full min-w-[4.6rem] rounded-edge border px-1 font-code text-[13px] font-semibold max-sm:min-w-0 max-sm:appearance-none max-sm:px-0 max-sm:text-center max-sm:text-[12px] pointer-coarse:h-11"
                  :class="
                    cells[`${weekday} ${period}`]
                      ? 'border-transparent text-white'
                      : 'border-line bg-raised'
                  "
                  :style="
                    cells[`${weekday} ${period}`]
                      ? { background: `var(--${colourOf(cells[`${weekday} ${period}`])})` }
                      : {}
                  "
                  :aria-label="t('timetable.cell', { day: weekdayName(weekday, 'long'), period })"
                  @change="set(weekday, period, $event)"
                >
                  <option value="" class="bg-raised text-ink"></option>
                  <option
                    v-for="one in data.classes"
                    :key="one.id"
                    :value="one.id"
                    class="bg-raised text-ink"
                  >
                    {{ one.code }}
                  </option>
                </select>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <p v-if="found" role="status" class="text-petrol">{{ found }}</p>
      <p v-if="fault" role="alert" class="text-brick-ink">{{ fault }}</p>
      <p class="flex flex-wrap gap-2">
        <AppButton tone="main" submits :disabled="busy">{{ t('common.save') }}</AppButton>
        <AppButton @click="picker?.click()">{{ t('timetable.read') }}</AppButton>
        <AppButton @click="emit('close')">{{ t('common.cancel') }}</AppButton>
        <input ref="picker" type="file" accept=".ics,text/calendar" class="hidden" @change="read" />
      </p>
      <section v-if="data.days.length > 0">
        <h3 class="text-meta font-semibold text-soft">{{ t('timetable.days') }}</h3>
        <ul class="mt-1 text-[15px]">
          <li v-for="one in data.days" :key="`${one.title} ${one.firstDay}`" class="flex gap-3">
            <span class="w-36 shrink-0 text-meta text-soft">{{
              one.firstDay === one.lastDay
                ? day(`${one.firstDay}T12:00:00Z`)
                : `${day(`${one.firstDay}T12:00:00Z`)} – ${day(`${one.lastDay}T12:00:00Z`)}`
            }}</span>
            <span>{{ one.title }}</span>
          </li>
        </ul>
      </section>
    </form>
  </ModalSheet>
</template>
