<script setup lang="ts">
import { defineAsyncComponent, onMounted, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { useRoute, useRouter } from 'vue-router';
import DayList from '../../features/tray/DayList.vue';
import TrayPart from '../../features/tray/TrayPart.vue';
import WaitingMoves from '../../features/programs/WaitingMoves.vue';
import TodayView from '../../features/today/TodayView.vue';
import TaughtBoxes from '../box/TaughtBoxes.vue';
import { useSession } from '../session/session.ts';
import { takeShared } from '../uploads/shared-files.ts';
import { TRAY } from '../uploads/transfer.ts';
import { useUploads } from '../uploads/uploads.ts';
import { say } from './toast.ts';

/** What the day brings; for teachers with their tray on top. */
const TimetableSheet = defineAsyncComponent(
  () => import('../../features/timetable/TimetableSheet.vue'),
);
const { t } = useI18n();
const session = useSession();
const planning = ref(false);
const uploads = useUploads();
const route = useRoute();
const router = useRouter();
// What other programs have shared is in the tray now.
onMounted(async () => {
  if (session.person?.kind !== 'teacher') return;
  const files = await takeShared(session.person.id);
  const folder = { id: TRAY, title: t('tray.name') };
  if (files.length > 0) uploads.add(files.map((file) => ({ file, folder })));
  if (route.query['shared'] === undefined) return;
  if (route.query['shared'] === 'no') say({ text: t('tray.not-shared'), tone: 'bad' });
  await router.replace({ name: 'today' });
});
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
      <WaitingMoves />
      <TaughtBoxes class="mt-9" />
      <TimetableSheet v-if="planning" @close="planning = false" />
    </template>
    <template v-if="session.person?.kind === 'teacher'" #done><DayList /></template>
  </TodayView>
</template>
