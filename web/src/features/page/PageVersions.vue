<script setup lang="ts">
import '../../ui/page-text.css';
import type { Version } from '@sammlung/contract';
import { useQuery, useQueryCache } from '@pinia/colada';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import { useAction } from '../../app/action.ts';
import { api } from '../../app/api/api.ts';
import { useFormat } from '../../app/format.ts';
import PageState from '../../app/PageState.vue';
import { usePlacement, useReadingPlace } from '../../app/place.ts';
import { usePageTitle } from '../../app/shell/title.ts';
import { say } from '../../app/shell/toast.ts';
import AppButton from '../../ui/AppButton.vue';
import { blocksOf, compare, type Compared } from './compare.ts';

/** The versions of a page, each against the one before it. */
const { t } = useI18n();
const route = useRoute();
const router = useRouter();
const cache = useQueryCache();
const { moment } = useFormat();
const attempt = useAction();
const id = String(route.params.placement);
const params = { placement: id };
const placement = usePlacement(useReadingPlace(), () => id);
const title = computed(() => placement.data.value?.title ?? '');
usePageTitle(() => title.value);

const versions = useQuery({
  key: () => ['placement', 'versions', id],
  query: () => api('GET /api/placements/:placement/versions', { params }),
});
const all = computed(() => versions.data.value?.versions ?? []);
const at = computed(() => {
  const found = all.value.findIndex(({ number }) => number === Number(route.query.of));
  return found < 0 ? 0 : found;
});
const chosen = computed(() => all.value[at.value]);
const before = computed(() => all.value[at.value + 1]);

const textOf = ({ id: version }: Version) =>
  api('GET /api/placements/:placement/page', { params, query: { version } });
const compared = useQuery({
  key: () => ['page-compared', id, chosen.value?.id ?? ''],
  query: async () => {
    const [now, then] = await Promise.all(
      [chosen.value, before.value].map(async (one) =>
        one ? blocksOf((await textOf(one)).html) : [],
      ),
    );
    return compare(then!, now!);
  },
  enabled: () => chosen.value !== undefined,
});

/** Long runs of what is the same are left out, but for a line on either side of what is not. */
type Line = { compared: Compared } | { same: number };
const lines = computed((): Line[] => {
  const blocks = compared.data.value ?? [];
  const differs = blocks.map((pieces) => pieces.some(({ is }) => is !== 'same'));
  const found: Line[] = [];
  blocks.forEach((pieces, n) => {
    const last = found.at(-1);
    if (differs[n] || differs[n - 1] || differs[n + 1]) found.push({ compared: pieces });
    else if (last && 'same' in last) last.same += 1;
    else found.push({ same: 1 });
  });
  return found;
});
const TAGS = { same: 'span', added: 'ins', removed: 'del' };

const show = (number: number) => router.replace({ query: { of: String(number) } });
const bringBack = ({ id: versionId, number }: Version) =>
  attempt(async () => {
    await api('POST /api/placements/:placement/versions', { params, body: { versionId } });
    for (const key of ['folder', 'placement', 'page']) void cache.invalidateQueries({ key: [key] });
    await router.replace({ query: {} });
    say({ text: t('page.versions.back', { n: number, title: title.value }) });
  });
</script>

<template>
  <div class="mx-auto w-full max-w-5xl flex-1 px-5 py-7 sm:px-10">
    <div class="flex flex-wrap items-center gap-3">
      <h1 class="min-w-60 flex-1 text-[25px]">{{ t('page.versions.title', { title }) }}</h1>
      <RouterLink
        :to="{ name: 'page', params }"
        class="inline-flex min-h-9 items-center font-semibold text-petrol underline underline-offset-2 pointer-coarse:min-h-11"
        >{{ t('page.versions.write') }}</RouterLink
      >
    </div>
    <PageState
      v-if="versions.error.value"
      :error="versions.error.value"
      @again="versions.refetch()"
    />
    <PageState v-else-if="!versions.data.value" />
    <p v-else-if="!chosen" class="mt-4 text-soft">{{ t('page.versions.none') }}</p>
    <div v-else class="mt-5 grid gap-6 md:grid-cols-[15rem_1fr]">
      <ol class="self-start border-b border-line" :aria-label="t('page.versions.pick')">
        <li v-for="(version, n) in all" :key="version.id" class="border-t border-line">
          <button
            type="button"
            class="w-full px-3 py-2 text-left hover:bg-mark"
            :class="{ 'bg-petrol-pale': n === at }"
            :aria-pressed="n === at"
            @click="show(version.number)"
          >
            <span class="font-semibold">{{ t('page.versions.pick') }} {{ version.number }}</span>
            <span v-if="n === 0" class="ml-2 text-meta text-good">{{
              t('page.versions.newest')
            }}</span>
            <span class="block text-meta text-soft">{{
              t('page.versions.by', { at: moment(version.createdAt), name: version.createdBy })
            }}</span>
          </button>
        </li>
      </ol>
      <div>
        <div class="flex flex-wrap items-center gap-3">
          <p class="flex-1 text-soft">
            {{
              before ? t('page.versions.against', { n: before.number }) : t('page.versions.first')
            }}
          </p>
          <AppButton v-if="at > 0" @click="bringBack(chosen)">{{
            t('page.versions.bring-back', { n: chosen.number })
          }}</AppButton>
        </div>
        <PageState v-if="compared.error.value" :error="compared.error.value" />
        <PageState v-else-if="!compared.data.value" />
        <div v-else class="page-text mt-3 border border-line bg-sheet px-6 py-5">
          <p v-if="lines.every((line) => 'same' in line)" class="text-soft">
            {{ t('page.versions.same') }}
          </p>
          <template v-for="(line, n) in lines" :key="n">
            <p v-if="'same' in line" class="my-2 text-center font-text text-meta text-soft">
              {{ t('page.versions.left-out', line.same) }}
            </p>
            <p v-else class="my-1.5 wrap-anywhere">
              <template v-for="(piece, m) in line.compared" :key="m"
                ><component
                  :is="TAGS[piece.is]"
                  :class="{
                    'bg-petrol-pale no-underline shadow-[inset_0_-2px_0_var(--petrol)]':
                      piece.is === 'added',
                    'text-brick-ink line-through': piece.is === 'removed',
                  }"
                  ><span v-if="piece.is !== 'same'" class="sr-only"
                    >{{ t(`page.versions.${piece.is}`) }}&#32;</span
                  >{{ piece.text }}</component
                ></template
              >
            </p>
          </template>
        </div>
      </div>
    </div>
  </div>
</template>
