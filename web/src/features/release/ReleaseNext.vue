<script setup lang="ts">
import type { FolderRow, ItemRow, Thing, Timing } from '@sammlung/contract';
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue';
import { computed, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { useChanging } from '../../app/changing.ts';
import { say } from '../../app/shell/toast.ts';
import IndexTab from '../../app/IndexTab.vue';
import { OUT, timingOf, useReleasing } from './timing.ts';

/** Lets the first thing of a folder out that is held back: the key after the quiz. For all, or for one class. */
const { rows } = defineProps<{
  rows: readonly (Thing & {
    title: string;
    folder?: FolderRow | undefined;
    item?: ItemRow | undefined;
  })[];
}>();
const { t } = useI18n();
const { attempt } = useChanging();
const { release } = useReleasing();
const next = computed(() => rows.find((row) => (row.folder ?? row.item)?.release?.held));

/** The classes that may have it, asked for when somebody comes near. */
const classes = ref<Timing['classes']>([]);
async function look() {
  const row = next.value;
  if (!row) return;
  await attempt(async () => {
    classes.value = (await timingOf(row)).classes;
    return true;
  });
}

const letOut = (classId: string | null, to: string) =>
  attempt(async () => {
    const row = next.value;
    if (!row) return false;
    const rules = [{ classId, release: OUT }];
    const done = await release([{ kind: row.kind, id: row.id }], rules, t('timing.let-out'));
    if (!done) return false;
    const said = classId === null ? 'timing.is-out' : 'timing.is-out-for';
    say({ text: `${t(said, { title: row.title, name: to })}. ${done.text}`, undo: done.undo });
    return true;
  });
const choices = computed(() => [
  { id: null, code: t('timing.for-all-classes'), colour: null },
  ...classes.value.filter((c) => c.release === null || c.release.held),
]);
</script>

<template>
  <Menu
    v-if="next"
    as="div"
    class="relative flex items-center justify-between gap-3 border-t border-line py-1 text-[15px]"
  >
    <span class="min-w-0">
      <span class="block text-meta text-soft">{{ t('timing.held-next') }}</span>
      <span class="block truncate font-medium" :title="next.title">{{ next.title }}</span>
    </span>
    <MenuButton
      class="min-h-8 shrink-0 font-medium text-petrol underline underline-offset-2 pointer-coarse:min-h-11"
      :aria-label="t('timing.next', { title: next.title })"
      @click="look"
      >{{ t('timing.let-out-how') }}</MenuButton
    >
    <MenuItems
      class="absolute top-full right-0 z-30 mt-1 w-60 rounded-lg border border-line bg-raised py-1.5 shadow-xl outline-none"
    >
      <MenuItem v-for="choice in choices" :key="String(choice.id)" v-slot="{ active }">
        <button
          type="button"
          class="flex min-h-10 w-full items-center gap-2 px-3.5 text-left text-[15px] pointer-coarse:min-h-11"
          :class="{ 'bg-petrol-pale': active }"
          @click="letOut(choice.id, choice.code)"
        >
          <template v-if="choice.id === null">{{ choice.code }}</template>
          <template v-else>
            {{ t('timing.only-for') }}
            <IndexTab
              :tab="{
                kind: 'class',
                label: choice.code,
                colour: choice.colour,
                state: 'out',
                from: null,
              }"
              plain
            />
          </template>
        </button>
      </MenuItem>
    </MenuItems>
  </Menu>
</template>
