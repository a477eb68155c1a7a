<script setup lang="ts">
import { Pin } from 'lucide-vue-next';
import { useI18n } from 'vue-i18n';
import IndexTab from '../../app/IndexTab.vue';
import ItemLink from '../../ui/ItemLink.vue';
import KindMark from '../../ui/KindMark.vue';
import SmallPicture from '../../app/SmallPicture.vue';
import RowMenu from '../../ui/RowMenu.vue';
import { over, vDrag, vInto } from './drag.ts';
import NameLine from '../../app/NameLine.vue';
import { chooses, useRowFacts, type RowAct, type RowEvents, type RowProps } from './rowFacts.ts';

/** One tile of the Library: a picture, the name below it, and the index tabs along its top like those of a card. */
const { row, mayChange, manages, dragging } = defineProps<RowProps>();
const emit = defineEmits<RowEvents>();
const { t } = useI18n();
const { tabs, when, to, below, onTop, acts, actions } = useRowFacts(
  () => row,
  () => mayChange,
  () => manages,
);

const click = (event: MouseEvent) => chooses(event) && emit('choose', event);
</script>

<template>
  <div
    v-into="drop"
    role="listitem"
    class="group/row relative flex min-w-0 flex-col rounded-lg border border-line bg-raised hover:border-petrol"
    :class="{
      'border-petrol bg-petrol-pale/60': chosen,
      'italic outline-1 outline-soft outline-dashed': cut,
      'shadow-[inset_0_0_0_2px_var(--petrol)]': over?.key === row.id && over.part === 'into',
      'shadow-[-4px_0_0_-1px_var(--petrol)]': over?.key === row.id && over.part === 'before',
      'shadow-[4px_0_0_-1px_var(--petrol)]': over?.key === row.id && over.part === 'after',
    }"
  >
    <NameLine
      v-if="renaming"
      class="p-2"
      :was="row.title"
      :label="t('library.new-name', { title: row.title })"
      :yes="t('library.rename')"
      :act="rename"
      @done="emit('named')"
    />
    <ItemLink
      v-else
      v-drag="dragging"
      :kind="row.item?.kind ?? 'folder'"
      :url="row.item?.url"
      :to="to"
      class="flex min-w-0 flex-1 flex-col"
      @click="click"
    >
      <span
        class="grid h-28 place-items-center overflow-hidden rounded-t-[7px] border-b border-line bg-paper"
      >
        <SmallPicture v-if="row.item" :item="row.item" />
        <KindMark
          v-else
          kind="folder"
          :mark="row.folder?.mark"
          :colour="row.folder?.colour"
          large
        />
      </span>
      <span class="min-w-0 flex-1 px-2.5 pt-1.5 pb-2">
        <span
          class="line-clamp-2 text-[15px] leading-snug font-semibold group-hover/row:text-petrol"
        >
          <Pin
            v-if="onTop"
            :size="12"
            class="mr-0.5 inline text-soft"
            :aria-label="t('library.on-top')"
          />{{ row.title }}
        </span>
        <span class="block truncate text-[13px] text-soft">{{ below }}</span>
        <span v-if="row.item?.alsoIn?.length" class="block truncate text-[13px] text-soft">{{
          t('item.also-in', { title: row.item.alsoIn.map((other) => other.title).join(', ') })
        }}</span>
      </span>
    </ItemLink>
    <span class="pointer-events-none absolute inset-x-0 top-0 flex items-start gap-1 p-1.5">
      <label
        v-if="mayChange"
        class="pointer-events-auto grid size-6 cursor-pointer place-items-center rounded-[4px] bg-sheet opacity-0 group-focus-within/row:opacity-100 group-hover/row:opacity-100 pointer-coarse:opacity-100"
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
      <span class="flex-1" />
      <RowMenu
        v-if="acts"
        class="pointer-events-auto rounded-edge bg-sheet/90"
        :label="t('library.actions', { title: row.title })"
        :actions="actions"
        @act="emit('act', $event as RowAct)"
      />
    </span>
    <span class="flex flex-wrap items-center gap-[3px] px-2.5 pb-2">
      <IndexTab v-for="tab in tabs" :key="tab.id" :tab="tab" />
      <span v-if="tabs.length === 0" class="text-[13px]" :class="when.tone">{{ when.text }}</span>
    </span>
  </div>
</template>
