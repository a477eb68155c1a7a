<script setup lang="ts">
import type { CarriedTree } from '@sammlung/contract';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import IndexTab from '../../app/IndexTab.vue';

/** A folder with all below it, as it was and beside it as it will be; what it is called at the top can be changed. */
const { tree } = defineProps<{ tree: CarriedTree }>();
const emit = defineEmits<{ rename: [title: string] }>();
const { t } = useI18n();
</script>

<template>
  <section class="rounded-lg border border-line bg-raised" :aria-label="tree.rows[0]?.after">
    <p class="flex gap-1.5 px-4 pt-3 empty:hidden">
      <IndexTab
        v-for="one in tree.classes"
        :key="one.id"
        :tab="{ kind: 'class', label: one.code, colour: one.colour, from: null, state: 'out' }"
        plain
      />
    </p>
    <table class="w-full table-fixed text-[15px]">
      <thead class="sr-only">
        <tr>
          <th scope="col">{{ t('carry-over.before') }}</th>
          <th scope="col">{{ t('carry-over.after') }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in tree.rows" :key="row.id" class="border-t border-line first:border-t-0">
          <td
            class="py-1 pr-3 align-baseline text-soft"
            :style="{ paddingInlineStart: `${16 + row.depth * 18}px` }"
          >
            {{ row.before }}
          </td>
          <td
            class="py-1 pr-4 align-baseline"
            :style="{ paddingInlineStart: `${row.depth * 18}px` }"
          >
            <span class="flex items-baseline gap-2">
              <input
                v-if="row.depth === 0 && !row.there"
                class="h-9 min-w-0 flex-1 rounded-edge border border-line bg-sheet px-2 font-semibold pointer-coarse:h-11"
                maxlength="60"
                :aria-label="t('carry-over.name-of', { title: row.before })"
                :value="row.after"
                @change="emit('rename', ($event.target as HTMLInputElement).value)"
              />
              <span v-else-if="row.there" class="min-w-0 flex-1 text-soft"
                ><RouterLink
                  :to="{ name: 'folder', params: { folder: row.there } }"
                  class="text-petrol underline underline-offset-2"
                  >{{ row.after }}</RouterLink
                ><span class="text-meta"> · {{ t('layout.there') }}</span></span
              >
              <span
                v-else
                class="min-w-0 flex-1"
                :class="{ 'font-semibold': row.after !== row.before }"
                >{{ row.after }}</span
              >
              <span v-if="row.things > 0" class="shrink-0 text-meta text-soft">{{
                t('count.things', row.things)
              }}</span>
            </span>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="tree.more > 0" class="border-t border-line px-4 py-2 text-meta text-soft">
      {{ t('carry-over.more', tree.more) }}
    </p>
  </section>
</template>
