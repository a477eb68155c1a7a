<script setup lang="ts">
import { PASSWORD_LENGTH } from '@sammlung/core';
import { onMounted, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';

/** Where somebody types a password of their own; what is wrong with it stands below. */
defineProps<{ fault: string }>();
const password = defineModel<string>({ required: true });
const { t } = useI18n();
const field = useTemplateRef('field');
onMounted(() => field.value?.focus());
</script>

<template>
  <label class="block">
    <span class="font-semibold">{{ t('password.new') }}</span>
    <input
      ref="field"
      v-model="password"
      type="password"
      autocomplete="new-password"
      required
      :minlength="PASSWORD_LENGTH"
      maxlength="256"
      class="mt-1 block h-11 w-full rounded-edge border border-line bg-raised px-3"
      :aria-invalid="fault !== ''"
      aria-describedby="password-fault"
    />
  </label>
  <p id="password-fault" role="alert" class="mt-2 font-medium text-brick-ink empty:hidden">
    {{ fault }}
  </p>
</template>
