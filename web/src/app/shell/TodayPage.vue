<script setup lang="ts">
import { defineAsyncComponent, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import DayList from '../../features/tray/DayList.vue';
import TrayPart from '../../features/tray/TrayPart.vue';
import TodayView from '../../features/today/TodayView.vue';
import { useSession } from '../session/session.ts';

/** What the day brings; for teachers with their tray on top. */
const TimetableSheet = defineAsyncComponent(
  () => import('../../features/timetable/TimetableSheet.vue'),
);
const { t } = useI18n();
const session = useSession();
const planning = ref(false);
</script>

<template>
  <TodayView>
    <template v-if="session.person?.kind === 'teacher'" #tray>
      <TrayPart class="mt-5">
        <template #ways>
          <button
            type="button"
            class="min-h-9 text-petrol underline underline-offset-2 pointer-coarse:min-h-11"
            @click="planning = true"
          >
            {{ t('timetable.title') }}
          </button>
        </template>
      </TrayPart>
      <TimetableSheet v-if="planning" @close="planning = false" />
    </template>
    <template v-if="session.person?.kind === 'teacher'" #done><DayList /></template>
  </TodayView>
</template>
