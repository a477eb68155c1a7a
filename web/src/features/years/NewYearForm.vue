<script setup lang="ts">
import type { YearProposal, YearRow } from '@sammlung/contract';
import { computed, onMounted, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import PageState from '../../app/PageState.vue';
import { say } from '../../app/shell/toast.ts';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';
import DaysFields from './DaysFields.vue';

/** A new year after another one: its days, and which courses and classes there are again. */
const { after } = defineProps<{ after: YearRow }>();
const emit = defineEmits<{ done: []; close: [] }>();
const { t } = useI18n();
const days = ref({ label: '', firstDay: '', lastDay: '' });
/** The courses of the year before; each class that is wanted again, by the code it gets. */
const courses = ref<YearProposal['courses'] | null>(null);
const codes = ref(new Map<string, string>());
const failed = ref<Error | null>(null);
const { fault, busy, tried } = useSubmit();

async function load() {
  failed.value = null;
  try {
    const { courses: found, ...proposed } = await api('GET /api/years/:year/next', {
      params: { year: after.id },
    });
    days.value = proposed;
    codes.value = new Map(
      found.flatMap(({ classes }) => classes.map(({ id, code }) => [id, code] as const)),
    );
    courses.value = found;
  } catch (error) {
    failed.value = error as Error;
  }
}
onMounted(load);

const wanted = computed(() =>
  (courses.value ?? []).flatMap(({ id, classes }) => {
    const again = classes.flatMap((one) => {
      const code = codes.value.get(one.id)?.trim();
      return code === undefined ? [] : [{ from: one.id, code }];
    });
    return again.length > 0 ? [{ from: id, classes: again }] : [];
  }),
);
const count = computed(() => wanted.value.reduce((sum, { classes }) => sum + classes.length, 0));
function choose({ id, code }: { id: string; code: string }, is: boolean) {
  if (is) codes.value.set(id, code);
  else codes.value.delete(id);
}

async function make() {
  const made = await tried(() =>
    api('POST /api/years', { body: { ...days.value, courses: wanted.value } }),
  );
  if (!made) return;
  say({ text: t('years.made', { label: days.value.label, n: count.value }, count.value) });
  emit('done');
}
</script>

<template>
  <form
    class="rounded-lg border border-line bg-raised px-5 py-4"
    :aria-label="t('years.add')"
    @submit.prevent="make"
  >
    <PageState v-if="!courses" :error="failed" @again="load" />
    <template v-else>
      <DaysFields v-model="days" />
      <p class="mt-5 text-soft">{{ t('years.again', { label: after.label }) }}</p>
      <ul class="mt-2">
        <li
          v-for="course in courses"
          :key="course.id"
          class="grid gap-x-6 gap-y-1 border-t border-line py-2.5 sm:grid-cols-[1fr_1.3fr]"
        >
          <span
            ><span class="block font-semibold">{{ course.title }}</span
            ><span class="block text-meta text-soft">{{ course.teachers.join(', ') }}</span></span
          >
          <span class="flex flex-wrap gap-x-5 gap-y-1.5">
            <span v-for="one in course.classes" :key="one.id" class="flex items-center gap-2">
              <input
                type="checkbox"
                class="size-5 accent-action"
                :aria-label="t('years.class-again', { code: one.code })"
                :checked="codes.has(one.id)"
                @change="choose(one, ($event.target as HTMLInputElement).checked)"
              />
              <input
                class="h-9 w-24 rounded-edge border border-line bg-sheet px-2 font-code text-[15px] disabled:opacity-50 pointer-coarse:h-11"
                maxlength="12"
                required
                :aria-label="t('years.code-of', { code: one.code })"
                :disabled="!codes.has(one.id)"
                :value="codes.get(one.id) ?? one.code"
                @input="codes.set(one.id, ($event.target as HTMLInputElement).value)"
              />
            </span>
          </span>
        </li>
      </ul>
      <p class="mt-3 text-meta text-soft">{{ t('years.nobody-yet') }}</p>
      <p role="alert" class="mt-2 font-medium text-brick-ink empty:hidden">{{ fault }}</p>
      <div class="mt-4 flex gap-2">
        <AppButton tone="main" submits :disabled="busy">{{
          t('years.make', { n: count }, count)
        }}</AppButton>
        <AppButton :disabled="busy" @click="emit('close')">{{ t('common.cancel') }}</AppButton>
      </div>
    </template>
  </form>
</template>
