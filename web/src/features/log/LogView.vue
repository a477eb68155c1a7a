<script setup lang="ts">
import { refDebounced } from '@vueuse/core';
import { computed, onMounted, ref, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink, useRoute } from 'vue-router';
import { useFormat } from '../../app/format.ts';
import IndexTab from '../../app/IndexTab.vue';
import PageState from '../../app/PageState.vue';
import { useSession } from '../../app/session/session.ts';
import AppButton from '../../ui/AppButton.vue';
import { FIELD } from '../../ui/field.ts';
import { logLines, type LogLine } from './lines.ts';
import { useLog } from './log.ts';
import { useLogWords } from './words.ts';

/** Who changed what others see, by days: for teachers what is theirs, for the office lists, roles and years. */
const { t } = useI18n();
const { dayHeading, time } = useFormat();
const session = useSession();
const route = useRoute();
const { sentence, more } = useLogWords();

const office = computed(() => session.person?.kind === 'office');
const thing = ref('');
const who = ref('');
const day = ref('');
const [things, people] = [refDebounced(thing, 150), refDebounced(who, 150)];
/** One folder alone, where that was asked for beside it. */
const folder = computed(() => {
  const { folder: id, title } = route.query;
  return typeof id === 'string' ? { id, title: typeof title === 'string' ? title : '' } : null;
});
const query = useLog(() => ({
  thing: things.value.trim() || undefined,
  who: people.value.trim() || undefined,
  day: day.value || undefined,
  folder: folder.value?.id,
}));
const entries = computed(() => query.data.value?.pages.flatMap((page) => page.entries) ?? []);
const narrowed = computed(() => [thing.value, who.value].some((x) => x.trim()) || day.value !== '');
const days = computed(() => {
  const found = new Map<string, LogLine[]>();
  for (const line of logLines(entries.value)) {
    const words = dayHeading(line.first.at);
    found.set(words, [...(found.get(words) ?? []), line]);
  }
  return [...found];
});
const open = ref<ReadonlySet<number>>(new Set());
function turn(id: number) {
  const next = new Set(open.value);
  if (!next.delete(id)) next.add(id);
  open.value = next;
}
const first = useTemplateRef('first');
onMounted(() => first.value?.focus());
</script>

<template>
  <div class="mx-auto w-full max-w-4xl px-5 py-7 sm:px-10">
    <h1 class="text-[28px]">{{ t('shell.log') }}</h1>
    <p class="mt-1 text-soft">{{ t(office ? 'log.text-office' : 'log.text') }}</p>
    <p v-if="folder" class="mt-3 flex flex-wrap items-center gap-x-3 gap-y-1">
      <span>{{ t('log.only', { title: folder.title }) }}</span>
      <RouterLink
        :to="{ name: 'log' }"
        class="font-semibold text-petrol underline underline-offset-2"
        >{{ t('log.all') }}</RouterLink
      >
    </p>
    <form
      class="mt-5 grid items-end gap-3 sm:grid-cols-[1fr_1fr_11rem]"
      role="search"
      :aria-label="t('log.find')"
      @submit.prevent
    >
      <label class="block"
        ><span class="block text-meta text-soft">{{
          t(office ? 'log.thing-office' : 'log.thing')
        }}</span
        ><input ref="first" v-model="thing" type="search" maxlength="200" :class="FIELD"
      /></label>
      <label class="block"
        ><span class="block text-meta text-soft">{{ t('log.who') }}</span
        ><input v-model="who" type="search" maxlength="200" :class="FIELD"
      /></label>
      <label class="block"
        ><span class="block text-meta text-soft">{{ t('log.day') }}</span
        ><input v-model="day" type="date" :class="FIELD"
      /></label>
    </form>

    <PageState v-if="!query.data.value" :error="query.error.value" @again="query.refetch()" />
    <p
      v-else-if="entries.length === 0"
      class="mt-6 border-t border-line py-6 text-soft"
      role="status"
    >
      {{ t(narrowed ? 'log.none-found' : 'log.none') }}
    </p>
    <section v-for="[words, lines] in days" :key="words" class="mt-7">
      <h2 class="text-[19px]">{{ words }}</h2>
      <ul class="mt-2 border-b border-line">
        <li
          v-for="line in lines"
          :key="line.first.id"
          class="grid grid-cols-[3.5rem_1fr_auto] items-baseline gap-x-3 border-t border-line px-1 py-2.5"
        >
          <span class="font-code text-meta text-soft">{{ time(line.first.at) }}</span>
          <div class="min-w-0">
            <p class="break-words">
              <RouterLink
                v-if="line.all.length === 1 && line.first.thing?.path"
                :to="line.first.thing.path"
                class="font-semibold hover:text-petrol hover:underline"
                >{{ sentence(line) }}</RouterLink
              >
              <button
                v-else-if="line.all.length > 1"
                type="button"
                class="text-left font-semibold hover:text-petrol"
                :aria-expanded="open.has(line.first.id)"
                @click="turn(line.first.id)"
              >
                {{ sentence(line) }}
                <span aria-hidden="true">{{ open.has(line.first.id) ? '▴' : '▾' }}</span>
              </button>
              <span v-else class="font-semibold">{{ sentence(line) }}</span>
            </p>
            <p class="text-meta text-soft">
              {{ line.first.by ?? t('log.nobody')
              }}<template v-if="more(line)"> · {{ more(line) }}</template>
            </p>
            <ul v-if="open.has(line.first.id)" class="mt-1.5 space-y-1 text-[15px]">
              <li v-for="one in line.all" :key="one.id">
                <RouterLink
                  v-if="one.thing?.path"
                  :to="one.thing.path"
                  class="underline-offset-2 hover:text-petrol hover:underline"
                  >{{ one.thing.title }}</RouterLink
                >
                <template v-else>{{ one.thing?.title ?? one.person }}</template>
              </li>
            </ul>
          </div>
          <IndexTab
            v-if="line.first.class"
            plain
            :tab="{
              kind: 'class',
              label: line.first.class.code,
              colour: line.first.class.colour,
              from: null,
              state: 'out',
            }"
          />
        </li>
      </ul>
    </section>
    <AppButton v-if="query.hasNextPage.value" class="mt-4" @click="query.loadNextPage()">{{
      t('log.more')
    }}</AppButton>
  </div>
</template>
