<script setup lang="ts">
import { ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { chooseTheme, chosenTheme, THEMES, type Theme } from '../../app/shell/theme.ts';

/** Light or dark in this browser, or as the device has it. */
const { t } = useI18n();
const chosen = ref(chosenTheme());
function choose(theme: Theme) {
  chosen.value = theme;
  chooseTheme(theme);
}
</script>

<template>
  <div class="flex flex-wrap gap-1" role="group" :aria-label="t('account.theme')">
    <button
      v-for="theme in THEMES"
      :key="theme"
      type="button"
      class="min-h-9 rounded-edge border px-3 text-[15px] font-semibold pointer-coarse:min-h-11"
      :class="chosen === theme ? 'border-petrol bg-petrol-pale text-petrol' : 'border-line'"
      :aria-pressed="chosen === theme"
      @click="choose(theme)"
    >
      {{ t(`account.themes.${theme}`) }}
    </button>
  </div>
</template>
