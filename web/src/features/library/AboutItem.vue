<script setup lang="ts">
import type { PlacementView } from '@sammlung/contract';
import { checkName, FORBIDDEN_CHARACTERS } from '@sammlung/core';
import { useQuery } from '@pinia/colada';
import { computed, ref, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import { api } from '../../app/api/api.ts';
import { useFormat } from '../../app/format.ts';
import { versionAddress } from '../../app/api/addresses.ts';
import { usePlacement, useReadingPlace } from '../../app/place.ts';
import { explain } from '../../app/api/problems.ts';
import { say } from '../../app/shell/toast.ts';
import AppButton from '../../ui/AppButton.vue';
import ModalSheet from '../../ui/ModalSheet.vue';
import PageState from '../../app/PageState.vue';
import { useLibraryChanges } from './changes.ts';
import type { Row } from './library.ts';

/** Everything about one item: its name and lesson date, all the places where it lies, and its versions. */
const { placement } = defineProps<{ placement: string }>();
const emit = defineEmits<{ close: [] }>();
const { t } = useI18n();
const { size, moment } = useFormat();
const place = useReadingPlace();
const changes = useLibraryChanges();
const view = usePlacement(place, () => placement);
const item = computed(() => view.data.value);
const versions = useQuery({
  key: () => ['placement', 'versions', placement],
  query: () => api('GET /api/placements/:placement/versions', { params: { placement } }),
  enabled: () => item.value !== undefined && item.value.kind !== 'link' && item.value.mayChange,
});

const facts = ref({ title: '', lessonDate: '', description: '', url: '' });
const refused = ref('');
const factsOf = (from: PlacementView) => ({
  title: from.title,
  lessonDate: from.lessonDate ?? '',
  description: from.description,
  url: from.url ?? '',
});
watch(item, (now) => now && (facts.value = factsOf(now)), { immediate: true });
const fault = computed(() => {
  if (!item.value || facts.value.title === item.value.title) return refused.value;
  const [first] = checkName(facts.value.title.trim()).faults;
  return first ? t(`problem.name.${first}`, { characters: FORBIDDEN_CHARACTERS }) : refused.value;
});
const changed = computed(
  () => item.value && JSON.stringify(factsOf(item.value)) !== JSON.stringify(facts.value),
);

async function save() {
  const now = item.value;
  if (!now) return;
  const different = (from: ReturnType<typeof factsOf>, to: ReturnType<typeof factsOf>) => ({
    ...(from.title !== to.title && { title: to.title }),
    ...(from.lessonDate !== to.lessonDate && { lessonDate: to.lessonDate || null }),
    ...(from.description !== to.description && { description: to.description }),
    ...(from.url !== to.url && { url: to.url }),
  });
  const before = factsOf(now);
  const after = { ...facts.value };
  try {
    await changes.change(
      { kind: 'placement', id: placement },
      different(before, after),
      different(after, before),
      t('library.saved', { title: after.title }),
    );
    emit('close');
  } catch (error) {
    refused.value = explain(t, error);
  }
}

/** The folder it lies in here, and the others. */
const spots = computed(() => {
  const { crumbs = [], folderId = '', alsoIn = [] } = item.value ?? {};
  const here = {
    id: folderId,
    title: crumbs.map((crumb) => crumb.title).join(' › '),
    placementId: placement,
  };
  return [...(crumbs.length > 0 ? [here] : []), ...alsoIn];
});
async function takeAway(spot: { placementId: string }) {
  const row: Row = { kind: 'placement', id: spot.placementId, title: item.value?.title ?? '' };
  // Without this place there is nothing left that this sheet could show.
  if ((await changes.remove([row])) && spot.placementId === placement) emit('close');
}

async function bringBack(id: string, number: number) {
  const newest = versions.data.value?.versions[0];
  const bring = async (versionId: string) => {
    await api('POST /api/placements/:placement/versions', {
      params: { placement },
      body: { versionId },
    });
    changes.changed();
  };
  try {
    await bring(id);
    say({
      text: t('versions.back', { number, title: item.value?.title }),
      ...(newest && { undo: () => bring(newest.id) }),
    });
  } catch (error) {
    say({ text: explain(t, error), tone: 'bad' });
  }
}
const address = (id: string, as: 'inline' | 'attachment') => versionAddress(placement, id, as);
</script>

<template>
  <ModalSheet :title="item?.title ?? ''" @close="emit('close')">
    <PageState v-if="!item" :error="view.error.value" @again="view.refetch()" />
    <template v-else>
      <form v-if="item.mayChange" class="mt-4 grid gap-3" @submit.prevent="save">
        <label class="grid gap-1 text-meta text-soft"
          >{{ t('library.name') }}
          <input
            v-model="facts.title"
            class="h-10 rounded-edge border border-line bg-raised px-3 text-base text-ink"
            :aria-invalid="fault !== ''"
            @input="refused = ''"
          />
        </label>
        <label v-if="item.kind === 'link'" class="grid gap-1 text-meta text-soft"
          >{{ t('library.link-address') }}
          <input
            v-model="facts.url"
            class="h-10 rounded-edge border border-line bg-raised px-3 text-base text-ink"
          />
        </label>
        <label class="grid gap-1 text-meta text-soft"
          >{{ t('library.lesson-date') }}
          <input
            v-model="facts.lessonDate"
            type="date"
            class="h-10 w-48 rounded-edge border border-line bg-raised px-3 text-base text-ink"
          />
        </label>
        <label class="grid gap-1 text-meta text-soft"
          >{{ t('library.description') }}
          <textarea
            v-model="facts.description"
            rows="2"
            maxlength="2000"
            class="rounded-edge border border-line bg-raised px-3 py-2 text-base text-ink"
          />
        </label>
        <p role="alert" class="text-meta font-medium text-brick-ink empty:hidden">{{ fault }}</p>
        <div class="flex gap-2">
          <AppButton tone="main" submits :disabled="!changed || fault !== ''">{{
            t('common.save')
          }}</AppButton>
          <AppButton @click="emit('close')">{{ t('common.close') }}</AppButton>
        </div>
      </form>
      <h3 class="mt-6 mb-1 text-[16px]">{{ t('library.places') }}</h3>
      <ul class="border-b border-line text-[15px]">
        <li
          v-for="spot in spots"
          :key="spot.placementId"
          class="flex min-h-11 items-center gap-3 border-t border-line"
        >
          <RouterLink :to="place.folder(spot.id)" class="flex-1 text-petrol hover:underline">{{
            spot.title
          }}</RouterLink>
          <AppButton v-if="spots.length > 1" @click="takeAway(spot)">{{
            t('library.remove')
          }}</AppButton>
        </li>
      </ul>
      <template v-if="versions.data.value">
        <h3 class="mt-5 mb-1 text-[16px]">{{ t('versions.title') }}</h3>
        <ul class="border-b border-line">
          <li
            v-for="(version, n) in versions.data.value.versions"
            :key="version.id"
            class="flex items-center gap-3 border-t border-line py-1.5"
          >
            <span class="flex-1 leading-snug">
              <span class="font-semibold">{{
                t('versions.number', { number: version.number })
              }}</span>
              <span v-if="n === 0" class="ml-2 text-meta text-good">{{
                t('versions.newest')
              }}</span>
              <span class="block text-meta text-soft"
                >{{ moment(version.createdAt) }} · {{ version.createdBy }} ·
                {{ size(version.size) }}</span
              >
            </span>
            <RouterLink
              v-if="item?.kind === 'page'"
              :to="{ name: 'page-versions', params: { placement }, query: { of: version.number } }"
              class="text-petrol underline underline-offset-2"
              >{{ t('versions.compare') }}</RouterLink
            >
            <a
              v-else
              :href="address(version.id, 'inline')"
              target="_blank"
              rel="noopener"
              class="text-petrol underline underline-offset-2"
              >{{ t('versions.open') }}</a
            >
            <a
              :href="address(version.id, 'attachment')"
              download
              class="text-petrol underline underline-offset-2"
              >{{ t('desk.download') }}</a
            >
            <AppButton v-if="n > 0" @click="bringBack(version.id, version.number)">{{
              t('versions.bring-back')
            }}</AppButton>
          </li>
        </ul>
      </template>
    </template>
  </ModalSheet>
</template>
