<script setup lang="ts">
import type { FindQuery, Hit } from '@sammlung/contract';
import {
  Combobox,
  ComboboxInput,
  ComboboxOption,
  ComboboxOptions,
  Dialog,
  DialogPanel,
  DialogTitle,
} from '@headlessui/vue';
import { useQuery } from '@pinia/colada';
import { computed, reactive } from 'vue';
import { useI18n } from 'vue-i18n';
import { useRouter } from 'vue-router';
import { api } from '../../app/api/api.ts';
import { explain } from '../../app/api/problems.ts';
import { useFinding } from '../../app/finding.ts';
import HitLine from '../../app/HitLine.vue';
import { useReturnFocus } from '../../ui/returnFocus.ts';

/** Finds folders, items and links by name and by what is written inside, as fast as somebody types. */
const emit = defineEmits<{ close: [] }>();
useReturnFocus();
const { t } = useI18n();
const router = useRouter();
type Kind = NonNullable<FindQuery['kind']>;
const KINDS: readonly Kind[] = [
  'folder',
  'pdf',
  'picture',
  'office',
  'sound',
  'video',
  'text',
  'link',
  'page',
];
const narrow = reactive<{
  kind: Kind | '';
  class: string;
  year: string;
  from: string;
  until: string;
}>({
  kind: '',
  class: '',
  year: '',
  from: '',
  until: '',
});

const filters = useQuery({
  key: ['find', 'filters'],
  query: () => api('GET /api/find/filters'),
});
const { typed, words, found, hits, enter } = useFinding(() => {
  const { kind, class: classId, year, from, until } = narrow;
  return {
    kind: kind || undefined,
    class: classId || undefined,
    year: year || undefined,
    from: from || undefined,
    until: until || undefined,
  };
}, open);
const status = computed(() => {
  if (words.value === '') return t('find.hint');
  if (found.error.value) return explain(t, found.error.value);
  if (!found.data.value) return t('common.loading');
  return found.data.value.more
    ? t('find.many', hits.value.length)
    : t('find.count', hits.value.length);
});

function open(hit: Hit | null) {
  if (!hit) return;
  if (hit.itemKind === 'link' && hit.url) window.open(hit.url, '_blank', 'noopener');
  else
    void router.push(
      hit.kind === 'folder'
        ? { name: 'folder', params: { folder: hit.id } }
        : { name: 'item', params: { placement: hit.id } },
    );
  emit('close');
}
const field = 'h-9 rounded-edge border border-line bg-raised px-2 text-[15px] pointer-coarse:h-11';
</script>

<template>
  <Dialog open class="relative z-50" @close="emit('close')">
    <div class="fixed inset-0 bg-[#0b1718]/55" aria-hidden="true" />
    <div class="fixed inset-0 flex items-start justify-center overflow-y-auto p-3 sm:pt-[8vh]">
      <DialogPanel
        class="flex max-h-[84vh] w-full max-w-3xl flex-col rounded-lg border border-line bg-sheet text-ink shadow-2xl"
      >
        <DialogTitle class="sr-only">{{ t('find.title') }}</DialogTitle>
        <Combobox
          as="div"
          class="flex min-h-0 flex-col"
          :model-value="null"
          nullable
          @update:model-value="open"
          @keydown.enter.capture="enter"
        >
          <div class="border-b border-line p-4">
            <ComboboxInput
              class="h-12 w-full rounded-edge border border-line bg-raised px-4 text-[19px]"
              :placeholder="t('find.placeholder')"
              :aria-label="t('find.placeholder')"
              :display-value="() => typed"
              autocomplete="off"
              @change="typed = $event.target.value"
            />
            <div class="mt-3 flex flex-wrap items-center gap-2">
              <select v-model="narrow.kind" :class="field" :aria-label="t('find.kind')">
                <option value="">{{ t('find.any-kind') }}</option>
                <option v-for="kind in KINDS" :key="kind" :value="kind">
                  {{ t(`find.kinds.${kind}`) }}
                </option>
              </select>
              <select
                v-if="filters.data.value?.classes.length"
                v-model="narrow.class"
                :class="field"
                :aria-label="t('find.class')"
              >
                <option value="">{{ t('find.any-class') }}</option>
                <option v-for="c in filters.data.value.classes" :key="c.id" :value="c.id">
                  {{ c.code }}
                </option>
              </select>
              <select
                v-if="filters.data.value?.years.length"
                v-model="narrow.year"
                :class="field"
                :aria-label="t('find.year')"
              >
                <option value="">{{ t('find.any-year') }}</option>
                <option v-for="y in filters.data.value.years" :key="y.id" :value="y.id">
                  {{ y.label }}
                </option>
              </select>
              <label class="flex items-center gap-1.5 text-meta text-soft"
                >{{ t('find.from') }}
                <input v-model="narrow.from" type="date" :class="field" />
              </label>
              <label class="flex items-center gap-1.5 text-meta text-soft"
                >{{ t('find.until') }}
                <input v-model="narrow.until" type="date" :class="field" />
              </label>
            </div>
          </div>
          <p role="status" class="px-5 pt-2.5 pb-1 text-meta text-soft">{{ status }}</p>
          <ComboboxOptions static class="min-h-0 overflow-y-auto px-2 pb-2">
            <ComboboxOption
              v-for="hit in hits"
              :key="hit.id"
              v-slot="{ active }"
              :value="hit"
              as="template"
            >
              <li
                class="flex cursor-pointer items-center gap-3 rounded-edge px-3 py-2"
                :class="{ 'bg-petrol-pale': active }"
              >
                <HitLine :hit="hit" />
              </li>
            </ComboboxOption>
          </ComboboxOptions>
        </Combobox>
      </DialogPanel>
    </div>
  </Dialog>
</template>
