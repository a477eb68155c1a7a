<script setup lang="ts">
import { Check } from 'lucide-vue-next';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { ApiError } from '../../app/api/api.ts';
import { explain } from '../../app/api/problems.ts';
import { say } from '../../app/shell/toast.ts';
import { useUploads } from '../../app/uploads/uploads.ts';
import type { Transfer } from '../../app/uploads/transfer.ts';
import AppButton from '../../ui/AppButton.vue';
import KindMark from '../../ui/KindMark.vue';
import { useInstead } from './instead.ts';
import ProgressLine from './ProgressLine.vue';

/** One file on its way, as a row: how far it is, what became of it, and what can be done. */
const { transfer: x, here = false } = defineProps<{
  transfer: Transfer;
  /** Whether it is among the rows of the folder it goes to. */
  here?: boolean;
}>();
const { t } = useI18n();
const uploads = useUploads();
const instead = useInstead();

/** For what it is: it would be refused again. */
const refused = computed(() => x.error instanceof ApiError && x.error.problem.status === 422);
const share = computed(() => (x.size === 0 ? 0 : x.sent / x.size));
const words = computed(() => {
  if (x.state === 'failed') return explain(t, x.error);
  if (x.state === 'sending') return `${Math.floor(share.value * 100)} %`;
  if (x.state !== 'done' || !x.result) return t(`intake.${x.state}`);
  const { outcome, version, renamed, name, alsoIn } = x.result;
  const said = t(`intake.outcome.${outcome}`, {
    number: version,
    place: alsoIn.map((folder) => folder.title).join(', '),
  });
  return renamed && outcome !== 'skipped' ? `${said}. ${t('intake.renamed', { name })}` : said;
});

function foundAgain(event: Event) {
  const input = event.target as HTMLInputElement;
  const [file] = input.files ?? [];
  if (file && !uploads.found(x, file))
    say({ text: t('intake.other-file', { name: x.name }), tone: 'bad' });
  input.value = '';
}
</script>

<template>
  <li
    class="relative flex min-h-[52px] flex-wrap items-center gap-x-3 gap-y-1 border-line py-1.5 pl-1 not-first:border-t"
  >
    <KindMark kind="file" :extension="/[^.]+$/u.exec(x.name)?.[0] ?? ''" />
    <span class="min-w-44 flex-1">
      <span class="block font-semibold wrap-anywhere">{{ x.name }}</span>
      <span
        class="block text-meta"
        :class="x.state === 'failed' ? 'font-medium text-brick-ink' : 'text-soft'"
        ><span :role="x.state === 'failed' ? 'alert' : undefined">{{ words }}</span
        ><template v-if="!here"> · {{ x.folder.title }}</template></span
      >
    </span>
    <span v-if="x.result?.outcome === 'version'" class="flex flex-wrap gap-1.5">
      <AppButton @click="instead([x], 'both')">{{ t('intake.both') }}</AppButton>
      <AppButton @click="instead([x], 'skip')">{{ t('intake.skip') }}</AppButton>
    </span>
    <AppButton v-else-if="x.state === 'waiting' || x.state === 'sending'" @click="uploads.stop(x)">
      {{ t('intake.stop') }}
    </AppButton>
    <span v-else-if="x.state === 'failed' || x.state === 'stopped'" class="flex gap-1.5">
      <AppButton v-if="!refused" @click="uploads.again(x)">{{ t('intake.again') }}</AppButton>
      <AppButton @click="uploads.forget(x)">{{ t('intake.forget') }}</AppButton>
    </span>
    <span v-else-if="x.state === 'lost'" class="flex gap-1.5">
      <label
        class="inline-flex min-h-9 cursor-pointer items-center rounded-edge border border-line bg-raised px-3.5 py-1.5 text-[15px] font-semibold hover:border-petrol hover:text-petrol has-focus-visible:outline-2 has-focus-visible:outline-saffron"
      >
        {{ t('intake.choose-again') }}
        <input type="file" class="sr-only" @change="foundAgain($event)" />
      </label>
      <AppButton @click="uploads.forget(x)">{{ t('intake.forget') }}</AppButton>
    </span>
    <Check v-else-if="x.state === 'done'" :size="18" class="text-good" aria-hidden="true" />
    <ProgressLine
      v-if="x.state === 'sending'"
      class="absolute inset-x-0 bottom-0"
      :share="share"
      :label="x.name"
    />
  </li>
</template>
