<script setup lang="ts">
import { useI18n } from 'vue-i18n';
import { FIELD } from '../../ui/field.ts';

/** One’s own password once more, before what somebody else at an open screen must not do. */
const { label } = defineProps<{ label?: string }>();
const password = defineModel<string>({ required: true });
const { t } = useI18n();
</script>

<template>
  <label class="block"
    ><span class="block text-meta text-soft">{{ label ?? t('account.current-why') }}</span
    ><input
      v-model="password"
      type="password"
      maxlength="256"
      required
      autocomplete="current-password"
      :class="FIELD"
  /></label>
</template>
