<script setup lang="ts">
import { Pin } from 'lucide-vue-next';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import IndexTab from '../../app/IndexTab.vue';
import ItemLink from '../../ui/ItemLink.vue';
import KindMark from '../../ui/KindMark.vue';
import RowMenu from '../../ui/RowMenu.vue';
import { over, vDrag, vInto } from './drag.ts';
import NameLine from '../../app/NameLine.vue';
import { chooses, useRowFacts, type RowAct, type RowEvents, type RowProps } from './rowFacts.ts';

/** One line of the Library: a folder or an item, with the index tabs of those who see it at its edge. */
const { row, inside = [], narrow, mayChange, manages, dragging } = defineProps<RowProps>();
const emit = defineEmits<RowEvents>();
const { t } = useI18n();
const { tabs, when, to, below, onTop, acts, actions } = useRowFacts(
  () => row,
  () => mayChange,
  () => manages,
);

const goesOn = computed(() => inside.length > 0 && !narrow);

const click = (event: MouseEvent) => chooses(event) && emit('choose', event);
</script>

<template>
  <div
    v-into="drop"
    role="listitem"
    class="group/row relative -ml-5 flex min-h-[52px] items-center border-t border-line pl-1 hover:bg-paper/70 sm:-ml-7 sm:pl-2"
    :class="{
      'bg-petrol-pale/60 hover:bg-petrol-pale/60': chosen,
      'bg-mark/50 italic outline-1 -outline-offset-1 outline-soft outline-dashed': cut,
      'shadow-[inset_0_0_0_2px_var(--petrol)]': over?.key === row.id && over.part === 'into',
      'shadow-[0_-2px_0_var(--petrol)]': over?.key === row.id && over.part === 'before',
      'shadow-[0_2px_0_var(--petrol)]': over?.key === row.id && over.part === 'after',
    }"
  >
    <label
      v-if="mayChange"
      class="grid size-5 shrink-0 cursor-pointer place-items-center opacity-0 group-focus-within/row:opacity-100 group-hover/row:opacity-100 focus-within:opacity-100 max-sm:mr-2 sm:size-6 pointer-coarse:opacity-100"
      :class="{ 'opacity-100': chosen || choosing }"
    >
      <input
        type="checkbox"
        tabindex="-1"
        class="size-[15px] cursor-pointer accent-(--action)"
        :checked="chosen"
        :aria-label="t('library.choose-one', { title: row.title })"
        @click="emit('choose', $event)"
      />
    </label>
    <span v-else class="w-4 sm:w-5" />
    <NameLine
      v-if="renaming"
      class="min-w-0 flex-1 py-1.5 pl-1"
      :was="row.title"
      :label="t('library.new-name', { title: row.title })"
      :yes="t('library.rename')"
      :act="rename"
      @done="emit('named')"
    />
    <template v-else>
      <span class="flex min-w-0 flex-1 flex-col items-start">
        <ItemLink
          v-drag="dragging"
          :kind="row.item?.kind ?? 'folder'"
          :url="row.item?.url"
          :to="to"
          class="flex max-w-full min-w-0 items-center gap-3 pt-1.5"
          :class="{ 'pb-1.5': !goesOn }"
          @click="click"
        >
          <span class="flex w-7 shrink-0 justify-center">
            <KindMark
              :kind="row.item?.kind ?? 'folder'"
              :extension="row.item?.extension"
              :mark="row.folder?.mark"
              :colour="row.folder?.colour"
            />
          </span>
          <span class="min-w-0">
            <span class="flex flex-wrap items-baseline gap-x-2">
              <span class="font-semibold group-hover/row:text-petrol">{{ row.title }}</span>
              <Pin
                v-if="onTop"
                :size="13"
                class="self-center text-soft"
                :aria-label="t('library.on-top')"
              />
              <span
                v-for="other in row.item?.alsoIn?.slice(0, 3)"
                :key="other.id"
                class="rounded-[4px] bg-mark px-1.5 text-[13px] text-mark-ink"
                >{{ t('item.also-in', { title: other.title }) }}</span
              >
              <span
                v-if="(row.item?.alsoIn?.length ?? 0) > 3"
                class="rounded-[4px] bg-mark px-1.5 text-[13px] text-mark-ink"
                >{{ t('item.also-more', row.item!.alsoIn!.length - 3) }}</span
              >
            </span>
            <span class="block text-meta text-soft">
              <span class="2xl:hidden" :class="when.tone">{{ when.text }} · </span>{{ below }}
            </span>
            <span v-if="narrow && tabs.length > 0" class="mt-1 flex flex-wrap gap-[3px]">
              <IndexTab v-for="tab in tabs" :key="tab.id" :tab="tab" />
            </span>
          </span>
        </ItemLink>
        <span
          v-if="goesOn"
          class="flex flex-wrap gap-x-4 pb-1.5 pl-10 text-[15px] leading-6 pointer-coarse:gap-x-6 pointer-coarse:pb-0"
        >
          <RouterLink
            v-for="folder in inside"
            :key="folder.id"
            :to="{ name: 'folder', params: { folder: folder.id } }"
            class="max-w-full truncate text-petrol hover:underline pointer-coarse:py-2.5"
            >{{ folder.title }}</RouterLink
          >
        </span>
      </span>
      <span class="hidden w-[150px] shrink-0 text-meta 2xl:block" :class="when.tone">{{
        when.text
      }}</span>
      <span
        class="flex shrink-0 items-center justify-end gap-[3px] pl-3"
        :class="{ over: beside && tabs.length > 0, 'pr-3': narrow }"
      >
        <RowMenu
          v-if="acts"
          :label="t('library.actions', { title: row.title })"
          :actions="actions"
          @act="emit('act', $event as RowAct)"
        />
        <template v-if="!narrow">
          <IndexTab v-for="tab in tabs" :key="tab.id" :tab="tab" class="edge" />
        </template>
      </span>
    </template>
  </div>
</template>

<style scoped>
/* The tabs stand out over the edge of the sheet, as on a card. */
.edge:last-child {
  border-top-right-radius: 0;
  border-bottom-right-radius: 0;
  padding-right: 16px;
}
@media (width >= 64rem) {
  .over {
    margin-right: -8px;
  }
}
</style>
