<script setup lang="ts">
import type { ReachClass, ReachLevel } from '@sammlung/contract';
import { useI18n } from 'vue-i18n';
import { RouterLink, type RouteLocationRaw } from 'vue-router';
import { useFormat } from '../../app/format.ts';

/** What a reach is about, what is told of it, and its classes, of which one can be chosen. */
const { crumb, title, level, since, classes, unnamed, chosen } = defineProps<{
  crumb: { title: string; to: RouteLocationRaw };
  title: string;
  level: ReachLevel;
  since: string;
  classes: readonly ReachClass[];
  unnamed: number;
  /** The class that is looked at; null for all of them. */
  chosen: string | null;
}>();
const emit = defineEmits<{ choose: [classId: string | null] }>();
defineSlots<{ default(): unknown }>();
const { t } = useI18n();
const { day } = useFormat();
</script>

<template>
  <div>
    <p class="text-[15px] text-soft">
      <RouterLink :to="crumb.to" class="hover:text-petrol hover:underline">{{
        crumb.title
      }}</RouterLink>
    </p>
    <h1 class="text-[28px] wrap-anywhere">{{ title }}</h1>
    <p v-if="level === 'nothing'" class="mt-3 max-w-xl">{{ t('reach.nothing-told') }}</p>
    <template v-else>
      <slot />
      <p class="mt-1 max-w-2xl text-meta text-soft">
        {{ t(level === 'names' ? 'reach.since' : 'reach.since-numbers', { day: day(since) }) }}
        <template v-if="unnamed > 0">{{ t('reach.unnamed', unnamed) }}</template>
      </p>
      <div v-if="classes.length > 1" class="mt-4 flex flex-wrap gap-2" role="group">
        <button
          type="button"
          class="min-h-9 rounded-edge border border-line px-3 text-[15px] font-semibold hover:border-petrol pointer-coarse:min-h-11"
          :class="chosen === null ? 'border-petrol bg-paper' : ''"
          :aria-pressed="chosen === null"
          @click="emit('choose', null)"
        >
          {{ t('reach.all') }}
        </button>
        <button
          v-for="one in classes"
          :key="one.id"
          type="button"
          class="inline-flex min-h-9 items-center gap-2 rounded-edge border-2 px-3 font-code text-[13px] font-semibold pointer-coarse:min-h-11"
          :class="chosen === one.id ? 'text-white' : ''"
          :style="{
            borderColor: `var(--${one.colour})`,
            ...(chosen === one.id && { background: `var(--${one.colour})` }),
          }"
          :aria-pressed="chosen === one.id"
          @click="emit('choose', one.id)"
        >
          {{ one.code }} <span class="font-text">{{ t('count.students', one.people) }}</span>
        </button>
      </div>
    </template>
  </div>
</template>
