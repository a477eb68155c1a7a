<script setup lang="ts">
import type { EditedPage } from '@sammlung/contract';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import IndexTab from '../../app/IndexTab.vue';
import RowMenu from '../../ui/RowMenu.vue';
import { heldAt, vCarry, vPlace, type Place } from './drag.ts';
import type { useEditedPage } from './entries.ts';

/** The head of a part of the page of a class; that of a heading can be moved, changed and removed. */
const { page, id, title, act } = defineProps<{
  page: EditedPage;
  /** Of the heading; anything else for the shelf, and for what has no heading. */
  id: string;
  title: string;
  act: ReturnType<typeof useEditedPage>['act'];
}>();
const emit = defineEmits<{ change: [] }>();
const { t } = useI18n();
const ids = computed(() => page.headings.map((one) => one.id));
const at = computed(() => ids.value.indexOf(id));
const heading = computed(() => page.headings[at.value] ?? null);

/** Moves a heading before another one (null: after all). */
const move = (moved: string, before: string | null) =>
  act(
    t('entry.moved', { title: page.headings.find((one) => one.id === moved)?.title ?? '' }),
    async () => {
      const was = ids.value[ids.value.indexOf(moved) + 1] ?? null;
      const put = (to: string | null) =>
        api('POST /api/headings/:heading/move', {
          params: { heading: moved },
          body: { before: to },
        });
      await put(before);
      return () => put(was);
    },
  );
const remove = () =>
  act(t('entry.heading.removed', { title }), async () => {
    const params = { heading: id };
    await api('DELETE /api/headings/:heading', { params });
    return () => api('POST /api/headings/:heading/restore', { params });
  });
/** Where another heading can be dropped: beside this one. */
const place = computed((): Place | null =>
  heading.value
    ? {
        takes: 'heading',
        key: id,
        drop(dropped, side) {
          const before = side === 'before' ? id : (ids.value[at.value + 1] ?? null);
          if (before !== dropped) void move(dropped, before);
        },
      }
    : null,
);
const actions = () => [
  { name: 'change', text: t('entry.heading.change') },
  ...(at.value > 0 ? [{ name: 'up', text: t('entry.menu.up') }] : []),
  ...(at.value < ids.value.length - 1 ? [{ name: 'down', text: t('entry.menu.down') }] : []),
  { name: 'remove', text: t('entry.heading.remove') },
];
function run(name: string) {
  if (name === 'change') emit('change');
  if (name === 'up') void move(id, ids.value[at.value - 1]!);
  if (name === 'down') void move(id, ids.value[at.value + 2] ?? null);
  if (name === 'remove') void remove();
}
</script>

<template>
  <div v-place="place" class="flex items-end gap-2" :class="heldAt(id)">
    <h2
      v-carry="heading && { kind: 'heading', id }"
      class="flex items-center gap-2.5 rounded-t-lg border border-b-0 border-line bg-raised px-5 pt-2 pb-1.5 text-[19px]"
      :class="{ 'text-soft': !heading }"
    >
      <template v-if="heading">
        <span
          class="h-5 w-1.5 rounded-full"
          :style="{ background: `var(--${heading.colour ?? page.colour})` }"
          aria-hidden="true"
        />
        <span v-if="heading.mark" class="font-mark" aria-hidden="true">{{ heading.mark }}</span>
        <template v-if="page.numbered">{{ at + 1 }}</template>
      </template>
      {{ title }}
      <IndexTab
        v-if="page.website && heading?.onWebsite"
        :tab="{ kind: page.website, label: '', colour: null, state: 'out', from: null }"
        :title="t('website.here')"
      />
    </h2>
    <RowMenu
      v-if="heading"
      :label="t('entry.heading.actions', { title })"
      :actions="actions"
      @act="run"
    />
  </div>
</template>
