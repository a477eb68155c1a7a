<script setup lang="ts">
import type { Colour, Courses } from '@sammlung/contract';
import { onMounted, ref, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { useSubmit } from '../../app/submit.ts';
import { say } from '../../app/shell/toast.ts';
import AppButton from '../../ui/AppButton.vue';
import ColourPicker from '../../ui/ColourPicker.vue';
import { COLOURS } from '../../ui/tabColour.ts';
import { useRoster } from './roster.ts';

/** Makes a course, with the codes of its classes. */
const { years, colour: free } = defineProps<{ years: Courses['years']; colour: Colour }>();
const emit = defineEmits<{ done: [] }>();
const { t } = useI18n();
const { makeCourse } = useRoster();
const title = ref('');
const codes = ref('');
const colour = ref(free);
const yearId = ref(years.at(-1)!.id);
const { fault, tried } = useSubmit();
const field = useTemplateRef('field');
onMounted(() => field.value?.focus());

async function make() {
  const classes = [...new Set(codes.value.split(/[\s,;]+/u).filter(Boolean))];
  await tried(async () => {
    await makeCourse({ title: title.value, colour: colour.value, yearId: yearId.value, classes });
    say({ text: t('roster.made', { name: title.value }) });
    emit('done');
  });
}
</script>

<template>
  <form
    class="mt-5 rounded-lg border border-line bg-paper/60 p-4"
    @submit.prevent="make"
    @keydown.esc="emit('done')"
  >
    <div class="grid gap-3 sm:grid-cols-[2fr_1.4fr_auto]">
      <label class="block">
        <span class="text-meta text-soft">{{ t('roster.course-title') }}</span>
        <input
          ref="field"
          v-model="title"
          required
          maxlength="60"
          class="mt-0.5 h-10 w-full rounded-edge border border-line bg-raised px-3"
        />
      </label>
      <label class="block">
        <span class="text-meta text-soft">{{ t('roster.codes') }}</span>
        <input
          v-model="codes"
          :placeholder="t('roster.codes-example')"
          class="mt-0.5 h-10 w-full rounded-edge border border-line bg-raised px-3 font-code"
        />
      </label>
      <label v-if="years.length > 1" class="block">
        <span class="text-meta text-soft">{{ t('roster.year') }}</span>
        <select
          v-model="yearId"
          class="mt-0.5 h-10 rounded-edge border border-line bg-raised px-2 text-[15px]"
        >
          <option v-for="year in years" :key="year.id" :value="year.id">{{ year.label }}</option>
        </select>
      </label>
    </div>
    <div class="mt-3 flex flex-wrap items-center gap-x-6 gap-y-3">
      <ColourPicker v-model="colour" :label="t('library.colour')" :colours="COLOURS" />
      <span class="flex gap-2">
        <AppButton tone="main" submits :disabled="title.trim() === ''">{{
          t('roster.make-course')
        }}</AppButton>
        <AppButton @click="emit('done')">{{ t('common.cancel') }}</AppButton>
      </span>
    </div>
    <p role="alert" class="mt-2 text-meta font-medium text-brick-ink empty:hidden">{{ fault }}</p>
  </form>
</template>
