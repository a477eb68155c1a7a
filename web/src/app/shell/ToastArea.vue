<script setup lang="ts">
import { onBeforeUnmount, onMounted } from 'vue';
import { useI18n } from 'vue-i18n';
import { explain } from '../api/problems.ts';
import { dismiss, say, toasts, undo } from './toast.ts';

const { t } = useI18n();

async function takeBack(id?: number) {
  try {
    await undo(id);
  } catch (error) {
    say({ text: explain(t, error), tone: 'bad' });
  }
}

function onKey(event: KeyboardEvent) {
  const typing = (event.target as HTMLElement).matches('input, textarea, [contenteditable]');
  if (event.key !== 'z' || !(event.ctrlKey || event.metaKey) || event.shiftKey || typing) return;
  event.preventDefault();
  void takeBack();
}
onMounted(() => window.addEventListener('keydown', onKey));
onBeforeUnmount(() => window.removeEventListener('keydown', onKey));
</script>

<template>
  <!-- On a phone they stand above what lies along the bottom within the thumb's reach. -->
  <div
    class="pointer-events-none fixed inset-x-0 bottom-5 z-50 flex flex-col items-center gap-2 px-4 max-sm:bottom-[calc(4.5rem+env(safe-area-inset-bottom))]"
    role="status"
  >
    <div
      v-for="toast in toasts"
      :key="toast.id"
      class="pointer-events-auto flex max-w-xl items-center gap-4 rounded-edge border-l-4 bg-[#16292c] py-2.5 pr-3 pl-4 text-[15px] text-[#f2efe6] shadow-lg"
      :class="toast.tone === 'bad' ? 'border-[#e88b76]' : 'border-saffron'"
    >
      <span>{{ toast.text }}</span>
      <button
        v-if="toast.undo"
        class="rounded-edge px-2.5 py-1 font-bold text-[#f3cd80] hover:bg-white/10"
        @click="takeBack(toast.id)"
      >
        {{ t('common.undo') }}
      </button>
      <button
        v-else
        class="rounded-edge px-2 py-1 text-[#c9d6d3] hover:bg-white/10"
        @click="dismiss(toast.id)"
      >
        {{ t('common.close') }}
      </button>
    </div>
  </div>
</template>
