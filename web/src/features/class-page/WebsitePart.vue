<script setup lang="ts">
import type { Colour, EditedWebsite } from '@sammlung/contract';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import KindMark from '../../ui/KindMark.vue';
import type { WebsiteDraft } from './website.ts';

/** A heading that can be on the website of a class, and once it is, what of its entries is open to visitors. */
const { part, colour } = defineProps<{
  part: {
    id: string | null;
    title: string;
    mark: string | null;
    entries: EditedWebsite['entries'];
  };
  colour: Colour;
}>();
const draft = defineModel<WebsiteDraft>({ required: true });
const { t } = useI18n();

/** The same list with something put in or taken out. */
const turned = (list: readonly string[], id: string, on: boolean) =>
  on ? [...list, id] : list.filter((one) => one !== id);
const chosen = computed({
  get: () => (part.id === null ? draft.value.loose : draft.value.headings.includes(part.id)),
  set(on) {
    draft.value =
      part.id === null
        ? { ...draft.value, loose: on }
        : { ...draft.value, headings: turned(draft.value.headings, part.id, on) };
  },
});
const withText = (id: string, on: boolean) => {
  draft.value = { ...draft.value, texts: turned(draft.value.texts, id, on) };
};
type WebsiteThing = EditedWebsite['entries'][number]['things'][number];
const opens = ({ id }: WebsiteThing) => draft.value.open.some((one) => one.id === id);
function open({ kind, id }: WebsiteThing, on: boolean) {
  const others = draft.value.open.filter((one) => one.id !== id);
  draft.value = { ...draft.value, open: on ? [...others, { kind, id }] : others };
}
const isOn = (event: Event) => (event.target as HTMLInputElement).checked;
const TICK = 'flex min-h-9 items-center gap-2 pointer-coarse:min-h-11';
</script>

<template>
  <li class="border-t border-line py-1.5">
    <label :class="TICK" class="font-title text-[17px] font-semibold">
      <input v-model="chosen" type="checkbox" class="size-5 accent-(--action)" />
      <span
        class="h-5 w-1.5 rounded-full"
        :style="{ background: `var(--${colour})` }"
        aria-hidden="true"
      />
      <span v-if="part.mark" class="font-mark" aria-hidden="true">{{ part.mark }}</span>
      <span class="wrap-anywhere">{{ part.title }}</span>
    </label>
    <ul v-if="chosen" class="mb-2 pl-7">
      <li
        v-for="entry in part.entries"
        :key="entry.appearanceId"
        class="mt-1 border-t border-dotted border-line pt-1"
      >
        <p class="font-semibold wrap-anywhere">{{ entry.title }}</p>
        <label v-if="entry.text" :class="TICK" class="text-[15px]">
          <input
            type="checkbox"
            class="size-5 shrink-0 accent-(--action)"
            :checked="draft.texts.includes(entry.appearanceId)"
            :aria-label="t('website.text', { title: entry.title })"
            @change="withText(entry.appearanceId, isOn($event))"
          />
          <span class="min-w-0 truncate"
            >{{ t('website.text-short') }} <span class="text-soft">{{ entry.text }}</span></span
          >
        </label>
        <div
          v-for="thing in entry.things"
          :key="thing.id"
          class="flex flex-wrap items-center gap-x-3 text-[15px]"
        >
          <label v-if="thing.state === 'closed'" :class="TICK">
            <input
              type="checkbox"
              class="size-5 shrink-0 accent-(--action)"
              :checked="opens(thing)"
              :aria-label="t('website.thing', { title: thing.title })"
              @change="open(thing, isOn($event))"
            />
            <KindMark
              :kind="thing.itemKind ?? 'folder'"
              :extension="thing.extension"
              :mark="thing.mark"
              :colour="thing.colour"
            />
            <span class="wrap-anywhere">{{ thing.title }}</span>
            <span class="text-soft">{{ t('website.open-short') }}</span>
          </label>
          <p v-else :class="TICK">
            <KindMark
              :kind="thing.itemKind ?? 'folder'"
              :extension="thing.extension"
              :mark="thing.mark"
              :colour="thing.colour"
            />
            <span class="wrap-anywhere">{{ thing.title }}</span>
            <span :class="thing.state === 'open' ? 'font-semibold text-brick-ink' : 'text-soft'">{{
              t(`website.state.${thing.state}`)
            }}</span>
          </p>
        </div>
      </li>
      <li v-if="part.entries.length === 0" class="text-soft">{{ t('website.nothing-open') }}</li>
    </ul>
  </li>
</template>
