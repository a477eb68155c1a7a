<script setup lang="ts">
import type { CarryPlan, CarryYear } from '@sammlung/contract';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import IndexTab from '../../app/IndexTab.vue';
import FolderPlace from './FolderPlace.vue';

/** What is carried over: which classes take the place of which, and what comes along. */
const { from, to } = defineProps<{ from: CarryYear; to: CarryYear }>();
const plan = defineModel<CarryPlan>({ required: true });
const { t } = useI18n();

const change = (facts: Partial<CarryPlan>) => (plan.value = { ...plan.value, ...facts });
const nextOf = (id: string) => plan.value.classes.find((one) => one.from === id)?.to ?? [];
function follow(id: string, next: string) {
  const now = nextOf(id);
  const other = now.includes(next) ? now.filter((one) => one !== next) : [...now, next];
  change({
    classes: plan.value.classes.map((one) => (one.from === id ? { from: id, to: other } : one)),
  });
}
function toggle(part: 'folders' | 'pages' | 'boxes', id: string) {
  const now = plan.value[part];
  change({ [part]: now.includes(id) ? now.filter((one) => one !== id) : [...now, id] });
}
const tabOf = ({ code, colour }: { code: string; colour: CarryYear['classes'][0]['colour'] }) => ({
  ...{ kind: 'class' as const, label: code, colour, from: null, state: 'out' as const },
});
const codes = computed(() => new Map(from.classes.map((one) => [one.id, one])));
/** A class without anybody after it takes nothing along but its folders. */
const followed = (id: string) => nextOf(id).length > 0;
const things = computed(() =>
  from.classes.flatMap((one) =>
    followed(one.id)
      ? [
          ...(one.entries > 0
            ? [
                {
                  part: 'pages' as const,
                  id: one.id,
                  one,
                  title: t('carry-over.page'),
                  much: t('carry-over.entries', one.entries),
                },
              ]
            : []),
          ...one.boxes.map(({ id, title }) => ({
            ...{ part: 'boxes' as const, id, one, title, much: t('carry-over.box') },
          })),
        ]
      : [],
  ),
);
const ROW =
  'flex min-h-9 cursor-pointer items-center gap-2.5 rounded-edge px-2 py-1 hover:bg-paper pointer-coarse:min-h-11';
</script>

<template>
  <form class="grid gap-6" :aria-label="t('carry-over.what')" @submit.prevent>
    <fieldset v-if="from.classes.length > 0">
      <legend class="mb-1 font-semibold">{{ t('carry-over.classes') }}</legend>
      <ul class="border-b border-line">
        <li
          v-for="one in from.classes"
          :key="one.id"
          class="flex items-center gap-3 border-t border-line py-2"
        >
          <span class="w-28 shrink-0"
            ><IndexTab :tab="tabOf(one)" plain />
            <span class="block truncate text-meta text-soft" :title="one.course">{{
              one.course
            }}</span></span
          >
          <span aria-hidden="true" class="text-soft">→</span>
          <span
            role="group"
            class="flex flex-1 flex-wrap gap-1.5"
            :aria-label="t('carry-over.next-of', { code: one.code })"
          >
            <button
              v-for="next in to.classes"
              :key="next.id"
              type="button"
              class="min-h-8 rounded-edge border px-2 font-code text-[13px] font-semibold pointer-coarse:min-h-11"
              :class="
                nextOf(one.id).includes(next.id)
                  ? 'border-petrol bg-petrol-pale text-petrol'
                  : 'border-line bg-raised text-soft hover:border-petrol hover:text-petrol'
              "
              :aria-pressed="nextOf(one.id).includes(next.id)"
              :title="next.course"
              @click="follow(one.id, next.id)"
            >
              {{ next.code }}
            </button>
          </span>
        </li>
      </ul>
    </fieldset>
    <fieldset>
      <legend class="mb-1 font-semibold">{{ t('carry-over.folders') }}</legend>
      <p v-if="from.folders.length === 0" class="text-soft">{{ t('carry-over.no-folders') }}</p>
      <label v-for="folder in from.folders" :key="folder.id" :class="ROW">
        <input
          type="checkbox"
          class="size-4 shrink-0 accent-(--action)"
          :checked="plan.folders.includes(folder.id)"
          @change="toggle('folders', folder.id)"
        />
        <span class="min-w-0 flex-1 leading-snug"
          ><span class="mr-2">{{ folder.mark }} {{ folder.title }}</span
          ><IndexTab
            v-for="id in folder.classes"
            :key="id"
            class="mr-1"
            :tab="tabOf(codes.get(id) ?? { code: '?', colour: 'slate' })"
            plain
          />
          <span class="block text-meta text-soft"
            >{{ t('count.folders', folder.folders) }}, {{ t('count.things', folder.things) }}</span
          ></span
        >
      </label>
    </fieldset>
    <fieldset v-if="things.length > 0">
      <legend class="mb-1 font-semibold">{{ t('carry-over.pages') }}</legend>
      <label v-for="thing in things" :key="thing.id" :class="ROW">
        <input
          type="checkbox"
          class="size-4 shrink-0 accent-(--action)"
          :checked="plan[thing.part].includes(thing.id)"
          @change="toggle(thing.part, thing.id)"
        />
        <IndexTab :tab="tabOf(thing.one)" plain />
        <span class="flex-1"
          >{{ thing.title }} <span class="text-meta text-soft">· {{ thing.much }}</span></span
        >
      </label>
      <p class="mt-1 px-2 text-meta text-soft">{{ t('carry-over.drafts') }}</p>
    </fieldset>
    <FolderPlace :into="plan.into" @choose="change({ into: $event })" />
    <label class="flex cursor-pointer items-start gap-2.5">
      <input
        type="checkbox"
        class="mt-1 size-4 shrink-0 accent-(--action)"
        :checked="plan.handOut"
        @change="change({ handOut: !plan.handOut })"
      />
      <span
        >{{ t('carry-over.hand-out') }}
        <span class="block text-meta text-soft">{{ t('carry-over.hand-out-text') }}</span></span
      >
    </label>
  </form>
</template>
