<script setup lang="ts">
import { computed, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import FolderChooser, { type Choosable } from '../../app/FolderChooser.vue';
import { useTree } from '../../app/tree.ts';

/** Where the new folders go: at the top of the library, or in a folder of it. */
const { into } = defineProps<{ into: string | null }>();
const emit = defineEmits<{ choose: [folder: string | null] }>();
const { t } = useI18n();
const tree = useTree();
const open = ref(false);
const chosen = ref<Choosable[]>([]);
const title = computed(
  () => tree.data.value?.folders.find(({ id }) => id === into)?.title ?? t('carry-over.top'),
);
function choose({ id }: Choosable) {
  open.value = false;
  emit('choose', id);
}
</script>

<template>
  <div>
    <p class="flex flex-wrap items-baseline gap-x-3">
      <span class="font-semibold">{{ t('carry-over.into') }}</span>
      <span>{{ title }}</span>
      <button
        type="button"
        class="min-h-9 text-petrol underline underline-offset-2 pointer-coarse:min-h-11"
        :aria-expanded="open"
        @click="open = !open"
      >
        {{ t('carry-over.elsewhere') }}
      </button>
    </p>
    <FolderChooser v-if="open" v-model="chosen" top @choose="choose" />
  </div>
</template>
