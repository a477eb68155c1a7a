<script setup lang="ts">
import type { EditedPage } from '@sammlung/contract';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import ClassChoice from '../../app/ClassChoice.vue';
import ReleaseFields from '../../app/ReleaseFields.vue';
import type { EntryPlaces } from './entries.ts';

/** On which pages a new entry is to be, under which heading, when, and for whom. */
defineProps<{ page: EditedPage }>();
const places = defineModel<EntryPlaces>({ required: true });
const { t } = useI18n();
/** A part of it by itself. */
const part = <K extends keyof EntryPlaces>(key: K) =>
  computed({
    get: () => places.value[key],
    set: (value) => (places.value = { ...places.value, [key]: value }),
  });
const [headingId, keepOnTop, release] = [part('headingId'), part('keepOnTop'), part('release')];
const classIds = computed({
  get: () => places.value.classIds,
  // Members are of one class.
  set: (ids) => (places.value = { ...places.value, classIds: ids, people: null }),
});
const people = computed({
  get: () => places.value.people ?? [],
  set: (ids) => (places.value = { ...places.value, people: ids }),
});
const forSome = computed({
  get: () => places.value.people !== null,
  set: (on) => (places.value = { ...places.value, people: on ? [] : null }),
});
</script>

<template>
  <div>
    <div class="mt-4 grid gap-x-8 gap-y-4 md:grid-cols-2">
      <ClassChoice v-model="classIds" :label="t('entry.pages')" :classes="page.classes" />
      <div>
        <label class="block text-meta text-soft"
          >{{ t('entry.under') }}
          <select
            v-model="headingId"
            :disabled="keepOnTop"
            class="mt-1 block h-10 w-full rounded-edge border border-line bg-raised px-2 text-[15px] text-ink pointer-coarse:h-11"
          >
            <option :value="null">{{ t('entry.no-heading') }}</option>
            <option v-for="heading in page.headings" :key="heading.id" :value="heading.id">
              {{ heading.title }}
            </option>
          </select>
        </label>
        <label class="mt-1 flex min-h-10 items-center gap-2 text-[15px] pointer-coarse:min-h-11">
          <input v-model="keepOnTop" type="checkbox" class="size-5 accent-(--action)" />{{
            t('entry.on-top')
          }}
        </label>
      </div>
    </div>
    <ReleaseFields v-model="release" class="mt-4" :label="t('entry.when')" />
    <label
      v-if="classIds.length === 1"
      class="mt-3 flex min-h-10 items-center gap-2 text-[15px] pointer-coarse:min-h-11"
    >
      <input v-model="forSome" type="checkbox" class="size-5 accent-(--action)" />{{
        t('entry.for-some')
      }}
    </label>
    <div
      v-if="forSome"
      class="mt-1 grid max-h-56 gap-x-6 overflow-y-auto border border-line px-4 py-2 sm:grid-cols-2"
    >
      <label
        v-for="member in page.members"
        :key="member.id"
        class="flex min-h-9 items-center gap-2 text-[15px] pointer-coarse:min-h-11"
      >
        <input
          v-model="people"
          type="checkbox"
          :value="member.id"
          class="size-5 accent-(--action)"
        />{{ member.name }}
      </label>
    </div>
  </div>
</template>
