<script setup lang="ts">
import type { TrayClass } from '@sammlung/contract';
import { useQueryCache } from '@pinia/colada';
import { ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { useChanging } from '../../app/changing.ts';
import FolderChooser, { type Choosable } from '../../app/FolderChooser.vue';
import { say } from '../../app/shell/toast.ts';
import AppButton from '../../ui/AppButton.vue';
import ModalSheet from '../../ui/ModalSheet.vue';

/** Where the lessons of each class go now: another folder, or the next unit, with one action. */
const { classes } = defineProps<{ classes: readonly TrayClass[] }>();
const emit = defineEmits<{ close: [] }>();
const { t } = useI18n();
const { changed, attempt } = useChanging();
const choosing = ref<TrayClass | null>(null);
const chosen = ref<Choosable[]>([]);

const cache = useQueryCache();
/** The tray is on the screen when this sheet is not any more. */
const refresh = () => cache.invalidateQueries({ key: ['tray'] });
const set = (classId: string, currentFolderId: string | null) =>
  api('PATCH /api/class-pages/:class', { params: { class: classId }, body: { currentFolderId } });
function done(one: TrayClass, title: string, before: string | null) {
  choosing.value = null;
  void refresh();
  void changed();
  say({
    text: t('tray.current-set', { code: one.code, title }),
    undo: async () => {
      await set(one.id, before);
      await refresh();
    },
  });
}
const choose = (one: TrayClass, folder: Choosable) =>
  attempt(async () => {
    await set(one.id, folder.id);
    done(one, folder.title, one.currentFolder?.id ?? null);
    return true;
  });
const moveOn = (one: TrayClass) =>
  attempt(async () => {
    const next = await api('POST /api/tray/next-unit', { body: { classId: one.id } });
    done(one, next.title, next.before);
    return true;
  });
</script>

<template>
  <ModalSheet :title="t('tray.current-folders')" @close="emit('close')">
    <template v-if="choosing">
      <p class="mt-2 text-soft">{{ t('tray.current-for', { code: choosing.code }) }}</p>
      <FolderChooser v-model="chosen" class="mt-4" @choose="choosing && choose(choosing, $event)" />
    </template>
    <template v-else>
      <p class="mt-2 text-soft">{{ t('tray.current-text') }}</p>
      <ul class="mt-3 border-b border-line">
        <li
          v-for="one in classes"
          :key="one.id"
          class="flex flex-wrap items-center gap-x-3 gap-y-1 border-t border-line py-2"
        >
          <span
            class="w-16 rounded-[4px] px-2 py-0.5 text-center font-code text-[12px] font-semibold text-white"
            :style="{ background: `var(--${one.colour})` }"
            >{{ one.code }}</span
          >
          <b class="min-w-32 flex-1 font-semibold">{{
            one.currentFolder?.title ?? t('tray.current-none')
          }}</b>
          <AppButton v-if="one.proposedFolder" @click="choose(one, one.proposedFolder)">{{
            t('tray.current-take', { title: one.proposedFolder.title })
          }}</AppButton>
          <AppButton v-if="one.nextUnit" @click="moveOn(one)">{{
            t(one.nextUnit.id ? 'tray.move-on' : 'tray.move-on-new', { title: one.nextUnit.title })
          }}</AppButton>
          <button
            type="button"
            class="min-h-9 text-petrol underline underline-offset-2 pointer-coarse:min-h-11"
            @click="choosing = one"
          >
            {{ t('tray.current-other') }}
          </button>
        </li>
      </ul>
    </template>
  </ModalSheet>
</template>
