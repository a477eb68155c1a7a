<script setup lang="ts">
import type { Colour } from '@sammlung/contract';
import { computed, onMounted, ref, shallowRef } from 'vue';
import { useI18n } from 'vue-i18n';
import AppButton from '../../ui/AppButton.vue';
import { COLOURS } from '../../ui/tabColour.ts';
import ModalSheet from '../../ui/ModalSheet.vue';

/** Chooses the mark of a folder, an emoji found by its name, and its colour. */
const { title, mark, colour } = defineProps<{
  title: string;
  mark: string | null;
  colour: Colour | null;
}>();
const emit = defineEmits<{
  close: [];
  choose: [facts: { mark: string | null; colour: Colour | null }];
}>();
const { t } = useI18n();
const typed = ref('');
const chosen = ref({ mark, colour });

interface Emoji {
  readonly unicode: string;
  readonly label: string;
  readonly words: string;
}
const emojis = shallowRef<Emoji[]>([]);
/** Plants and things first, faces last: what folders are usually marked with. */
const GROUPS = [3, 7, 4, 6, 5, 8, 1, 0, 9];
onMounted(async () => {
  const { default: data } = await import('emojibase-data/en/compact.json');
  const rank = (group: number | undefined) => GROUPS.indexOf(group ?? -1);
  emojis.value = data
    .filter((e) => rank(e.group) >= 0)
    .sort((a, b) => rank(a.group) - rank(b.group) || (a.order ?? 0) - (b.order ?? 0))
    .map((e) => ({
      unicode: e.unicode,
      label: e.label,
      words: [e.label, ...(e.tags ?? [])].join(' ').toLowerCase(),
    }));
});
/** What handouts are often about stands first until something is typed. */
const USUAL = [...'🌱📝📚📓🔬🧪🔎📐📅📌⭐🔔❓🎧🎬🗺🧭🛠🏆🔑'];
const found = computed(() => {
  const words = typed.value.toLowerCase().split(/\s+/u).filter(Boolean);
  if (words.length === 0) {
    const usual = USUAL.flatMap(
      (sign) => emojis.value.find((e) => e.unicode.startsWith(sign)) ?? [],
    );
    return [...new Set([...usual, ...emojis.value])].slice(0, 240);
  }
  return emojis.value.filter((e) => words.every((w) => e.words.includes(w))).slice(0, 240);
});
</script>

<template>
  <ModalSheet :title="t('library.mark-title', { title })" @close="emit('close')">
    <div class="mt-4 flex items-center gap-3">
      <span
        class="grid size-14 place-items-center rounded-lg border border-line font-mark text-[28px]"
        :style="chosen.colour ? { color: `var(--${chosen.colour})` } : {}"
        aria-hidden="true"
        >{{ chosen.mark }}</span
      >
      <fieldset class="flex-1">
        <legend class="mb-1 text-meta text-soft">{{ t('library.colour') }}</legend>
        <div class="flex flex-wrap gap-1.5">
          <label
            v-for="name in [null, ...COLOURS]"
            :key="name ?? 'none'"
            class="relative grid size-8 cursor-pointer place-items-center rounded-full border-2 has-checked:border-ink has-focus-visible:outline-2 has-focus-visible:outline-saffron pointer-coarse:size-11"
            :class="chosen.colour === name ? 'border-ink' : 'border-transparent'"
            :title="t(`colour.${name ?? 'none'}`)"
          >
            <input
              v-model="chosen.colour"
              type="radio"
              name="colour"
              :value="name"
              class="absolute inset-0 cursor-pointer opacity-0"
            />
            <span
              class="size-6 rounded-full"
              :class="{ 'border border-line': name === null }"
              :style="name ? { background: `var(--${name})` } : {}"
            />
            <span class="sr-only">{{ t(`colour.${name ?? 'none'}`) }}</span>
          </label>
        </div>
      </fieldset>
    </div>
    <input
      v-model="typed"
      class="mt-4 h-10 w-full rounded-edge border border-line bg-raised px-3"
      :placeholder="t('library.mark-find')"
      :aria-label="t('library.mark-find')"
    />
    <div
      class="mt-2 grid h-[30vh] auto-rows-min grid-cols-[repeat(auto-fill,minmax(40px,1fr))] gap-1 overflow-y-auto rounded-edge border border-line bg-raised p-2"
      tabindex="-1"
    >
      <button
        v-for="emoji in found"
        :key="emoji.unicode"
        type="button"
        class="grid h-10 place-items-center rounded-edge font-mark text-[21px] hover:bg-petrol-pale"
        :class="{
          'bg-petrol-pale shadow-[inset_0_0_0_2px_var(--petrol)]': emoji.unicode === chosen.mark,
        }"
        :title="emoji.label"
        :aria-label="emoji.label"
        :aria-pressed="emoji.unicode === chosen.mark"
        @click="chosen.mark = emoji.unicode"
      >
        {{ emoji.unicode }}
      </button>
      <p v-if="emojis.length > 0 && found.length === 0" class="col-span-full p-2 text-soft">
        {{ t('library.mark-none') }}
      </p>
    </div>
    <div class="mt-5 flex flex-wrap gap-2">
      <AppButton tone="main" @click="emit('choose', chosen)">{{ t('common.save') }}</AppButton>
      <AppButton :disabled="!chosen.mark" @click="chosen.mark = null">{{
        t('library.mark-off')
      }}</AppButton>
      <AppButton @click="emit('close')">{{ t('common.cancel') }}</AppButton>
    </div>
  </ModalSheet>
</template>
