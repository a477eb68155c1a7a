<script setup lang="ts">
import DayList from '../../features/tray/DayList.vue';
import TrayPart from '../../features/tray/TrayPart.vue';
import TodayView from '../../features/today/TodayView.vue';
import { useSession } from '../session/session.ts';

/** What the day brings; for teachers with their tray on top. */
const session = useSession();
</script>

<template>
  <TodayView>
    <template v-if="session.person?.kind === 'teacher'" #tray><TrayPart class="mt-5" /></template>
    <template v-if="session.person?.kind === 'teacher'" #done><DayList /></template>
  </TodayView>
</template>
