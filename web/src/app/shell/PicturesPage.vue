<script setup lang="ts">
import { useQuery } from '@pinia/colada';
import { computed, onMounted, ref, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { useRouter } from 'vue-router';
import { api, OfflineError } from '../api/api.ts';
import { useDevice } from '../device/device.ts';
import { useSession } from '../session/session.ts';
import { TRAY } from '../uploads/transfer.ts';
import { useUploads } from '../uploads/uploads.ts';
import { CAPTURE_PARTS } from '../../features/capture/pictures.ts';
import CaptureView from '../../features/capture/CaptureView.vue';
import { classesByLesson } from '../../features/tray/rows.ts';
import { usePutOne } from '../../features/tray/put-one.ts';
import { say } from './toast.ts';

/** Pictures that are taken here go into the tray, and from there to a class when one is chosen. */
const { t } = useI18n();
const router = useRouter();
const session = useSession();
const uploads = useUploads();
const device = useDevice();
const tray = useQuery({ key: ['tray'], query: () => api('GET /api/tray') });
const timetable = useQuery({ key: ['timetable'], query: () => api('GET /api/timetable') });
const classes = computed(() =>
  classesByLesson(
    (tray.data.value?.classes ?? []).filter((one) => one.currentFolder ?? one.proposedFolder),
    timetable.data.value?.classes ?? [],
    new Date(),
  ),
);
const view = useTemplateRef('view');
const busy = ref(false);
const putOne = usePutOne();
// The next time this opens without a connection, too.
onMounted(async () => {
  await device.begin(session.person!.id);
  await device.hold(CAPTURE_PARTS);
});

async function done({
  file,
  title,
  classId,
}: {
  file: File;
  title: string;
  classId: string | null;
}) {
  busy.value = true;
  try {
    const folder = { id: TRAY, title: t('tray.name') };
    const [transfer] = uploads.add([{ file, folder, answer: { title } }]);
    await view.value?.clear();
    const arrived = await uploads.settled(transfer!);
    if (transfer!.error instanceof OfflineError)
      say({ text: t('capture.waits', { title }), tone: 'good' });
    const put = arrived !== null && classId !== null && (await putOne(arrived, classId));
    // What is in place needs no list of what came in.
    if (put) await uploads.clear();
    await router.replace({ name: 'today', hash: put ? '' : '#tray' });
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <CaptureView
    ref="view"
    :person-id="session.person!.id"
    :classes="classes"
    :busy="busy"
    @done="done"
  />
</template>
