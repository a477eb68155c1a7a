<script setup lang="ts">
import { useQuery } from '@pinia/colada';
import { useLocalStorage } from '@vueuse/core';
import { Check } from 'lucide-vue-next';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink, type RouteLocationRaw } from 'vue-router';
import { api } from './api/api.ts';
import { useSession } from './session/session.ts';
import { useTree } from './tree.ts';

/** What is to be done first where there is little yet, for the office or a teacher, until all of it is done or they put it away. */
const { t } = useI18n();
const session = useSession();
const office = session.person?.kind === 'office';
const away = useLocalStorage(`first-steps-away ${session.person?.id}`, false);
const courses = useQuery({ key: ['courses'], query: () => api('GET /api/courses') });
const days = useQuery({
  key: ['school-days'],
  query: () => api('GET /api/school-days'),
  enabled: office,
});
const tree = office ? null : useTree();

interface Step {
  readonly name: string;
  readonly done: boolean;
  readonly to: RouteLocationRaw;
}
const steps = computed<Step[]>(() => {
  const data = courses.data.value;
  if (!data) return [];
  const classes = data.courses.flatMap((course) => course.classes);
  if (office) {
    if (!days.data.value) return [];
    return [
      { name: 'days', done: days.data.value.days.length > 0, to: { name: 'school-days' } },
      { name: 'teachers', done: data.teachers.length > 0, to: { name: 'people' } },
      { name: 'classes', done: classes.length > 0, to: { name: 'classes' } },
    ];
  }
  if (!tree?.data.value) return [];
  const empty = classes.find(({ students }) => students === 0) ?? classes[0];
  const list: RouteLocationRaw = empty
    ? { name: 'class-list', params: { class: empty.id } }
    : { name: 'classes' };
  return [
    { name: 'class', done: classes.length > 0, to: { name: 'classes' } },
    { name: 'list', done: classes.some(({ students }) => students > 0), to: list },
    { name: 'folder', done: tree.data.value.folders.length > 0, to: { name: 'library' } },
    { name: 'hand-out', done: classes.some(({ folders }) => folders > 0), to: { name: 'library' } },
  ];
});
const next = computed(() => steps.value.findIndex(({ done }) => !done));
</script>

<template>
  <section
    v-if="!away && next >= 0"
    class="mt-5 rounded-lg border border-line bg-raised px-5 pt-4 pb-3"
    aria-labelledby="first-steps"
  >
    <div class="flex items-baseline gap-3">
      <h2 id="first-steps" class="flex-1 text-[19px]">{{ t('first.title') }}</h2>
      <button
        type="button"
        class="min-h-9 text-meta text-petrol underline underline-offset-2 pointer-coarse:min-h-11"
        @click="away = true"
      >
        {{ t('first.away') }}
      </button>
    </div>
    <ol class="mt-1">
      <li
        v-for="(step, n) in steps"
        :key="step.name"
        class="flex min-h-12 items-center gap-3.5 border-t border-line py-2 first:border-t-0"
      >
        <span
          class="grid size-7 shrink-0 place-items-center rounded-edge font-code text-[13px] font-semibold"
          :class="
            step.done
              ? 'bg-mark text-soft'
              : n === next
                ? 'bg-saffron text-[#1f2a2e]'
                : 'border border-line text-soft'
          "
        >
          <Check v-if="step.done" :size="16" aria-hidden="true" />
          <template v-else>{{ n + 1 }}</template>
        </span>
        <span class="min-w-0 flex-1">
          <span v-if="step.done" class="text-soft"
            >{{ t(`first.${step.name}.title`)
            }}<span class="sr-only"> {{ t('first.done') }}</span></span
          >
          <RouterLink
            v-else
            :to="step.to"
            class="font-semibold underline decoration-line underline-offset-4 hover:text-petrol hover:decoration-petrol"
            >{{ t(`first.${step.name}.title`) }}</RouterLink
          >
          <span v-if="n === next" class="block text-meta text-soft">{{
            t(`first.${step.name}.text`)
          }}</span>
        </span>
      </li>
    </ol>
  </section>
</template>
