<script setup lang="ts">
import type { CourseChange, CourseView, Teacher } from '@sammlung/contract';
import { ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';
import ColourPicker from '../../ui/ColourPicker.vue';
import { COLOURS } from '../../ui/tabColour.ts';
import { useRoster } from './roster.ts';

/** Title, colour and teachers of a course; or takes it away. */
const { course, teachers } = defineProps<{ course: CourseView; teachers: readonly Teacher[] }>();
const emit = defineEmits<{ done: []; remove: [] }>();
const { t } = useI18n();
const { change } = useRoster();
const title = ref(course.title);
const colour = ref(course.colour);
const chosen = ref(course.teachers.map((x) => x.id));
const { fault, tried } = useSubmit();

async function save() {
  const before = {
    title: course.title,
    colour: course.colour,
    ...(course.teachers.length > 0 && { teachers: course.teachers.map((x) => x.id) }),
  };
  const facts = { title: title.value, colour: colour.value, teachers: chosen.value };
  const send = (body: CourseChange) =>
    api('PATCH /api/courses/:course', { params: { course: course.id }, body });
  await tried(async () => {
    await change(send, facts, before, t('roster.changed', { name: title.value }));
    emit('done');
  });
}
</script>

<template>
  <form
    class="mt-3 rounded-lg border border-line bg-paper/60 p-4"
    @submit.prevent="save"
    @keydown.esc="emit('done')"
  >
    <div class="flex flex-wrap items-end gap-x-6 gap-y-3">
      <label class="block min-w-64 flex-1">
        <span class="text-meta text-soft">{{ t('roster.course-title') }}</span>
        <input
          v-model="title"
          required
          maxlength="60"
          class="mt-0.5 h-10 w-full rounded-edge border border-line bg-raised px-3"
        />
      </label>
      <ColourPicker v-model="colour" class="pb-1" :label="t('library.colour')" :colours="COLOURS" />
    </div>
    <fieldset class="mt-3">
      <legend class="text-meta text-soft">{{ t('roster.teachers') }}</legend>
      <div class="mt-1 flex max-h-40 flex-wrap gap-x-5 overflow-y-auto">
        <label
          v-for="teacher in teachers"
          :key="teacher.id"
          class="flex min-h-9 items-center gap-2"
        >
          <input
            v-model="chosen"
            type="checkbox"
            :value="teacher.id"
            class="size-5 accent-(--action)"
          />
          {{ teacher.name }}
        </label>
      </div>
    </fieldset>
    <div class="mt-3 flex flex-wrap gap-2">
      <AppButton tone="main" submits :disabled="chosen.length === 0 || title.trim() === ''">{{
        t('common.save')
      }}</AppButton>
      <AppButton @click="emit('done')">{{ t('common.cancel') }}</AppButton>
      <span class="flex-1" />
      <AppButton tone="warn" @click="emit('remove')">{{ t('roster.remove-course') }}</AppButton>
    </div>
    <p role="alert" class="mt-2 text-meta font-medium text-brick-ink empty:hidden">{{ fault }}</p>
  </form>
</template>
