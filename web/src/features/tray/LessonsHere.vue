<script setup lang="ts">
import type { LessonsOfClass } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { useChanging } from '../../app/changing.ts';
import { say } from '../../app/shell/toast.ts';

/** Whether the lessons of the classes that see a folder go there; set with one action. */
const { folder } = defineProps<{ folder: { readonly id: string; readonly title: string } }>();
const { t } = useI18n();
const { attempt } = useChanging();
const lessons = useQuery({
  key: () => ['lessons', folder.id],
  query: () => api('GET /api/folders/:folder/lessons', { params: { folder: folder.id } }),
});
const classes = computed(() => lessons.data.value?.classes ?? []);

const set = async (classId: string, currentFolderId: string | null) => {
  await api('PATCH /api/class-pages/:class', {
    params: { class: classId },
    body: { currentFolderId },
  });
  await lessons.refetch();
};
const take = ({ id, code, currentFolder }: LessonsOfClass) =>
  attempt(async () => {
    await set(id, folder.id);
    say({
      text: t('tray.current-set', { code, title: folder.title }),
      undo: () => set(id, currentFolder?.id ?? null),
    });
    return true;
  });
</script>

<template>
  <section v-if="classes.length > 0" class="mt-6" :aria-label="t('tray.lessons.title')">
    <h3 class="border-b border-line pb-1 text-meta font-semibold text-soft">
      {{ t('tray.lessons.title') }}
    </h3>
    <ul>
      <li
        v-for="one in classes"
        :key="one.id"
        class="flex min-h-10 items-center gap-3 border-b border-line py-1"
      >
        <span
          class="rounded-[4px] px-2 py-0.5 font-code text-[12px] font-semibold text-white"
          :style="{ background: `var(--${one.colour})` }"
          >{{ one.code }}</span
        >
        <span v-if="one.here">{{ t('tray.lessons.here') }}</span>
        <template v-else>
          <span class="min-w-0 flex-1 truncate text-meta text-soft">{{
            one.currentFolder?.title ?? t('tray.current-none')
          }}</span>
          <button
            type="button"
            class="min-h-9 font-semibold text-petrol hover:underline pointer-coarse:min-h-11"
            :aria-label="t('tray.lessons.take-of', { code: one.code })"
            @click="take(one)"
          >
            {{ t('tray.lessons.take') }}
          </button>
        </template>
      </li>
    </ul>
  </section>
</template>
