<script setup lang="ts">
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import MomentField from '../../app/MomentField.vue';
import type { Terms } from '../../app/handing.ts';
import { backwards } from '../../app/span.ts';

/** From when until when something is handed out, and what colleagues may do with it. */
const terms = defineModel<Terms>({ required: true });
const { levels } = defineProps<{ levels: boolean }>();
const { t } = useI18n();
const LEVELS = ['view', 'add', 'manage'] as const;
const fault = computed(() => (backwards(terms.value) ? t('problem.ends-before-start') : null));
const part = <K extends keyof Terms>(name: K) =>
  computed({
    get: () => terms.value[name],
    set: (value) => (terms.value = { ...terms.value, [name]: value }),
  });
const from = part('from');
const until = part('until');
const level = part('level');
</script>

<template>
  <div class="@container">
    <div class="grid gap-3 @md:grid-cols-2">
      <MomentField v-model="from" :label="t('audience.terms.from')" />
      <MomentField v-model="until" :label="t('audience.terms.until')" :fault="fault" />
      <fieldset v-if="levels" class="@md:col-span-2">
        <legend class="text-meta text-soft">{{ t('audience.terms.level') }}</legend>
        <label
          v-for="name in LEVELS"
          :key="name"
          class="mt-1 flex items-baseline gap-2 text-[15px] pointer-coarse:min-h-11"
        >
          <input
            v-model="level"
            type="radio"
            name="level"
            :value="name"
            class="accent-(--action)"
          />
          <span
            ><b class="font-semibold">{{ t(`audience.level.${name}`) }}</b>
            <span class="text-soft"> {{ t(`audience.level-text.${name}`) }}</span></span
          >
        </label>
      </fieldset>
    </div>
  </div>
</template>
