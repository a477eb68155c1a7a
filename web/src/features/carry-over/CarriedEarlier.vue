<script setup lang="ts">
import type { CarryOver } from '@sammlung/contract';
import { ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { useAction } from '../../app/action.ts';
import { useFormat } from '../../app/format.ts';
import AppButton from '../../ui/AppButton.vue';
import { useCarryOvers } from './carry-over.ts';
import StaleMarks from './StaleMarks.vue';

/** What was carried over, with what looks out of date in it. */
const { done } = defineProps<{ done: readonly CarryOver[] }>();
const { t, te } = useI18n();
const { moment } = useFormat();
const { undo, refresh, madeWords } = useCarryOvers();
const attempt = useAction(refresh);
/** The one whose marks are shown. */
const open = ref<string | null>(done.find(({ marks }) => marks > 0)?.id ?? null);

const said = (one: CarryOver) =>
  one.state === 'failed'
    ? t('carry-over.failed', {
        why: t(te(`problem.${one.fault}`) ? `problem.${one.fault}` : 'problem.internal'),
      })
    : one.undone
      ? t('carry-over.undone')
      : madeWords(one) || t('carry-over.nothing');
</script>

<template>
  <section aria-labelledby="carried-earlier">
    <h2 id="carried-earlier" class="text-[21px]">{{ t('carry-over.earlier') }}</h2>
    <ul class="mt-2 border-b border-line">
      <li
        v-for="one in done.filter(({ state }) => state !== 'waiting')"
        :key="one.id"
        class="border-t border-line py-3"
      >
        <div class="flex flex-wrap items-center gap-x-4 gap-y-2">
          <p class="min-w-60 flex-1">
            <span class="font-semibold">{{ one.from }} → {{ one.to }}</span>
            <span class="text-meta text-soft"> · {{ moment(one.at) }}</span>
            <span class="block" :class="{ 'text-brick-ink': one.state === 'failed' }">{{
              said(one)
            }}</span>
          </p>
          <AppButton
            v-if="one.marks > 0"
            :aria-expanded="open === one.id"
            @click="open = open === one.id ? null : one.id"
            ><span class="size-[9px] bg-saffron" aria-hidden="true" />{{
              t('carry-over.marks', one.marks)
            }}</AppButton
          >
          <AppButton
            v-if="one.state === 'done' && !one.undone"
            :aria-label="t('carry-over.undo-of', { from: one.from, to: one.to })"
            @click="attempt(() => undo(one.id))"
            >{{ t('common.undo') }}</AppButton
          >
        </div>
        <StaleMarks v-if="open === one.id && one.marks > 0" :of="one.id" class="mt-3" />
      </li>
    </ul>
  </section>
</template>
