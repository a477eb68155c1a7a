<script setup lang="ts">
import { onMounted, ref, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import AppButton from '../../ui/AppButton.vue';

/** Words of a remark: sent by the button or Ctrl Enter. */
const {
  was = '',
  label,
  yes,
  begins = false,
} = defineProps<{
  was?: string;
  label: string;
  yes: string;
  /** Whether it takes the focus, and can be left. */
  begins?: boolean;
}>();
const emit = defineEmits<{ write: [body: string]; leave: [] }>();
const { t } = useI18n();
const body = ref(was);
const field = useTemplateRef('field');
onMounted(() => begins && field.value?.focus());
function send() {
  if (body.value.trim() === '') return;
  emit('write', body.value.trim());
  body.value = '';
}
defineExpose({ focus: () => field.value?.focus() });
</script>

<template>
  <form @submit.prevent="send">
    <textarea
      ref="field"
      v-model="body"
      rows="2"
      maxlength="5000"
      :aria-label="label"
      :placeholder="label"
      class="w-full rounded-edge border border-line bg-raised px-3 py-2 text-[15px]"
      @keydown.ctrl.enter.prevent="send"
      @keydown.meta.enter.prevent="send"
      @keydown.esc="begins && emit('leave')"
    />
    <div class="mt-1 flex flex-wrap gap-2">
      <AppButton submits :disabled="body.trim() === ''">{{ yes }}</AppButton>
      <AppButton v-if="begins" @click="emit('leave')">{{ t('common.cancel') }}</AppButton>
    </div>
  </form>
</template>
