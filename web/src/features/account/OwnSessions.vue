<script setup lang="ts">
import type { OwnSession } from '@sammlung/contract';
import { useI18n } from 'vue-i18n';
import { useAction } from '../../app/action.ts';
import { api } from '../../app/api/api.ts';
import { useFormat } from '../../app/format.ts';
import { say } from '../../app/shell/toast.ts';
import AppButton from '../../ui/AppButton.vue';
import { useRefresh } from './account.ts';

/** The browsers in which one has signed in. */
const { sessions } = defineProps<{ sessions: readonly OwnSession[] }>();
const { t } = useI18n();
const { moment } = useFormat();
const attempt = useAction(useRefresh());

function nameOf({ browser, system }: OwnSession) {
  const name = browser || t('account.unknown-browser');
  return system ? t('account.on', { browser: name, system }) : name;
}
const since = (one: OwnSession) => t('account.since', { when: moment(one.since) });
const end = (one: OwnSession) =>
  attempt(async () => {
    await api('DELETE /api/account/sessions/:session', { params: { session: one.id } });
    say({ text: t('account.ended', { browser: nameOf(one) }) });
  });
const endOthers = () =>
  attempt(async () => {
    await api('DELETE /api/account/sessions');
    say({ text: t('account.others-ended') });
  });
</script>

<template>
  <ul class="border-b border-line">
    <li
      v-for="one in sessions"
      :key="one.id"
      class="flex min-h-12 flex-wrap items-center gap-x-4 border-t border-line py-1.5"
    >
      <span class="min-w-0 flex-1"
        ><span class="font-semibold">{{ nameOf(one) }}</span>
        <span class="ml-2 text-meta text-soft">{{ since(one) }}</span></span
      >
      <span v-if="one.here" class="text-meta font-semibold text-good">{{ t('account.here') }}</span>
      <button
        v-else
        type="button"
        class="min-h-9 font-semibold text-brick-ink hover:underline pointer-coarse:min-h-11"
        :aria-label="t('account.end-of', { browser: nameOf(one), since: since(one) })"
        @click="end(one)"
      >
        {{ t('account.end') }}
      </button>
    </li>
  </ul>
  <AppButton v-if="sessions.length > 1" class="mt-3" @click="endOthers">{{
    t('account.end-others')
  }}</AppButton>
</template>
