<script setup lang="ts">
import type { Crumb } from '@sammlung/contract';
import { useI18n } from 'vue-i18n';
import { RouterLink, type RouteLocationRaw } from 'vue-router';

/** The way up: the folders above, topmost first. */
defineProps<{ crumbs: readonly Crumb[]; to: (id: string) => RouteLocationRaw }>();
const { t } = useI18n();
</script>

<template>
  <nav :aria-label="t('common.way-up')" class="text-[15px] text-soft">
    <ol class="flex flex-wrap items-center gap-x-2">
      <slot />
      <li v-for="(crumb, n) in crumbs" :key="crumb.id" class="flex items-center gap-x-2">
        <span v-if="n > 0 || $slots.default" aria-hidden="true">›</span>
        <RouterLink :to="to(crumb.id)" class="hover:text-petrol hover:underline">{{
          crumb.title
        }}</RouterLink>
      </li>
    </ol>
  </nav>
</template>
