<script setup lang="ts">
import type { OwnBox } from '@sammlung/contract';
import { computed, onMounted, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { useRoute, useRouter } from 'vue-router';
import { address } from '../../app/api/addresses.ts';
import { useBoxes, useEndedBoxes } from '../../app/box/boxes.ts';
import OwnBoxCards from '../../app/box/OwnBoxCards.vue';
import PageState from '../../app/PageState.vue';
import { useSession } from '../../app/session/session.ts';
import { say } from '../../app/shell/toast.ts';
import { takeShared, waitingFiles } from '../../app/uploads/shared-files.ts';
import { useUploads } from '../../app/uploads/uploads.ts';
import AppButton from '../../ui/AppButton.vue';

/** All that a student has handed in, also in boxes that are closed and in years that are over; to be taken along as one archive. */
const { t } = useI18n();
const boxes = useBoxes();
const ended = useEndedBoxes();
const all = computed(() => {
  const [open, closed] = [boxes.data.value?.own, ended.data.value?.own];
  if (!open || !closed) return null;
  const ids = new Set(closed.map(({ id }) => id));
  return [...open.filter(({ id }) => !ids.has(id)), ...closed];
});

/** What another program has shared with this one, until it is in a box. */
const shared = ref<File[]>([]);
const session = useSession();
const route = useRoute();
const router = useRouter();
const uploads = useUploads();
onMounted(async () => {
  shared.value = await waitingFiles(session.person?.id ?? '');
  if (route.query['shared'] === 'no') say({ text: t('box.not-shared'), tone: 'bad' });
});
const taking = computed(() => (boxes.data.value?.own ?? []).filter((box) => box.mayAdd));
async function handIn({ id, placeId, title }: OwnBox) {
  const files = await takeShared(session.person?.id ?? '');
  uploads.add(files.map((file) => ({ file, folder: { id: placeId, title } })));
  await router.push({ name: 'box', params: { box: id } });
}
const again = () => Promise.all([boxes.refetch(), ended.refetch()]);
</script>

<template>
  <div class="mx-auto w-full max-w-4xl flex-1 px-5 py-7 sm:px-10">
    <h1 class="text-[28px]">{{ t('box.all-title') }}</h1>
    <section
      v-if="shared.length > 0 && boxes.data.value"
      class="my-5 rounded-edge border border-line bg-raised p-5"
    >
      <h2 class="text-[19px]">{{ t('box.shared', shared.length) }}</h2>
      <p class="text-meta wrap-anywhere text-soft">
        {{ shared.map((file) => file.name).join(', ') }}
      </p>
      <p v-if="taking.length === 0" class="mt-2">{{ t('box.shared-nowhere') }}</p>
      <div class="mt-3 flex flex-wrap gap-2">
        <AppButton v-for="box in taking" :key="box.id" @click="handIn(box)">
          <span class="font-code text-[13px]">{{ box.code }}</span> {{ box.title }}
        </AppButton>
      </div>
    </section>
    <PageState v-if="!all" :error="boxes.error.value ?? ended.error.value" @again="again" />
    <p v-else-if="all.length === 0" class="mt-3 text-soft">{{ t('box.none') }}</p>
    <template v-else>
      <p class="mt-1 max-w-prose text-soft">{{ t('box.all-text') }}</p>
      <a
        v-if="all.some((box) => box.handedInAt)"
        :href="address('GET /api/box-archive')"
        download
        class="mt-4 inline-flex min-h-10 items-center rounded-edge bg-action px-4 font-semibold text-white hover:brightness-115 pointer-coarse:min-h-11"
        >{{ t('box.take-all') }}</a
      >
      <OwnBoxCards class="mt-5" :boxes="all" codes />
    </template>
  </div>
</template>
