<script setup lang="ts">
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import { contentAddress } from '../../app/api/addresses.ts';
import { useFormat } from '../../app/format.ts';
import { useMeta } from '../../app/meta.ts';
import PageState from '../../app/PageState.vue';
import { useReadingPlace } from '../../app/place.ts';
import { usePageTitle } from '../../app/shell/title.ts';
import { useOwnPlace } from './own-place.ts';
import ThingSheet from './ThingSheet.vue';

/** Something in a student’s place, with what the teachers say about it. */
const { boxId, placementId } = defineProps<{ boxId: string; placementId: string }>();
const { t } = useI18n();
const { moment } = useFormat();
const meta = useMeta();
const place = useReadingPlace();
const { box, error, query } = useOwnPlace(() => boxId);
const thing = computed(() =>
  query.data.value?.things.find((one) => one.placementId === placementId),
);
usePageTitle(() => thing.value?.title);
</script>

<template>
  <div class="flex w-full flex-1 flex-col items-center bg-paper px-4 py-4 sm:px-10">
    <PageState
      v-if="!query.data.value"
      :error="error ?? query.error.value"
      @again="query.refetch()"
    />
    <p v-else-if="!thing" class="py-8 text-soft">{{ t('box.thing-gone') }}</p>
    <template v-else>
      <p class="mb-2 w-full max-w-[1180px]">
        <RouterLink
          :to="{ name: 'box', params: { box: boxId } }"
          class="inline-flex min-h-9 items-center font-semibold text-petrol hover:underline pointer-coarse:min-h-11"
          >{{ t('box.back-to', { title: box?.title }) }}</RouterLink
        >
      </p>
      <ThingSheet :thing="thing" style="--beside: 9rem">
        <template #facts>
          <h1 class="text-[19px] wrap-anywhere">{{ thing.title }}</h1>
          <p class="text-meta text-soft">
            {{
              [
                meta({ ...thing, lessonDate: null }),
                thing.own ? '' : t('box.from', { name: thing.by }),
                thing.late ? t('box.late') : '',
                thing.own && thing.seenAt ? t('box.seen', { when: moment(thing.seenAt) }) : '',
              ]
                .filter(Boolean)
                .join(' · ')
            }}
          </p>
          <a
            v-if="thing.kind === 'link'"
            :href="thing.url ?? ''"
            target="_blank"
            rel="noopener noreferrer"
            class="inline-flex min-h-9 items-center font-semibold text-petrol hover:underline pointer-coarse:min-h-11"
            >{{ t('box.open') }}</a
          >
          <a
            v-if="thing.kind === 'file'"
            :href="contentAddress(place, thing.placementId, 'attachment')"
            class="inline-flex min-h-9 items-center font-semibold text-petrol hover:underline pointer-coarse:min-h-11"
            >{{ t('box.download') }}</a
          >
        </template>
      </ThingSheet>
    </template>
  </div>
</template>
