<script setup lang="ts">
import { computed, useTemplateRef, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { pictureAddresses } from '../../app/api/addresses.ts';
import { finishPage, pageMarkup } from '../../app/content/finishPage.ts';
import { useReadingPlace } from '../../app/place.ts';
import AppButton from '../../ui/AppButton.vue';

/** Somebody else has shown the page meanwhile, or one has written elsewhere: that text, and what is to become of the two. */
const { of, html, placementId } = defineProps<{
  of: 'draft' | 'version';
  html: string;
  placementId: string;
}>();
const emit = defineEmits<{ settle: [how: 'mine' | 'both' | 'theirs'] }>();
const { t } = useI18n();
const place = useReadingPlace();
const theirs = computed(() => pageMarkup(pictureAddresses(place.base, placementId, html)));
const sheet = useTemplateRef('sheet');
watch([theirs, sheet], () => sheet.value && finishPage(sheet.value), { flush: 'post' });
</script>

<template>
  <section
    class="border-l-4 border-saffron bg-raised px-5 py-4"
    :aria-label="t(`page.meanwhile.${of}`)"
  >
    <h2 class="text-[19px]">{{ t(`page.meanwhile.${of}`) }}</h2>
    <p class="mt-1 text-soft">{{ t(`page.meanwhile.${of}-text`) }}</p>
    <!-- eslint-disable vue/no-v-html -- the server has cleaned it -->
    <div
      ref="sheet"
      tabindex="0"
      role="region"
      :aria-label="t(`page.theirs.${of}`)"
      class="page-text mt-3 max-h-72 overflow-auto border border-line bg-sheet px-5 py-4"
      v-html="theirs"
    />
    <!-- eslint-enable vue/no-v-html -->
    <div class="mt-3 flex flex-wrap gap-2">
      <AppButton tone="main" @click="emit('settle', 'both')">{{ t('page.settle.both') }}</AppButton>
      <AppButton @click="emit('settle', 'mine')">{{ t('page.settle.mine') }}</AppButton>
      <AppButton @click="emit('settle', 'theirs')">{{ t('page.settle.theirs') }}</AppButton>
    </div>
  </section>
</template>
