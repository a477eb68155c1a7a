<script setup lang="ts">
import type { JoinAnswer, JoinRequests } from '@sammlung/contract';
import { useQuery, useQueryCache } from '@pinia/colada';
import { useI18n } from 'vue-i18n';
import AppButton from '../ui/AppButton.vue';
import { api } from './api/api.ts';
import { useAction } from './action.ts';
import { say } from './shell/toast.ts';

/** Classes that somebody is asked to join: the student’s own requests, or with `office` those of the whole school. */
const { office = false } = defineProps<{ office?: boolean }>();
const { t } = useI18n();
const cache = useQueryCache();
const requests = useQuery({
  key: ['join-requests'],
  query: () => api('GET /api/join-requests'),
});
const attempt = useAction(() =>
  Promise.all(
    [['join-requests'], ['new'], ['classes'], ['courses']].map((key) =>
      cache.invalidateQueries({ key }),
    ),
  ),
);
type Request = JoinRequests['requests'][number];

const give = ({ id, name, code }: Request, answer: JoinAnswer['answer']) =>
  attempt(async () => {
    await api('POST /api/join-requests/:request/answer', {
      params: { request: id },
      body: { answer },
    });
    if (answer === 'no') say({ text: t('join.refused') });
    else say({ text: office ? t('join.let-in', { name, code }) : t('join.joined', { code }) });
  });
</script>

<template>
  <section v-if="requests.data.value?.requests.length" aria-labelledby="join-requests">
    <h2 id="join-requests" class="text-[19px]">
      {{ t(office ? 'join.title-office' : 'join.title', requests.data.value.requests.length) }}
    </h2>
    <ul class="mt-1.5 border-b border-line">
      <li
        v-for="request in requests.data.value.requests"
        :key="request.id"
        class="flex flex-wrap items-center gap-x-3 gap-y-2 border-t border-line py-2.5"
      >
        <span
          class="inline-flex h-7 items-center rounded-[4px] px-2 font-code text-[13px] font-semibold text-white"
          :style="{ background: `var(--${request.colour})` }"
          >{{ request.code }}</span
        >
        <p class="min-w-52 flex-1">
          <b v-if="office" class="block font-semibold">{{ request.name }}</b>
          <span v-else class="block font-semibold">{{ request.course }}</span>
          <span class="block text-meta text-soft">{{
            t('join.asked-by', { name: request.askedBy })
          }}</span>
        </p>
        <AppButton tone="main" @click="give(request, 'yes')">{{
          t(office ? 'join.yes-office' : 'join.yes')
        }}</AppButton>
        <AppButton @click="give(request, 'no')">{{ t('join.no') }}</AppButton>
      </li>
    </ul>
  </section>
</template>
