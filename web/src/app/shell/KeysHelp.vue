<script setup lang="ts">
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import AppButton from '../../ui/AppButton.vue';
import ModalSheet from '../../ui/ModalSheet.vue';

/** The keys that work, by what they do. */
const { teaching } = defineProps<{ teaching: boolean }>();
const emit = defineEmits<{ close: [] }>();
const { t } = useI18n();

const keys = computed(() => [
  { keys: ['/'], does: t('keys.find') },
  { keys: ['↑', '↓'], does: t('keys.walk') },
  ...(teaching ? [{ keys: ['←', '→'], does: t('keys.fold') }] : []),
  { keys: ['Enter'], does: t('keys.open') },
  ...(teaching
    ? [
        { keys: ['Space'], does: t('keys.choose') },
        { keys: ['Shift', '↑', '↓'], does: t('keys.reach') },
        { keys: ['F2'], does: t('keys.rename') },
        { keys: ['M'], does: t('keys.move') },
        { keys: ['Ctrl', 'X'], does: t('keys.cut') },
        { keys: ['Ctrl', 'C'], does: t('keys.copy') },
        { keys: ['Ctrl', 'V'], does: t('keys.paste') },
        { keys: ['Alt', '↑', '↓'], does: t('keys.shift') },
        { keys: ['Del'], does: t('keys.remove') },
        { keys: ['Ctrl', 'Z'], does: t('keys.undo') },
        { keys: ['T'], does: t('keys.tray') },
      ]
    : []),
  { keys: ['←', '→'], does: t('keys.neighbours') },
  { keys: ['Esc'], does: t('keys.back') },
  { keys: ['?'], does: t('keys.help') },
]);
</script>

<template>
  <ModalSheet :title="t('keys.title')" @close="emit('close')">
    <dl class="mt-4 mb-6 grid grid-cols-[auto_1fr] items-center gap-x-5 gap-y-2.5">
      <template v-for="row in keys" :key="row.does">
        <dt class="flex gap-1">
          <kbd
            v-for="key in row.keys"
            :key="key"
            class="min-w-8 rounded-edge border border-line bg-raised px-2 py-0.5 text-center font-code text-[13px]"
            >{{ key }}</kbd
          >
        </dt>
        <dd>{{ row.does }}</dd>
      </template>
    </dl>
    <AppButton tone="main" @click="emit('close')">{{ t('common.close') }}</AppButton>
  </ModalSheet>
</template>
