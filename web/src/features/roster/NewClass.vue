<script setup lang="ts">
import type { CourseView } from '@sammlung/contract';
import { onMounted, ref, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { useRouter } from 'vue-router';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';
import ColourPicker from '../../ui/ColourPicker.vue';
import { COLOURS } from '../../ui/tabColour.ts';
import { useRoster } from './roster.ts';

/** Adds a class to a course, and leads on to it: the next step is its list. */
const { course } = defineProps<{ course: CourseView }>();
const emit = defineEmits<{ done: [] }>();
const { t } = useI18n();
const router = useRouter();
const { makeClass } = useRoster();
const code = ref('');
const used = course.classes.map((c) => c.colour);
const colour = ref(
  used.includes(course.colour) ? (COLOURS.find((c) => !used.includes(c)) ?? 'leaf') : course.colour,
);
const { fault, tried } = useSubmit();
const field = useTemplateRef('field');
onMounted(() => field.value?.focus());

async function make() {
  await tried(async () => {
    const { id } = await makeClass(course.id, code.value, colour.value);
    emit('done');
    await router.push({ name: 'class', params: { class: id } });
  });
}
</script>

<template>
  <form
    class="mt-3 flex flex-wrap items-center gap-3 rounded-lg border border-line bg-paper/60 p-3"
    @submit.prevent="make"
    @keydown.esc="emit('done')"
  >
    <input
      ref="field"
      v-model="code"
      required
      maxlength="12"
      :aria-label="t('roster.code')"
      :placeholder="t('roster.code')"
      class="h-10 w-36 rounded-edge border border-line bg-raised px-3 font-code"
    />
    <ColourPicker v-model="colour" :label="t('library.colour')" :colours="COLOURS" />
    <AppButton tone="main" submits :disabled="code.trim() === ''">{{
      t('roster.make-class')
    }}</AppButton>
    <AppButton @click="emit('done')">{{ t('common.cancel') }}</AppButton>
    <p role="alert" class="w-full text-meta font-medium text-brick-ink empty:hidden">{{ fault }}</p>
  </form>
</template>
