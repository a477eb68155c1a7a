<script setup lang="ts">
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue';
import { Ellipsis } from 'lucide-vue-next';
import { nextTick, ref, useTemplateRef } from 'vue';

/**
 * What can be done with a row, asked for when the menu opens. An action is a link, or is told by its name. The menu
 * itself is made when somebody comes near its button: a long list has hundreds of buttons and needs one menu.
 */
defineProps<{
  label: string;
  actions: () => readonly { name: string; text: string; href?: string; keys?: string }[];
}>();
const emit = defineEmits<{ act: [name: string] }>();

const near = ref(false);
const button = useTemplateRef<{ $el: HTMLElement }>('button');
async function make(then?: 'focus' | 'click') {
  near.value = true;
  await nextTick();
  if (then) button.value?.$el[then]();
}
function focused(event: FocusEvent) {
  // A finger or a mouse gives the focus, too; they have a way of their own.
  if ((event.target as HTMLElement).matches(':focus-visible')) void make('focus');
}
const look =
  'grid size-8 place-items-center rounded-edge text-soft hover:bg-mark hover:text-ink pointer-coarse:size-11';
</script>

<template>
  <Menu v-if="near" as="span" class="relative">
    <MenuButton ref="button" :class="look" :aria-label="label">
      <Ellipsis :size="18" aria-hidden="true" />
    </MenuButton>
    <MenuItems
      class="absolute top-full right-0 z-30 mt-1 w-60 rounded-lg border border-line bg-raised py-1.5 shadow-xl outline-none"
    >
      <MenuItem v-for="action in actions()" :key="action.name" v-slot="{ active }">
        <component
          :is="action.href ? 'a' : 'button'"
          :href="action.href"
          :download="action.href && ''"
          :type="action.href ? undefined : 'button'"
          class="flex min-h-9 w-full items-center justify-between px-3.5 text-left text-[15px] pointer-coarse:min-h-11"
          :class="{ 'bg-petrol-pale': active }"
          @click="action.href || emit('act', action.name)"
        >
          {{ action.text }}
          <kbd v-if="action.keys" class="font-code text-[12px] text-soft">{{ action.keys }}</kbd>
        </component>
      </MenuItem>
    </MenuItems>
  </Menu>
  <span v-else class="relative">
    <button
      type="button"
      :class="look"
      aria-haspopup="menu"
      aria-expanded="false"
      :aria-label="label"
      @pointerenter="$event.pointerType === 'mouse' && make()"
      @focus="focused"
      @click="make('click')"
    >
      <Ellipsis :size="18" aria-hidden="true" />
    </button>
  </span>
</template>
