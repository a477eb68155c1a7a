<script setup lang="ts">
import type { EditedEntry, EditedPage } from '@sammlung/contract';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import LinkedText from './LinkedText.vue';
import { useFormat } from '../../app/format.ts';
import IndexTab from '../../app/IndexTab.vue';
import KindMark from '../../ui/KindMark.vue';

/** An entry for those who make the page: what it says and has, when and for whom it is there, and where else. */
defineProps<{ entry: EditedEntry; page: EditedPage }>();
const { t } = useI18n();
const { day, weekday } = useFormat();
</script>

<template>
  <article class="grid gap-x-5 px-4 py-3.5 sm:grid-cols-[6.5rem_1fr_auto] sm:px-6">
    <p class="leading-tight sm:pt-0.5 sm:text-end">
      <span class="font-title text-[17px] font-semibold">{{ day(entry.at) }}</span>
      <span class="text-meta text-soft max-sm:ml-2 sm:block">{{ weekday(entry.at) }}</span>
    </p>
    <div class="min-w-0">
      <h3 class="font-text! text-[17px] font-semibold wrap-anywhere">{{ entry.title }}</h3>
      <LinkedText v-if="entry.text" :text="entry.text" />
      <ul v-if="entry.things.length > 0" class="mt-1.5 flex flex-wrap gap-x-6 gap-y-1.5">
        <li v-for="thing in entry.things" :key="thing.id">
          <RouterLink
            :to="
              thing.kind === 'folder'
                ? { name: 'folder', params: { folder: thing.id } }
                : { name: 'item', params: { placement: thing.id } }
            "
            draggable="false"
            class="flex items-center gap-2 text-[15px] font-semibold text-petrol hover:underline pointer-coarse:min-h-11"
          >
            <KindMark
              :kind="thing.itemKind ?? 'folder'"
              :extension="thing.extension"
              :mark="thing.mark"
              :colour="thing.colour"
            />
            {{ thing.title }}
          </RouterLink>
        </li>
      </ul>
      <p v-if="entry.gone > 0" class="mt-1 text-meta text-brick-ink">
        {{ t('entry.gone', entry.gone) }}
      </p>
      <p v-if="entry.people" class="mt-1 text-meta text-soft">
        {{ t('entry.only-for', { names: entry.people.map(({ name }) => name).join(', ') }) }}
      </p>
    </div>
    <div class="flex items-start gap-1">
      <span class="flex flex-wrap justify-end gap-[3px] pt-1">
        <IndexTab
          :tab="{
            kind: 'class',
            label: page.code,
            colour: page.colour,
            state: entry.state,
            from: entry.release.from,
          }"
        />
        <IndexTab
          v-for="other in entry.alsoOn"
          :key="other.id"
          plain
          :tab="{
            kind: 'class',
            label: other.code,
            colour: other.colour,
            state: 'none',
            from: null,
          }"
        />
      </span>
      <slot />
    </div>
  </article>
</template>
