<script setup lang="ts">
import { ref } from 'vue';
import { useI18n } from 'vue-i18n';
import FolderChooser, { type Choosable } from '../../app/FolderChooser.vue';
import ModalSheet from '../../ui/ModalSheet.vue';

/** Any folder of the library. */
const emit = defineEmits<{ choose: [folder: Choosable]; close: [] }>();
const { t } = useI18n();
const chosen = ref<Choosable[]>([]);
</script>

<template>
  <ModalSheet :title="t('tray.which-folder')" @close="emit('close')">
    <FolderChooser v-model="chosen" class="mt-4" @choose="emit('choose', $event)" />
  </ModalSheet>
</template>
