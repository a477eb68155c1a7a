<script setup lang="ts">
import { linkTitle } from '@sammlung/core';
import { computed, onMounted, ref, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { explain } from '../../app/api/problems.ts';
import { say } from '../../app/shell/toast.ts';
import AppButton from '../../ui/AppButton.vue';
import { useLibraryChanges } from './changes.ts';
import { useReturnFocus } from '../../ui/returnFocus.ts';

/** Adds a web link: its address, and a name, for which the address's last part serves when it is left out. */
const { folderId } = defineProps<{ folderId: string }>();
const emit = defineEmits<{ done: [] }>();
useReturnFocus();
const { t } = useI18n();
const changes = useLibraryChanges();
const typed = ref('');
const title = ref('');
const refused = ref('');
const field = useTemplateRef('field');
onMounted(() => field.value?.focus());

const url = computed(() => {
  const given = typed.value.trim();
  const whole = /^https?:/iu.test(given) ? given : `https://${given}`;
  const dotted = given.slice(1, -1).includes('.') && !/\s/u.test(given);
  return dotted && URL.canParse(whole) ? whole : null;
});
const guessed = computed(() => (url.value ? linkTitle(url.value) : ''));

async function add() {
  if (!url.value) return;
  refused.value = '';
  try {
    const made = await changes.addLink(folderId, url.value, title.value.trim());
    say({
      text: t('library.link-added', { title: made.title }),
      undo: () => changes.takeAway(made.id),
    });
    emit('done');
  } catch (error) {
    refused.value = explain(t, error);
  }
}
</script>

<template>
  <form
    class="mb-4 rounded-lg border border-line bg-paper/60 p-3"
    @submit.prevent="add"
    @keydown.stop
    @keydown.esc="emit('done')"
  >
    <div class="flex flex-wrap items-center gap-2">
      <input
        ref="field"
        v-model="typed"
        inputmode="url"
        :aria-label="t('library.link-address')"
        :placeholder="t('library.link-address')"
        class="h-9 min-w-52 flex-2 rounded-edge border border-line bg-raised px-3"
        @input="refused = ''"
      />
      <input
        v-model="title"
        :aria-label="t('library.link-name')"
        :placeholder="guessed || t('library.link-name')"
        class="h-9 min-w-36 flex-1 rounded-edge border border-line bg-raised px-3"
        @input="refused = ''"
      />
      <AppButton tone="main" submits :disabled="!url">{{ t('library.link-add') }}</AppButton>
      <AppButton @click="emit('done')">{{ t('common.cancel') }}</AppButton>
    </div>
    <p role="alert" class="mt-1.5 text-meta font-medium text-brick-ink empty:hidden">
      {{ refused }}
    </p>
  </form>
</template>
