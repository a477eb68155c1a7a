<script setup lang="ts">
import { useQuery } from '@pinia/colada';
import { useEventListener } from '@vueuse/core';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { useSession } from '../../app/session/session.ts';
import { useSubmit } from '../../app/submit.ts';

/** Signing in where people have an account already, if there is such a place: from this page, or in another tab where nothing here may be lost. */
const { to = '/', apart = false } = defineProps<{ to?: string; apart?: boolean }>();
const { t } = useI18n();
const session = useSession();
const { fault, busy, tried } = useSubmit();
const { data: ways } = useQuery({ key: ['ways'], query: () => api('GET /api/session/ways') });

const leave = () =>
  tried(async () => {
    const { address } = await api('POST /api/session/outside', { body: { to } });
    location.assign(address);
  });
if (apart) useEventListener(window, 'focus', () => tried(session.comeBack));
const look =
  'flex min-h-11 w-full items-center justify-center rounded-edge border border-petrol px-4 py-2 text-center font-semibold text-petrol hover:bg-petrol hover:text-sheet';
</script>

<template>
  <div v-if="ways?.outside" class="mb-6 border-b border-line pb-6">
    <a v-if="apart" href="/sign-in" target="_blank" :class="look">{{
      t('session.outside-apart', { name: ways.outside })
    }}</a>
    <button v-else type="button" :class="look" :disabled="busy" @click="leave">
      {{ t('session.outside', { name: ways.outside }) }}
    </button>
    <p role="alert" class="mt-2 font-medium text-brick-ink empty:hidden">{{ fault }}</p>
    <p v-if="ways.passwords === 'office'" class="mt-3 text-meta text-soft">
      {{ t('session.passwords-office') }}
    </p>
  </div>
</template>
