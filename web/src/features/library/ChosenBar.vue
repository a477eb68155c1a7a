<script setup lang="ts">
import { X } from 'lucide-vue-next';
import { useI18n } from 'vue-i18n';
import AppButton from '../../ui/AppButton.vue';

/** What can be done with the chosen rows; stands in the place of the other buttons while some are chosen. */
defineProps<{ count: number; items: boolean; download: string | null; manages: boolean }>();
const emit = defineEmits<{ handOut: []; move: []; place: []; remove: []; none: [] }>();
const { t } = useI18n();
</script>

<template>
  <div
    class="flex min-h-9 flex-wrap items-center gap-1.5 rounded-edge bg-petrol-pale py-1 pr-1 pl-3"
    role="group"
    :aria-label="t('library.chosen', count)"
  >
    <b class="mr-1 font-semibold text-petrol" role="status">{{ t('library.chosen', count) }}</b>
    <AppButton v-if="manages" @click="emit('handOut')">{{ t('library.hand-out') }}</AppButton>
    <AppButton @click="emit('move')">{{ t('library.move') }}</AppButton>
    <AppButton v-if="items" @click="emit('place')">{{ t('library.also-put') }}</AppButton>
    <a
      v-if="download"
      :href="download"
      download
      class="inline-flex min-h-9 items-center rounded-edge border border-line bg-raised px-3.5 py-1.5 text-[15px] font-semibold hover:border-petrol hover:text-petrol pointer-coarse:min-h-11"
      >{{ t('desk.download') }}</a
    >
    <AppButton @click="emit('remove')">{{ t('library.remove-yes') }}</AppButton>
    <button
      type="button"
      class="ml-auto grid size-9 place-items-center rounded-edge text-soft hover:bg-mark hover:text-ink pointer-coarse:size-11"
      :aria-label="t('library.choose-none')"
      :title="t('library.choose-none')"
      @click="emit('none')"
    >
      <X :size="18" aria-hidden="true" />
    </button>
  </div>
</template>
